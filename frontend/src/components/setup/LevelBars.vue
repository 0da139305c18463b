<script setup lang="ts">
import { levelWords } from '@/logic/accounts'

/** What somebody may do, as four bars: look, prepare, approve, administer. */
defineProps<{ level: number }>()
</script>

<template>
  <span v-if="level" class="bars" role="img" :aria-label="levelWords(level)">
    <i
      v-for="step in 4"
      :key="step"
      :class="{ on: step <= level }"
      :style="{ height: `${step * 4}px` }"
    />
  </span>
  <span v-else class="soft" :aria-label="levelWords(0)" role="img">–</span>
</template>

<style scoped>
.bars {
  display: inline-flex;
  align-items: flex-end;
  gap: 2px;
  height: 17px;
}
i {
  width: 7px;
  border: 1px solid var(--ink3);
}
.on {
  background: var(--fir);
  border-color: var(--fir);
}
@media (forced-colors: active) {
  .on {
    background: CanvasText;
  }
}
</style>
