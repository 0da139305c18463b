<script setup lang="ts">
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

function add(event: Event): void {
  const select = event.target as HTMLSelectElement
  const kind = props.kinds.find((one) => one.name === select.value)
  select.value = ''
  if (kind) emit('put', [...props.checks, { check: kind.name, fields: [] }])
}
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
      <select class="box" aria-label="Add a check" @change="add">
        <option value="">add a check</option>
        <option v-for="one in kinds" :key="one.name" :value="one.name">
          {{ one.name }}: {{ one.holds }}
        </option>
      </select>
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
