<script setup lang="ts">
import { computed } from 'vue'
import type { SparkPart } from '@/api/types'

const props = defineProps<{ parts: SparkPart[]; rows: number }>()
const total = computed(() => props.parts.reduce((sum, part) => sum + part.rows, 0) || 1)
const said = computed(() =>
  props.parts
    .map((part) => `${part.rows} ${part.kind === 'secret' ? 'secret values' : part.text}`)
    .join(', '),
)
</script>

<template>
  <span class="spark" role="img" :aria-label="said" :title="said">
    <i
      v-for="(part, place) in parts"
      :key="part.text"
      :class="[`is-${part.kind}`, `s${Math.min(place, 3)}`]"
      :style="{ flexGrow: part.rows / total, flexBasis: 0 }"
    />
  </span>
</template>

<style scoped>
.spark {
  display: flex;
  width: 186px;
  height: 16px;
  gap: 1px;
}
i {
  min-width: 3px;
}
.is-value.s0 {
  background: var(--spark1);
}
.is-value.s1 {
  background: var(--spark2);
}
.is-value.s2 {
  background: var(--spark3);
}
.is-value.s3 {
  background: var(--spark4);
}
.is-many {
  background: repeating-linear-gradient(90deg, var(--spark1) 0 2px, var(--spark4) 2px 4px);
}
.is-wrong {
  background: var(--stopped);
  min-width: 5px;
}
.is-empty {
  border: 1px dashed var(--ink3);
}
.is-secret {
  background: repeating-linear-gradient(45deg, var(--ink) 0 4px, var(--snow) 4px 8px);
}
</style>
