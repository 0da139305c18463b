<script setup lang="ts">
import { computed } from 'vue'
import ApprovalPart from './ApprovalPart.vue'
import FieldSets from './FieldSets.vue'
import LikenessPart from './LikenessPart.vue'
import ReferenceList from './ReferenceList.vue'
import ChooseSeveral from '@/components/controls/ChooseSeveral.vue'
import type { DefinitionDocument } from '@/api/types'
import * as by from '@/logic/knownBy'

/** What people are known by, what stands once only, what it refers to, and when two have to approve. */
const props = defineProps<{ document: DefinitionDocument; locked: boolean }>()
const emit = defineEmits<{ put: [document: DefinitionDocument] }>()

const fields = computed(() =>
  props.document.fields.map((one) => ({ value: one.name, label: one.title || one.name })),
)
const put = (document: DefinitionDocument) => emit('put', document)
</script>

<template>
  <div class="keys">
    <section>
      <h2>A record’s own number</h2>
      <p class="soft">
        Shown first, and enough to know a record by. Several fields count together.
      </p>
      <ChooseSeveral
        :model-value="by.joined(by.primaryOf(document))"
        :options="fields"
        :disabled="locked"
        label="A record’s own number"
        placeholder="choose fields"
        @update:model-value="(text) => put(by.putPrimary(document, by.parted(text)))"
      />
    </section>
    <FieldSets
      title="Each of these alone is enough too"
      said="Known by one of them, a row is that person; two that point to two people are asked about."
      add="add another key"
      :sets="by.keysOf(document)"
      :fields="fields"
      :locked="locked"
      @put="(sets: string[][]) => put(by.putKeys(document, sets))"
    />
    <FieldSets
      title="Stands once only"
      said="In the file and in the roster, all fields of a line taken together; one alone is set at its field."
      add="add fields that stand once together"
      :sets="by.uniqueOf(document)"
      :fields="fields"
      :locked="locked"
      @put="(sets: string[][]) => put(by.putUnique(document, sets))"
    />
    <ReferenceList
      :references="by.referencesOf(document)"
      :fields="fields"
      :roster="document.name"
      :locked="locked"
      @put="(all: by.Reference[]) => put(by.putReferences(document, all))"
    />
    <LikenessPart
      :model-value="by.likenessOf(document)"
      :locked="locked"
      @update:model-value="(to: by.Likeness) => put(by.putLikeness(document, to))"
    />
    <ApprovalPart
      :model-value="by.approvalOf(document)"
      :locked="locked"
      @update:model-value="(to: by.Approval) => put(by.putApproval(document, to))"
    />
  </div>
</template>

<style scoped>
.keys {
  background: var(--snow);
  border: 1px solid var(--line);
  padding: 4px 14px 14px;
  margin-top: 12px;
}
.keys :deep(section) {
  padding: 10px 0 4px;
  max-width: 860px;
}
.keys :deep(h2) {
  font-size: 14px;
}
.keys :deep(.soft) {
  margin: 2px 0 6px;
}
.keys :deep(.ant-select-multiple) {
  min-width: 320px;
}
.keys :deep(.line) {
  margin: 6px 0;
}
</style>
