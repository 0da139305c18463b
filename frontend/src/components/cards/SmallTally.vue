<script setup lang="ts">
import { computed } from 'vue'
import PartsStrip from '@/components/PartsStrip.vue'
import { NEEDS } from '@/logic/design'

const props = defineProps<{ counts: Record<string, number> }>()
const parts = computed(() =>
  NEEDS.map((need) => ({ ...need, count: props.counts[need.key] ?? 0 })).filter(
    (part) => part.count,
  ),
)
</script>

<template>
  <PartsStrip
    class="small"
    :parts="parts"
    :label="parts.map((part) => `${part.count} ${part.word}`).join(', ') || 'nobody'"
  />
</template>

<style scoped>
.small {
  width: 220px;
}
</style>
