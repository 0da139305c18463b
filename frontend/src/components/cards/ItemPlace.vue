<script setup lang="ts">
import { computed } from 'vue'
import { InputNumber } from 'ant-design-vue'
import SymbolKind from './SymbolKind.vue'
import PictureChooser from './PictureChooser.vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import type { CardDesign } from '@/api/types'
import { isSquare, type Item } from '@/logic/design'
import { ofPairs } from '@/logic/choices'

/** Where an item stands and how large it is. */
const props = defineProps<{ item: Item; design: CardDesign; locked: boolean }>()
const emit = defineEmits<{ put: [next: Partial<Item>] }>()

const SIDES = ofPairs([
  ['left', 'at the left'],
  ['right', 'at the right'],
] as const)
const ENDS = ofPairs([
  ['top', 'at the top'],
  ['bottom', 'at the bottom'],
] as const)
const colours = computed(() =>
  ofPairs(Object.keys(props.design.colours).map((name) => [name, name] as const)),
)
const edges = computed(() => (props.item.kind === 'band' ? ENDS : SIDES))
const hasEdge = computed(
  () => ['band', 'photo', 'picture'].includes(props.item.kind) || isSquare(props.item),
)
const edge = computed(
  () => props.item.edge ?? { band: 'top', photo: 'left' }[props.item.kind as string] ?? 'right',
)
const hasWidth = computed(() => ['photo', 'picture'].includes(props.item.kind))
const USUAL: Record<string, [number, number]> = {
  photo: [22, 28],
  picture: [12, 12],
  band: [0, 10],
  symbol: [0, 8],
}
const usual = computed(() => USUAL[props.item.kind])
const number = (given: unknown) => (typeof given === 'number' ? given : undefined)
</script>

<template>
  <template v-if="usual">
    <h3>{{ item.kind === 'symbol' ? 'Which code' : 'Where it stands' }}</h3>
    <SymbolKind
      v-if="item.kind === 'symbol'"
      :item="item"
      :locked="locked"
      @put="emit('put', $event)"
    />
    <p class="row">
      <ChooseOne
        v-if="hasEdge"
        :model-value="edge"
        :options="edges"
        label="At which edge"
        :disabled="locked"
        @update:model-value="(next) => emit('put', { edge: next ?? 'left' })"
      />
      <template v-if="hasWidth"
        ><InputNumber
          :value="item.width ?? usual[0]"
          :min="3"
          :max="200"
          :step="0.5"
          :disabled="locked"
          aria-label="Width in mm"
          @change="(given) => emit('put', { width: number(given) })"
        />
        ×</template
      >
      <InputNumber
        :value="item.height ?? usual[1]"
        :min="2"
        :max="200"
        :step="0.5"
        :disabled="locked"
        :aria-label="isSquare(item) ? 'Side in mm' : 'Height in mm'"
        @change="(given) => emit('put', { height: number(given) })"
      />
      mm
    </p>
    <p v-if="item.kind === 'band'" class="row">
      <span class="soft">colour</span>
      <ChooseOne
        :model-value="item.fill ?? 'spruce'"
        :options="colours"
        label="Colour of the band"
        :disabled="locked"
        @update:model-value="(fill) => emit('put', { fill: fill ?? 'spruce' })"
      />
    </p>
    <PictureChooser
      v-if="['band', 'picture'].includes(item.kind) && !locked"
      :item="item"
      :design="design.name"
      @put="emit('put', $event)"
    />
  </template>
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
  margin-bottom: 6px;
}
:deep(.ant-input-number) {
  width: 74px;
}
</style>
