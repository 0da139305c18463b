<script setup lang="ts">
import '@/theme/cardfonts'
import { computed } from 'vue'
import MarkShape from './MarkShape.vue'
import type { CardSide } from '@/api/types'

/** A side of a card as it is printed: every mark where the server has put it, in mm. */
const props = defineProps<{
  side: CardSide
  size: { width: number; height: number }
  /** Whose photograph stands on it. */
  record: number
  frame: number[] | null
  /** The item that is worked on. */
  chosen?: string
  label: string
}>()
const emit = defineEmits<{ choose: [item: string] }>()

const failing = computed(() => new Set(props.side.findings.map((one) => one.item)))
const around = computed(() => {
  const marks = props.side.marks.filter((mark) => mark.item === props.chosen)
  if (!marks.length) return null
  const x = Math.min(...marks.map((mark) => mark.x))
  const y = Math.min(...marks.map((mark) => mark.y))
  return {
    x: x - 0.5,
    y: y - 0.5,
    width: Math.max(...marks.map((mark) => mark.x + mark.width)) - x + 1,
    height: Math.max(...marks.map((mark) => mark.y + mark.height)) - y + 1,
  }
})
</script>

<template>
  <svg
    class="face"
    :class="{ fails: failing.size }"
    :viewBox="`0 0 ${size.width} ${size.height}`"
    role="img"
    :aria-label="label"
  >
    <rect :width="size.width" :height="size.height" fill="#fff" />
    <template v-for="(mark, place) in side.marks" :key="place">
      <g @click="emit('choose', mark.item)">
        <MarkShape :mark="mark" :record="record" :frame="frame" />
      </g>
    </template>
    <rect v-if="around" class="around" v-bind="around" />
  </svg>
</template>

<style scoped>
.face {
  display: block;
  width: 100%;
  border: 1px solid #51616b;
  border-radius: 3.6%/5.8%;
  background: #fff;
  font-family: 'Atkinson Hyperlegible Next', 'Noto Sans', sans-serif;
  font-kerning: none;
  font-variant-ligatures: none;
  font-feature-settings: normal;
}
.face.fails {
  border: 3px solid var(--stopped);
}
.around {
  fill: none;
  stroke: #2f6fa8;
  stroke-width: 0.35;
  stroke-dasharray: 1 0.7;
  pointer-events: none;
}
</style>
