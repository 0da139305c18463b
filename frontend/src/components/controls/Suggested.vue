<script setup lang="ts">
import { nextTick, ref } from 'vue'
import { AutoComplete } from 'ant-design-vue'
import { useInputName } from '@/composables/useInputName'
import { isFound, type Choice } from '@/logic/choices'

/**
 * Text with suggestions: any text may stand here. One of very many on a page: a plain box until it
 * has the focus.
 */
const props = defineProps<{ options: Choice<string>[]; label: string; disabled?: boolean }>()
const text = defineModel<string>({ required: true })

const { control, name } = useInputName('control', () => props.label)
const awake = ref(false)
const fits = (typed: string, option?: object) =>
  !!option && 'value' in option && isFound(typed, option as Choice<string>)
async function wake(): Promise<void> {
  awake.value = true
  await nextTick()
  control.value?.focus()
}
</script>

<template>
  <AutoComplete
    v-if="awake"
    ref="control"
    class="suggested"
    :value="text"
    :options="options"
    :filter-option="fits"
    :disabled="disabled"
    :dropdown-match-select-width="false"
    @update:value="(now: unknown) => (text = String(now ?? ''))"
    @dropdown-visible-change="name"
  >
    <template #option="option">{{ option.label }}</template>
  </AutoComplete>
  <input
    v-else
    class="box mono suggested"
    :value="text"
    :aria-label="label"
    :disabled="disabled"
    @focus="wake"
  />
</template>

<style scoped>
.suggested {
  width: 84px;
}
</style>
