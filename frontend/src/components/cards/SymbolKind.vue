<script setup lang="ts">
import { Checkbox } from 'ant-design-vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import { SYMBOLS, type Item } from '@/logic/design'
import { ofPairs } from '@/logic/choices'

/** Which code it is, and whether what it says stands below it too. */
defineProps<{ item: Item; locked: boolean }>()
const emit = defineEmits<{ put: [next: Partial<Item>] }>()

const OPTIONS = ofPairs(SYMBOLS.map((symbol) => [symbol, symbol] as const))
</script>

<template>
  <p class="row">
    <ChooseOne
      :model-value="item.symbol ?? 'code 128'"
      :options="OPTIONS"
      label="Which code"
      :disabled="locked"
      @update:model-value="(symbol) => emit('put', { symbol: symbol ?? 'code 128' })"
    />
    <Checkbox
      :checked="!!item.is_written"
      :disabled="locked"
      @change="(event) => emit('put', { is_written: event.target.checked })"
      >written below</Checkbox
    >
  </p>
</template>

<style scoped>
.row {
  display: flex;
  gap: 8px;
  align-items: center;
  margin-bottom: 6px;
}
</style>
