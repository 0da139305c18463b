<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { today } from '@/logic/clock'
import { byTitle } from '@/logic/choices'
import DayField from '@/components/controls/DayField.vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import ReasonDialog from '@/components/ReasonDialog.vue'
import type { FamilyDetail, Field, Intake, Step } from '@/api/types'
import { counted, listed } from '@/logic/words'

const props = defineProps<{ intake: Intake; detail: FamilyDetail; fields: Field[]; may: boolean }>()
const emit = defineEmits<{ step: [step: Step] }>()

const days = computed(() =>
  props.fields.filter((one) => one.type === 'date' && one.means !== 'birth-date'),
)
/** The last day of a membership, where the roster has one: its name says so. */
const likely = computed(
  () =>
    days.value.find((one) => /(_|\b)(to|until|end|last_day|leaves?)$/.test(one.name))?.name ??
    days.value.at(-1)?.name ??
    '',
)
const acts = computed(() => [
  { value: 'stay', label: 'nothing is done' },
  { value: 'end', label: 'end on a day', disabled: !days.value.length },
  { value: 'leave', label: 'leave the roster' },
  { value: 'hold', label: 'hold for a look' },
])
const wanted = ref(props.detail.act || 'stay')
const field = ref('')
const day = ref('')
const holding = ref(false)
const isSaid = computed(
  () =>
    wanted.value === props.detail.act &&
    (wanted.value !== 'end' ||
      (field.value === props.detail.end_field && day.value === props.detail.end_day)),
)
const counts = computed(() => {
  const { end = 0, leave = 0, hold = 0, stay = 0 } = props.intake.absences
  const parts = [
    end ? counted(end, 'ends', 'end') : '',
    leave ? counted(leave, 'leaves', 'leave') : '',
    hold ? `${hold} held` : '',
    stay ? counted(stay, 'stays as it is', 'stay as they are') : '',
  ]
  return listed(parts.filter(Boolean))
})

watch(
  () => props.detail,
  (detail) => {
    wanted.value = detail.act || 'stay'
    field.value = detail.end_field || likely.value
    day.value = detail.end_day || today()
  },
  { immediate: true },
)

function say(): void {
  if (wanted.value === 'hold') holding.value = true
  else
    emit('step', {
      kind: 'absent',
      act: wanted.value,
      ...(wanted.value === 'end' ? { field: field.value, day: day.value } : {}),
    })
}
function hold(reason: string): void {
  holding.value = false
  emit('step', { kind: 'absent', act: 'hold', reason })
}
</script>

<template>
  <div class="absent">
    <label
      >What becomes of them
      <ChooseOne v-model="wanted" :options="acts" label="What becomes of them" :disabled="!may"
    /></label>
    <template v-if="wanted === 'end'">
      <ChooseOne
        v-model="field"
        :options="byTitle(days)"
        label="The field that takes the day"
        :disabled="!may"
      />
      <DayField v-model="day" label="The day on which they end" :disabled="!may" />
    </template>
    <button class="btn fir" :disabled="!may || isSaid || (wanted === 'end' && !day)" @click="say">
      Say so of all {{ detail.total }}
    </button>
    <span class="soft">{{ counts }}</span>
    <ReasonDialog
      :open="holding"
      title="Hold the absent for a look"
      :said="
        `${counted(detail.total, 'person stays', 'people stay')} as they are, and on the ` +
        `desk until it is settled.`
      "
      act="Hold them"
      :usual="['asked the office', 'may be on leave']"
      @done="hold"
      @close="holding = false"
    />
  </div>
</template>

<style scoped>
.absent {
  display: flex;
  gap: 10px;
  align-items: center;
  flex-wrap: wrap;
  font-size: 13.5px;
}
</style>
