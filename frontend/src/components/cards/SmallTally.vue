<script setup lang="ts">
import { computed } from 'vue'
import { NEEDS } from '@/logic/design'

const props = defineProps<{ counts: Record<string, number> }>()
const parts = computed(() =>
  NEEDS.map((need) => ({ ...need, count: props.counts[need.key] ?? 0 })).filter(
    (part) => part.count,
  ),
)
</script>

<template>
  <span
    class="strip"
    role="img"
    :aria-label="parts.map((part) => `${part.count} ${part.word}`).join(', ') || 'nobody'"
    ><i
      v-for="part in parts"
      :key="part.key"
      :class="part.look"
      :style="{ flexGrow: Math.sqrt(part.count) }"
  /></span>
</template>

<style scoped>
.strip {
  display: flex;
  width: 220px;
  height: 14px;
  gap: 1px;
}
.strip i {
  min-width: 5px;
}
</style>
