<script setup lang="ts">
import { computed } from 'vue'
import type { Round } from '@/api/types'
import { count } from '@/logic/words'

/** What came back of a round, as a strip whose parts are as wide as the roots of their sizes. */
const props = defineProps<{ round: Round }>()
const PARTS = [
  ['accepted', 'accepted'],
  ['warned', 'with a warning'],
  ['to number', 'to number'],
  ['rejected', 'rejected'],
  ['unanswered', 'not answered'],
] as const
const came = computed(() =>
  PARTS.filter(([name]) => props.round.counts[name]).map(([name, words]) => ({
    name,
    words,
    size: props.round.counts[name] ?? 0,
  })),
)
</script>

<template>
  <div
    v-if="came.length"
    class="came"
    role="img"
    :aria-label="came.map((each) => `${each.size} ${each.words}`).join(', ')"
  >
    <span
      v-for="each in came"
      :key="each.name"
      :class="`c-${each.name.replace(' ', '-')}`"
      :style="{ flexGrow: Math.sqrt(each.size) }"
      ><b>{{ count(each.size) }}</b> {{ each.words }}</span
    >
  </div>
</template>

<style scoped>
.came {
  display: flex;
  gap: 2px;
  margin: 8px 0;
  font-size: 13px;
}
.came span {
  padding: 4px 8px;
  min-width: 92px;
}
.c-accepted {
  background: var(--accepted);
  color: var(--ink);
}
.c-warned {
  background: var(--accepted);
  color: var(--ink);
  border-bottom: 3px solid var(--waiting-edge);
}
.c-to-number {
  background:
    linear-gradient(90deg, var(--waiting-edge) 0 4px, transparent 4px), var(--waiting-fill);
  color: var(--ink);
}
.c-rejected {
  background: var(--stopped);
  color: #fff;
}
.c-unanswered {
  border: 1px dashed var(--ink3);
}
</style>
