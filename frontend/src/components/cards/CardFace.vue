<script setup lang="ts">
import '@fontsource/atkinson-hyperlegible-next/700.css'
import '@fontsource/noto-sans/greek-400.css'
import '@fontsource/noto-sans/greek-700.css'
import '@fontsource/noto-sans/greek-ext-400.css'
import '@fontsource/noto-sans/greek-ext-700.css'
import '@fontsource/noto-sans/cyrillic-400.css'
import '@fontsource/noto-sans/cyrillic-700.css'
import '@fontsource/noto-sans/cyrillic-ext-400.css'
import '@fontsource/noto-sans/cyrillic-ext-700.css'
import '@fontsource/noto-sans/vietnamese-400.css'
import '@fontsource/noto-sans/vietnamese-700.css'
import { computed } from 'vue'
import type { CardMark, CardSide } from '@/api/types'
import { MM_PER_POINT, runsOf } from '@/logic/cardface'

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
const source = (mark: CardMark) =>
  mark.of === 'photo' ? `/api/records/${props.record}/photo` : `/api/card-pictures/${mark.of}`
const frame = computed(() => (props.frame ?? [0, 0, 1, 1]).join(' '))
const bars = (mark: CardMark) => {
  const high = mark.height / mark.rows.length
  return mark.rows
    .flatMap((row, number) =>
      runsOf(row).map(
        ([first, many]) =>
          `M${mark.x + first * mark.module} ${mark.y + number * high}h${many * mark.module}v${high}h${-many * mark.module}z`,
      ),
    )
    .join('')
}
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
        <rect
          v-if="mark.kind === 'fill'"
          :x="mark.x"
          :y="mark.y"
          :width="mark.width"
          :height="mark.height"
          :fill="mark.colour"
        />
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
        >
          {{ mark.text }}
        </text>
        <path v-else-if="mark.kind === 'squares'" :d="bars(mark)" fill="#000" />
        <svg
          v-else-if="mark.of"
          :x="mark.x"
          :y="mark.y"
          :width="mark.width"
          :height="mark.height"
          :viewBox="mark.of === 'photo' ? frame : undefined"
          :preserveAspectRatio="mark.of === 'photo' ? 'none' : undefined"
        >
          <image
            :href="source(mark)"
            :width="mark.of === 'photo' ? 1 : mark.width"
            :height="mark.of === 'photo' ? 1 : mark.height"
            :preserveAspectRatio="mark.of === 'photo' ? 'none' : 'xMidYMid meet'"
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
.none {
  fill: none;
  stroke: #84929a;
  stroke-width: 0.4;
  stroke-dasharray: 1.6 1.2;
}
.around {
  fill: none;
  stroke: #2f6fa8;
  stroke-width: 0.35;
  stroke-dasharray: 1 0.7;
  pointer-events: none;
}
</style>
