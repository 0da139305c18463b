<script setup lang="ts">
import { computed } from 'vue'
import { Select } from 'ant-design-vue'
import { useInputName } from '@/composables/useInputName'
import { isFound, underHeadings, type Choice } from '@/logic/choices'

/** Several of a list are chosen, by typing any words of each; kept as text with semicolons. */
const props = defineProps<{
  options: Choice<string>[]
  /** What is chosen here, for who does not see it. */
  label: string
  /** What stands here while nothing is chosen; codes where it is not said. */
  placeholder?: string
  disabled?: boolean
}>()
const emit = defineEmits<{ done: [] }>()
const text = defineModel<string>({ required: true })

const { control: select, name } = useInputName('select', () => props.label)
const shown = computed(() => underHeadings(props.options))
const parts = (said: string) =>
  said
    .split(';')
    .map((part) => part.trim())
    .filter(Boolean)
const chosen = computed(() => parts(text.value))
const fits = (typed: string, option?: object) =>
  !!option && 'value' in option && isFound(typed, option as Choice<string>)
/** What the file has and is no code stays until it is taken out, and is said to be none as everywhere. */
const choose = (picked: unknown) =>
  (text.value = [...new Set((picked as string[]).flatMap(parts))].join('; '))

defineExpose({ focus: () => select.value?.focus() })
</script>

<template>
  <Select
    ref="select"
    mode="multiple"
    :value="chosen"
    :options="shown"
    :filter-option="fits"
    :token-separators="[';']"
    :disabled="disabled"
    :dropdown-match-select-width="false"
    :placeholder="placeholder ?? 'choose codes'"
    @change="choose"
    @dropdown-visible-change="name"
    @blur="emit('done')"
  />
</template>
