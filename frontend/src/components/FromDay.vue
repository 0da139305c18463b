<script setup lang="ts">
import { computed, ref } from 'vue'
import { ofPairs } from '@/logic/choices'
import DayField from '@/components/controls/DayField.vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import { dayPlus, today } from '@/logic/clock'

/** From which day something holds: '' for now, else a day ahead. */
const day = defineModel<string>({ required: true })
const props = defineProps<{ disabled?: boolean }>()

const WHEN = ofPairs([
  ['now', 'now'],
  ['day', 'a day ahead'],
])
const later = ref(!!day.value)
const tomorrow = computed(() => dayPlus(today(), 1))

function choose(when: string | null): void {
  later.value = when === 'day'
  day.value = later.value ? tomorrow.value : ''
}
</script>

<template>
  <span class="from-day">
    <label
      >Takes effect
      <ChooseOne
        :model-value="later ? 'day' : 'now'"
        :options="WHEN"
        label="Takes effect"
        :disabled="props.disabled"
        @update:model-value="choose"
    /></label>
    <DayField
      v-if="later"
      v-model="day"
      label="The day from which it takes effect"
      :min="tomorrow"
      :disabled="props.disabled"
      needed
    />
  </span>
</template>

<style scoped>
.from-day {
  display: inline-flex;
  gap: 8px;
  align-items: center;
  white-space: nowrap;
}
</style>
