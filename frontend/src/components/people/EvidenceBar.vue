<script setup lang="ts">
import { computed } from 'vue'

/**
 * What one field adds to the evidence: to the right for it, to the left against it; 20 bits fill a
 * side.
 */
const props = defineProps<{ bits: number }>()
const width = computed(() => Math.max(2, Math.min(22, (Math.abs(props.bits) / 20) * 22)))
const said = computed(() =>
  props.bits > 0 ? `speaks for it, ${props.bits} bits` : `speaks against it, ${-props.bits} bits`,
)
</script>

<template>
  <span v-if="bits" class="bar" role="img" :aria-label="said" :title="said"
    ><i :class="bits > 0 ? 'for' : 'against'" :style="{ width: `${width}px` }"
  /></span>
  <span v-else class="bar" aria-hidden="true" />
</template>

<style scoped>
.bar {
  display: inline-block;
  position: relative;
  flex: none;
  width: 46px;
  height: 6px;
  margin-right: 8px;
  vertical-align: 2px;
}
.bar::before {
  content: '';
  position: absolute;
  left: 50%;
  top: -3px;
  height: 12px;
  border-left: 1px solid var(--line);
}
i {
  position: absolute;
  top: 0;
  height: 6px;
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
