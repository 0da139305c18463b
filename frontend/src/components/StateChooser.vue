<script setup lang="ts">
import { computed } from 'vue'
import TextBox from '@/components/TextBox.vue'
import type { IntakeBrief } from '@/api/types'

const props = defineProps<{ label: string; value: string; intakes: IntakeBrief[] }>()
const emit = defineEmits<{ choose: [value: string] }>()

const kind = computed(() => (props.value.startsWith('day:') ? 'day' : props.value))
const day = computed(() =>
  props.value.startsWith('day:') ? props.value.slice(4) : new Date().toISOString().slice(0, 10),
)
const choose = (event: Event) => {
  const value = (event.target as HTMLSelectElement).value
  emit('choose', value === 'day' ? `day:${day.value}` : value)
}
const setDay = (event: Event) => {
  const value = (event.target as HTMLInputElement).value
  if (value) emit('choose', `day:${value}`)
}
</script>

<template>
  <span class="state">
    <select class="box" :value="kind" :aria-label="label" @change="choose">
      <option value="today">the roster today</option>
      <option value="day">the roster on a day</option>
      <option v-for="one in intakes" :key="one.id" :value="`intake:${one.id}`">
        {{ one.file_name }}
      </option>
    </select>
    <TextBox
      v-if="kind === 'day'"
      type="date"
      class="box"
      :model-value="day"
      :aria-label="`${label}: the day`"
      @change="setDay"
    />
  </span>
</template>

<style scoped>
.state {
  display: inline-flex;
  gap: 6px;
}
select {
  max-width: 220px;
}
</style>
