<script setup lang="ts">
import { computed } from 'vue'
import TextBox from '@/components/TextBox.vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import ConditionEditor from '@/components/definition/ConditionEditor.vue'
import type { Condition, FieldDocument } from '@/api/types'
import { byTitle } from '@/logic/choices'
import { condition } from '@/logic/definition'
import type { FaceDocument } from '@/logic/design'

/** Who has a face, and which of their fields say what of the card. */
const props = defineProps<{ face: FaceDocument; fields: Record<string, unknown>[] }>()
const emit = defineEmits<{ put: [face: FaceDocument] }>()

const FIELDS = [
  ['holder', 'The register names them by'],
  ['until', 'Their card holds until'],
  ['site', 'Their numbers are those of'],
] as const
const documents = computed(() => props.fields as unknown as FieldDocument[])
const choices = computed(() => [{ value: '', label: 'nothing' }, ...byTitle(documents.value)])
const set = (next: Partial<FaceDocument>) => emit('put', { ...props.face, ...next })
const where = computed({
  get: () => props.face.where ?? condition(documents.value[0]?.name ?? '', 'is', ''),
  set: (when: Condition) => set({ where: when }),
})
</script>

<template>
  <p class="line">
    <span>It is called</span
    ><TextBox
      class="box"
      :model-value="face.title ?? ''"
      :placeholder="face.name"
      maxlength="80"
      :aria-label="`What the face ${face.name} is called`"
      @update:model-value="(text) => set({ title: String(text) })"
    />
  </p>
  <p v-for="[name, words] in FIELDS" :key="name" class="line">
    <span>{{ words }}</span>
    <ChooseOne
      :model-value="face[name] ?? ''"
      :options="name === 'holder' ? choices.slice(1) : choices"
      :label="words"
      @update:model-value="(field) => set({ [name]: field ?? '' })"
    />
  </p>
  <template v-if="face.where">
    <ConditionEditor v-model="where" :fields="documents" :locked="false" />
    <button class="link" @click="set({ where: null })">everybody of the roster</button>
  </template>
  <p v-else class="line">
    <span>Who has it</span
    ><span
      >everybody of the roster <button class="link" @click="set({ where })">set a condition</button>
    </span>
  </p>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: 220px 1fr;
  gap: 8px;
  align-items: center;
  min-height: 32px;
}
.link {
  min-height: 24px;
}
</style>
