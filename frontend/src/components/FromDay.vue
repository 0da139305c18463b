<script setup lang="ts">
import { computed, ref } from 'vue'
import { dayOf } from '@/logic/words'

/** From which day something holds: '' for now, else a day ahead. */
const day = defineModel<string>({ required: true })
const props = defineProps<{ disabled?: boolean }>()

const later = ref(!!day.value)
const tomorrow = computed(() => {
  const at = new Date()
  at.setDate(at.getDate() + 1)
  return dayOf(at)
})

function choose(event: Event): void {
  later.value = (event.target as HTMLSelectElement).value === 'day'
  day.value = later.value ? tomorrow.value : ''
}
</script>

<template>
  <span class="from-day">
    <label
      >Holds from
      <select
        class="box"
        :value="later ? 'day' : 'now'"
        :disabled="props.disabled"
        @change="choose"
      >
        <option value="now">now</option>
        <option value="day">a day ahead</option>
      </select></label
    >
    <input
      v-if="later"
      v-model="day"
      type="date"
      class="box"
      :min="tomorrow"
      aria-label="The day from which it holds"
      :disabled="props.disabled"
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
