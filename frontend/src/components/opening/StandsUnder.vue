<script setup lang="ts">
import { computed } from 'vue'
import type { OpeningColumn } from '@/api/types'
import { count, counted } from '@/logic/words'

/** What stands under a heading: a part for each of its commonest texts, what is empty, what is wrong. */
const props = defineProps<{ column: OpeningColumn; rows: number }>()
const LEAST = 4
const parts = computed(() => {
  const { commonest, filled, distinct } = props.column
  const said = commonest.slice(0, distinct > 20 ? 0 : 8)
  const rest = filled - said.reduce((sum, one) => sum + one, 0)
  return [...said, ...(rest ? [rest] : [])].map((rows) => Math.max(rows / props.rows, 0.01))
})
const empty = computed(() => (props.rows - props.column.filled) / props.rows)
const words = computed(() => {
  const { filled, distinct, wrong } = props.column
  const gaps = props.rows - filled
  return [
    `${counted(distinct, 'different text')}`,
    gaps ? `empty in ${counted(gaps, 'row')}` : 'never empty',
    wrong ? `something wrong in ${count(wrong)}` : '',
  ]
    .filter(Boolean)
    .join(', ')
})
</script>

<template>
  <span class="bar" role="img" :aria-label="words" :title="words">
    <i
      v-for="(part, index) in parts"
      :key="index"
      :style="{ flexGrow: part, opacity: 1 - index * 0.09 }"
    />
    <i v-if="empty > 0" class="none" :style="{ flexGrow: Math.max(empty, 0.04) }" />
    <i v-if="column.wrong" class="wrong" :style="{ flexBasis: `${LEAST + 1}px` }" />
  </span>
</template>

<style scoped>
.bar {
  display: flex;
  height: 14px;
  gap: 1px;
}
i {
  flex: 1 1 2px;
  min-width: 2px;
  background: color-mix(in srgb, var(--fir) 45%, var(--snow));
}
.none {
  background: var(--paper);
  border: 1px dashed var(--ink3);
}
.wrong {
  flex-grow: 0;
  background: var(--stopped);
}
</style>
