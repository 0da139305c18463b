<script setup lang="ts">
import { computed } from 'vue'
import { Checkbox, InputNumber } from 'ant-design-vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import type { CardDesign } from '@/api/types'
import { lettersOf, type Item, type Letters } from '@/logic/design'
import { ofPairs } from '@/logic/choices'

/** How the words of an item are set, and what becomes of what is too long. */
const props = defineProps<{ item: Item; design: CardDesign; locked: boolean }>()
const emit = defineEmits<{ put: [next: Partial<Item>] }>()

const LINES = ofPairs([
  [1, 'one line'],
  [2, 'two lines'],
  [3, 'three lines'],
  [4, 'four lines'],
] as const)
const ALIGNS = ofPairs([
  ['left', 'to the left'],
  ['middle', 'in the middle'],
  ['right', 'to the right'],
] as const)
const letters = computed(() => lettersOf(props.item))
const colours = computed(() =>
  ofPairs(Object.keys(props.design.colours).map((name) => [name, name] as const)),
)
const set = (next: Letters) => emit('put', { letters: { ...props.item.letters, ...next } })
const number = (given: unknown) => (typeof given === 'number' ? given : undefined)
</script>

<template>
  <h3>Letters</h3>
  <p class="row">
    <InputNumber
      :value="letters.size"
      :min="4"
      :max="72"
      :step="0.5"
      :disabled="locked"
      aria-label="Size in points"
      @change="(given) => set({ size: number(given) })"
    />
    pt
    <Checkbox
      :checked="letters.bold"
      :disabled="locked"
      @change="(event) => set({ bold: event.target.checked })"
      >bold</Checkbox
    >
    <ChooseOne
      :model-value="letters.align"
      :options="ALIGNS"
      label="Which way it is set"
      :disabled="locked"
      @update:model-value="(align) => set({ align: align ?? 'left' })"
    />
    <ChooseOne
      :model-value="letters.colour"
      :options="colours"
      label="Colour of the letters"
      :disabled="locked"
      @update:model-value="(colour) => set({ colour: colour ?? 'ink' })"
    />
  </p>
  <h3>When it is too long</h3>
  <p class="line">
    <span>smaller, down to</span
    ><span
      ><InputNumber
        :value="letters.least"
        :min="4"
        :max="letters.size"
        :step="0.5"
        :disabled="locked"
        aria-label="Least size in points"
        @change="(given) => set({ least: number(given) })"
      />
      pt</span
    >
  </p>
  <p class="line">
    <span>then on up to</span
    ><ChooseOne
      plain
      :model-value="letters.lines"
      :options="LINES"
      label="On how many lines"
      :disabled="locked"
      @update:model-value="(lines) => set({ lines: lines ?? 1 })"
    />
  </p>
  <p class="line"><span>then</span><span>it does not fit, and is told</span></p>
</template>

<style scoped>
h3 {
  margin: 14px 0 4px;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}
.line {
  display: flex;
  justify-content: space-between;
  align-items: center;
  border-bottom: 1px solid var(--drift);
  min-height: 30px;
}
:deep(.ant-input-number) {
  width: 66px;
}
</style>
