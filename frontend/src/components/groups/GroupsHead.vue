<script setup lang="ts">
import { computed, ref } from 'vue'
import DayField from '@/components/controls/DayField.vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import type { Groups } from '@/api/types'
import { counted, day as inWords } from '@/logic/words'

/** What kind is shown, of which part and day, and what can be done with all of it. */
const props = defineProps<{
  groups: Groups
  parts: string[]
  part: string
  day: string
  may: boolean
  onlyTroubles: boolean
}>()
const emit = defineEmits<{ part: [part: string]; day: [day: string]; troubles: [] }>()

const EVERY = { value: '', label: 'every part' }
const asking = ref(false)
const troubled = computed(() => props.groups.groups.filter((one) => one.troubles.length).length)
const says = computed(() => {
  const { least, most, has_lead: hasLead, has_ages: hasAges } = props.groups
  return [
    counted(props.groups.groups.length, 'group'),
    least || most ? ` of ${least} to ${most}` : '',
    hasLead ? ', one lead' : '',
    hasAges ? ', one age band' : '',
    props.day ? ` · on ${inWords(props.day)}` : '',
  ].join('')
})

function goToday(): void {
  asking.value = false
  emit('day', '')
}
</script>

<template>
  <div class="head no-print">
    <h1>{{ groups.title }}</h1>
    <span class="soft">{{ says }}</span>
    <span class="grow" />
    <button v-if="troubled" class="btn" :aria-pressed="onlyTroubles" @click="emit('troubles')">
      {{ onlyTroubles ? 'Show all' : `${counted(troubled, 'group')} with trouble` }}
    </button>
    <ChooseOne
      v-if="parts.length > 1"
      :model-value="part"
      :options="[EVERY, ...parts.map((name) => ({ value: name, label: name }))]"
      label="Which part"
      @update:model-value="(name) => emit('part', name ?? '')"
    />
    <label v-if="day || asking" class="soft"
      >on
      <DayField
        :model-value="day"
        label="The groups on another day"
        needed
        @update:model-value="(on) => emit('day', on)"
    /></label>
    <button v-if="day || asking" class="btn" @click="goToday">Today</button>
    <button v-else class="btn" @click="asking = true">Another day</button>
    <RouterLink
      v-if="may && groups.code_list"
      class="btn"
      :to="`/codes/${groups.code_list}`"
      title="The list of names, with their days of use"
      >Make another</RouterLink
    >
    <RouterLink
      v-if="may && groups.field"
      class="btn main"
      :to="`/groups/${groups.roster}/${groups.kind}/spread`"
      >Spread people …</RouterLink
    >
  </div>
</template>

<style scoped>
.head {
  display: flex;
  gap: 10px;
  align-items: center;
  padding: 0 16px 0 3px;
  flex-wrap: wrap;
}
h1 {
  font-size: 18px;
  line-height: 26px;
  font-weight: 600;
  margin: 0;
}
</style>
