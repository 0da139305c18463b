<script setup lang="ts">
import { computed } from 'vue'
import type { Field, Row } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { show } from '@/logic/words'

const props = defineProps<{ row: Row; field: Field | undefined; name: string; cause: string }>()
const catalog = useCatalog()
const finding = computed(() =>
  props.row.findings.find(
    (one) => one.field === props.name && (one.cause === props.cause || one.weight === 'stop'),
  ),
)
const value = computed(() => {
  const found = props.row.values[props.name] ?? null
  const label =
    typeof found === 'string' && props.field?.code_list
      ? catalog.label(props.field.code_list, found)
      : ''
  return label || show(found, props.field?.type)
})
const isWrong = computed(
  () => finding.value?.weight === 'stop' && finding.value.cause === props.cause,
)
</script>

<template>
  <template v-if="isWrong && finding?.suggestions.length">
    <span class="was">{{ finding.value || 'empty' }}</span><span class="arrow">→</span
    ><span class="will">{{ finding.suggestions.join(' or ') }}</span>
  </template>
  <span v-else-if="isWrong" class="wrong">{{ finding?.value || 'empty' }}</span>
  <span v-else-if="finding?.weight === 'stop'" class="wrong">{{ value || 'empty' }}</span>
  <template v-else>{{ value }}</template>
</template>

<style scoped>
.wrong {
  color: var(--stopped-ink);
  border-bottom: 1.5px dotted var(--stopped);
}
</style>
