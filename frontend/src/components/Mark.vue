<script setup lang="ts">
import type { Weight } from '@/api/types'

defineProps<{ weight: Weight }>()
const WORDS: Record<Weight, string> = { stop: 'stop', ask: 'ask', note: 'note' }
</script>

<template><span class="mark" :class="weight" role="img" :aria-label="WORDS[weight]" /></template>

<style scoped>
.mark {
  display: inline-block;
  width: 11px;
  height: 11px;
  flex: none;
}
.stop {
  background: var(--stopped);
  clip-path: polygon(0 0, 70% 0, 100% 30%, 100% 100%, 0 100%);
}
.ask {
  background: var(--waiting);
  clip-path: polygon(50% 0, 100% 50%, 50% 100%, 0 50%);
}
.note {
  background: var(--ink3);
  border-radius: 50%;
  transform: scale(0.7);
}
</style>
