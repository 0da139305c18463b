<script setup lang="ts">
import { computed } from 'vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import ChooseSeveral from '@/components/controls/ChooseSeveral.vue'
import DayField from '@/components/controls/DayField.vue'
import type { OwnField } from '@/api/types'

/** One field that somebody looks at, and puts right where it is not; what it was stays to be seen. */
const props = defineProps<{ field: OwnField; wrong: string }>()
const value = defineModel<string>({ default: '' })
const isChanged = computed(() => value.value !== props.field.value)
const codes = computed(() => [
  ...(props.field.required ? [] : [{ value: '', label: '(none)' }]),
  ...(props.field.kind === 'yes or no'
    ? [
        { value: 'true', label: 'yes' },
        { value: 'false', label: 'no' },
      ]
    : props.field.codes.map((one) => ({ value: one.code, label: one.label }))),
])
const several = computed({
  get: () => value.value,
  set: (text) => (value.value = text.replaceAll('; ', ';')),
})
</script>

<template>
  <div class="row" :class="{ isChanged }">
    <span :id="`own-${field.name}`" class="name">{{ field.title }}</span>
    <ChooseOne
      v-if="field.kind === 'code' || field.kind === 'yes or no'"
      :model-value="value"
      :options="codes"
      :label="field.title"
      placeholder="(none)"
      @update:model-value="(code) => (value = code ?? '')"
    />
    <ChooseSeveral
      v-else-if="field.kind === 'several codes'"
      v-model="several"
      :options="codes.filter((one) => one.value)"
      :label="field.title"
      placeholder="(none)"
    />
    <DayField
      v-else-if="field.kind === 'day'"
      v-model="value"
      :label="field.title"
      placeholder="(none)"
    />
    <input
      v-else
      v-model="value"
      class="box"
      maxlength="500"
      :aria-labelledby="`own-${field.name}`"
      :aria-invalid="!!wrong"
    />
    <span v-if="wrong" class="bad small" role="alert">{{ wrong }}</span>
    <span v-else-if="isChanged" class="soft small">was {{ field.said || 'empty' }}</span>
  </div>
</template>

<style scoped>
.row {
  width: 100%;
  display: grid;
  grid-template-columns: 150px minmax(0, 1fr);
  gap: 2px 12px;
  align-items: center;
}
.row > :nth-child(3) {
  grid-column: 2;
}
@media (width < 480px) {
  .row {
    grid-template-columns: minmax(0, 1fr);
  }
  .row > :nth-child(3) {
    grid-column: 1;
  }
}
.name {
  color: var(--ink2);
}
.isChanged .name {
  color: var(--ink);
  font-weight: 600;
}
.box {
  width: 100%;
}
</style>
