<script setup lang="ts">
import { computed } from 'vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import { dailyRule, timeOf, type When } from '@/logic/passing'
import { ofPairs } from '@/logic/choices'

/** When a destination is told. */
const when = defineModel<When>({ required: true })
const KINDS = ofPairs([
  ['by hand', 'by hand'],
  ['after receipts', 'after every receipt, and when a day comes'],
  ['each minute', 'each minute'],
  ['at a time', 'every day at a time'],
] as const)
const time = computed(() => timeOf(when.value.rule))
function choose(kind: When['kind'] | null): void {
  when.value = kind === 'at a time' ? { kind, rule: '0 2 * * *' } : { kind: kind ?? 'by hand' }
}
const typed = (event: Event) => (event.target as HTMLInputElement).value
</script>

<template>
  <p class="line">
    <span>When it is told</span
    ><span class="both"
      ><ChooseOne
        :model-value="when.kind"
        :options="KINDS"
        label="When it is told"
        @update:model-value="choose" /><input
        v-if="when.kind === 'at a time' && (time || !when.rule)"
        class="box"
        type="time"
        aria-label="At what time"
        :value="time"
        @change="(event) => (when = { kind: 'at a time', rule: dailyRule(typed(event)) })" /><input
        v-else-if="when.kind === 'at a time'"
        class="box mono"
        aria-label="Minute, hour, day, month, weekday"
        :value="when.rule"
        @change="(event) => (when = { kind: 'at a time', rule: typed(event) })"
    /></span>
  </p>
</template>

<style scoped src="./lines.css"></style>
<style scoped>
.both {
  display: flex;
  gap: 8px;
}
</style>
