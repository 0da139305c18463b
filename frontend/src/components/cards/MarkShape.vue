<script setup lang="ts">
import { computed } from 'vue'
import type { CardMark } from '@/api/types'
import { barsOf, MM_PER_POINT } from '@/logic/cardface'

/** One mark of a card, where the server has put it, in mm. */
const props = defineProps<{ mark: CardMark; record: number; frame: number[] | null }>()

const isPhoto = computed(() => props.mark.of === 'photo')
const source = computed(() =>
  isPhoto.value ? `/api/records/${props.record}/photo` : `/api/card-pictures/${props.mark.of}`,
)
const box = computed(() => ({
  x: props.mark.x,
  y: props.mark.y,
  width: props.mark.width,
  height: props.mark.height,
}))
</script>

<template>
  <rect v-if="mark.kind === 'fill'" v-bind="box" :fill="mark.colour" />
  <text
    v-else-if="mark.kind === 'words'"
    :x="mark.x"
    :y="mark.base"
    :font-size="mark.size * MM_PER_POINT"
    :font-weight="mark.bold ? 700 : 400"
    :fill="mark.colour"
    :textLength="mark.width || undefined"
    lengthAdjust="spacingAndGlyphs"
    xml:space="preserve"
    >{{ mark.text }}</text
  >
  <path v-else-if="mark.kind === 'squares'" :d="barsOf(mark)" fill="#000" />
  <svg
    v-else-if="mark.of"
    v-bind="box"
    :viewBox="isPhoto ? (frame ?? [0, 0, 1, 1]).join(' ') : undefined"
    :preserveAspectRatio="isPhoto ? 'none' : undefined"
  >
    <image
      :href="source"
      :width="isPhoto ? 1 : mark.width"
      :height="isPhoto ? 1 : mark.height"
      :preserveAspectRatio="isPhoto ? 'none' : 'xMidYMid meet'"
    />
  </svg>
  <rect
    v-else
    class="none"
    :x="mark.x + 0.2"
    :y="mark.y + 0.2"
    :width="mark.width - 0.4"
    :height="mark.height - 0.4"
  />
</template>

<style scoped>
.none {
  fill: none;
  stroke: #84929a;
  stroke-width: 0.4;
  stroke-dasharray: 1.6 1.2;
}
</style>
