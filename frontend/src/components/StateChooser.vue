<script setup lang="ts">
import { today } from '@/logic/clock'
import { computed } from 'vue'
import DayField from '@/components/controls/DayField.vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import type { IntakeBrief } from '@/api/types'

const props = defineProps<{ label: string; value: string; intakes: IntakeBrief[] }>()
const emit = defineEmits<{ choose: [value: string] }>()

const kind = computed(() => (props.value.startsWith('day:') ? 'day' : props.value))
const day = computed(() => (props.value.startsWith('day:') ? props.value.slice(4) : today()))
const kinds = computed(() => [
  { value: 'today', label: 'the roster today' },
  { value: 'day', label: 'the roster on a day' },
  ...props.intakes.map((one) => ({ value: `intake:${one.id}`, label: one.file_name })),
])
const choose = (chosen: string | null) =>
  emit('choose', chosen === 'day' ? `day:${day.value}` : (chosen ?? 'today'))
</script>

<template>
  <span class="state">
    <ChooseOne
      class="kind"
      :model-value="kind"
      :options="kinds"
      :label="label"
      @update:model-value="choose"
    />
    <DayField
      v-if="kind === 'day'"
      :model-value="day"
      :label="`${label}: the day`"
      needed
      @update:model-value="(on) => emit('choose', `day:${on}`)"
    />
  </span>
</template>

<style scoped>
.state {
  display: inline-flex;
  gap: 6px;
}
.kind {
  max-width: 220px;
}
</style>
