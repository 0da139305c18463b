<script setup lang="ts">
import { computed } from 'vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import CheckForm from './CheckForm.vue'
import type { CheckDocument, CheckKind, FieldDocument } from '@/api/types'

/** The checks of a definition, each as a sentence. */
const props = defineProps<{
  checks: CheckDocument[]
  kinds: CheckKind[]
  fields: FieldDocument[]
  locked: boolean
}>()
const emit = defineEmits<{ put: [checks: CheckDocument[]] }>()

const offered = computed(() =>
  props.kinds.map((kind) => ({ value: kind.name, label: `${kind.name}: ${kind.holds}` })),
)
const add = (check: string | null) => check && emit('put', [...props.checks, { check, fields: [] }])
const alter = (at: number, now: CheckDocument) =>
  emit(
    'put',
    props.checks.map((one, place) => (place === at ? now : one)),
  )
const drop = (at: number) =>
  emit(
    'put',
    props.checks.filter((_, place) => place !== at),
  )
</script>

<template>
  <div class="checks">
    <CheckForm
      v-for="(one, place) in checks"
      :key="place"
      :model-value="one"
      :kinds="kinds"
      :fields="fields"
      :locked="locked"
      @update:model-value="(now: CheckDocument) => alter(place, now)"
      @drop="drop(place)"
    />
    <p v-if="!locked">
      <ChooseOne
        :model-value="null"
        :options="offered"
        label="Add a check"
        placeholder="add a check"
        @update:model-value="add"
      />
    </p>
  </div>
</template>

<style scoped>
.checks {
  background: var(--snow);
  border: 1px solid var(--line);
  padding: 12px;
  margin-top: 12px;
}
</style>
