<script setup lang="ts" generic="Value extends string | number">
import { computed, nextTick, ref } from 'vue'
import { Select } from 'ant-design-vue'
import { useInputName } from '@/composables/useInputName'
import { isFound, underHeadings, type Choice } from '@/logic/choices'

/**
 * One of a list is chosen; of a longer list by typing any words of it. A page may have hundreds of
 * these, and the library's list takes some milliseconds each: until one is opened, a light stand-in
 * with the same role, name and value is there for it.
 */
const props = defineProps<{
  options: Choice<Value>[]
  /** What is chosen here, for who does not see it. */
  label: string
  /** What stands here while nothing is chosen. */
  placeholder?: string
  disabled?: boolean
  /** Inside a sentence: without a frame. */
  plain?: boolean
  /** Whether somebody has to look at what is chosen here, or nothing is chosen on purpose. */
  tone?: 'ask' | 'none'
}>()
const value = defineModel<Value | null>({ required: true })

const SEARCHED_FROM = 8
const awake = ref(false)
const standIn = ref<HTMLElement>()
const { control: select, name } = useInputName('select', () => props.label)
const searched = computed(() => props.options.length >= SEARCHED_FROM)
const shown = computed(() => underHeadings(props.options))
const known = computed(() => props.options.find((choice) => choice.value === value.value))
/** A value that is none of the choices is not shown, so that the placeholder is. */
const chosen = computed(() => (value.value === '' && !known.value ? null : value.value))
const words = computed(() => known.value?.label ?? chosen.value ?? '')
const fits = (typed: string, option?: object) =>
  !!option && 'value' in option && isFound(typed, option as Choice<Value>)
const choose = (picked: unknown) => (value.value = picked as Value)

/** The list is opened; a letter that was typed on the stand-in goes into its search. */
async function wake(): Promise<void> {
  awake.value = true
  await nextTick()
  select.value?.focus()
}
function press(event: KeyboardEvent): void {
  const isLetter = event.key.length === 1 && !event.ctrlKey && !event.metaKey && !event.altKey
  if (!isLetter && !['ArrowDown', 'ArrowUp', 'Enter'].includes(event.key)) return
  if (!isLetter || event.key === ' ') event.preventDefault()
  event.stopPropagation()
  void wake()
}

defineExpose({ focus: () => (awake.value ? select.value : standIn.value)?.focus() })
</script>

<template>
  <span class="choose" :class="[tone, { plain }]">
    <Select
      v-if="awake"
      ref="select"
      class="opened"
      default-open
      :value="chosen as Value"
      :options="shown"
      :show-search="searched"
      :filter-option="fits"
      :placeholder="placeholder"
      :disabled="disabled"
      :bordered="!plain"
      :dropdown-match-select-width="false"
      @change="choose"
      @dropdown-visible-change="name"
    >
      <template #suffixIcon><i class="mark">▾</i></template>
    </Select>
    <button
      v-else
      ref="standIn"
      type="button"
      class="stand-in"
      role="combobox"
      aria-haspopup="listbox"
      aria-expanded="false"
      :aria-label="label"
      :disabled="disabled"
      @click="wake"
      @keydown="press"
    >
      <span :class="{ soft: words === '' }">{{ words === '' ? placeholder : words }}</span><i
        class="mark"
        aria-hidden="true"
        >▾</i
      >
    </button>
  </span>
</template>

<style scoped>
.choose {
  display: inline-block;
  min-width: 84px;
  max-width: 100%;
  vertical-align: middle;
}
.opened {
  width: 100%;
}
.stand-in {
  display: flex;
  width: 100%;
  height: 28px;
  align-items: center;
  gap: 7px;
  padding: 0 10px 0 11px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: var(--paper);
  color: var(--ink);
  font: inherit;
  text-align: left;
  cursor: pointer;
}
.stand-in:hover:enabled {
  border-color: var(--fir);
}
.stand-in:disabled {
  background: var(--shade);
  color: var(--ink2);
  cursor: default;
}
.stand-in span {
  flex: 1;
  min-width: 0;
  min-height: 20px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.mark {
  font-style: normal;
  color: var(--ink2);
}
.ask .stand-in,
.ask :deep(.ant-select-selector) {
  background: var(--ask-soft) !important;
  border-color: var(--waiting) !important;
}
.none .stand-in,
.none :deep(.ant-select-selector) {
  background: none !important;
  border-style: dashed !important;
  color: var(--ink2);
}
.plain {
  border-bottom: 1px solid var(--fir);
}
.plain .stand-in {
  border: 0;
  padding: 0 2px;
  background: none;
  font-weight: 600;
}
.plain :deep(.ant-select-selector) {
  padding: 0 2px;
  font: inherit;
  font-weight: 600;
}
</style>
