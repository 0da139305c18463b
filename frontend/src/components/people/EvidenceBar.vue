<script setup lang="ts">
import { computed } from 'vue'

/**
 * What one field adds to the evidence: to the right for it, to the left against it; 20 bits fill a
 * side.
 */
const props = defineProps<{ bits: number }>()
const width = computed(() => Math.max(1.5, Math.min(17, (Math.abs(props.bits) / 20) * 17)))
const said = computed(() =>
  props.bits > 0 ? `speaks for it, ${props.bits} bits` : `speaks against it, ${-props.bits} bits`,
)
</script>

<template>
  <span v-if="bits" class="bar" role="img" :aria-label="said" :title="said"
    ><i :class="bits > 0 ? 'for' : 'against'" :style="{ width: `${width}px` }"
  /></span>
</template>

<style scoped>
.bar {
  position: absolute;
  right: 6px;
  bottom: 4px;
  width: 34px;
  height: 4px;
}
.bar::before {
  content: '';
  position: absolute;
  left: 50%;
  top: -2px;
  height: 8px;
  border-left: 1px solid var(--line);
}
i {
  position: absolute;
  top: 0;
  height: 4px;
}
.for {
  left: 50%;
  background: var(--fir);
}
.against {
  right: 50%;
  background: var(--stopped);
}
</style>
