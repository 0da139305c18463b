<script setup lang="ts">
import { computed } from 'vue'
import type { Tally } from '@/api/types'
import { OUTCOMES, WORDS } from '@/logic/layers'
import { count } from '@/logic/words'

const props = defineProps<{ tally: Tally }>()
const parts = computed(() => OUTCOMES.filter((one) => props.tally[one] > 0))
const said = computed(() =>
  parts.value.map((one) => `${count(props.tally[one])} ${WORDS[one]}`).join(', '),
)
</script>

<template>
  <span class="bar" role="img" :aria-label="said" :title="said"
    ><i
      v-for="one in parts"
      :key="one"
      :class="`l-${one}`"
      :style="{ flexGrow: Math.sqrt(tally[one]) }"
  /></span>
</template>

<style scoped>
.bar {
  display: flex;
  gap: 1px;
  width: 150px;
  height: 12px;
}
i {
  min-width: 5px;
  border-width: 1px;
}
</style>
