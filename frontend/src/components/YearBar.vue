<script setup lang="ts">
import { computed } from 'vue'
import { today } from '@/logic/clock'
import { daysInYear } from '@/logic/codetree'

const props = defineProps<{ first: string | null; last: string | null }>()
const WIDTH = 72
const year = Number(today().slice(0, 4))
const todayAt = daysInYear(today(), null, year).from
const part = computed(() => daysInYear(props.first, props.last, year))
const said = computed(() =>
  part.value.to <= part.value.from
    ? `not used in ${year}`
    : part.value.from === 0 && part.value.to === 1
      ? `used all of ${year}`
      : `used in a part of ${year}`,
)
</script>

<template>
  <svg :width="WIDTH" height="12" role="img" :aria-label="said">
    <title>{{ said }}</title>
    <rect class="year" x="0.5" y="3.5" :width="WIDTH - 1" height="5" />
    <rect
      v-if="part.to > part.from"
      class="used"
      :x="part.from * WIDTH"
      y="3"
      :width="Math.max(2, (part.to - part.from) * WIDTH)"
      height="6"
    />
    <line class="today" :x1="todayAt * WIDTH" y1="0" :x2="todayAt * WIDTH" y2="12" />
  </svg>
</template>

<style scoped>
.year {
  fill: none;
  stroke: var(--line);
}
.used {
  fill: var(--spark2);
}
.today {
  stroke: var(--ink);
}
</style>
