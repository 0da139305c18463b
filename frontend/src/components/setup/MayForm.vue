<script setup lang="ts">
import { computed, reactive, watch } from 'vue'
import LevelLine from './LevelLine.vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import DayField from '@/components/controls/DayField.vue'
import type { AccountIn, Condition, Roster } from '@/api/types'
import { asWritten, levelWords, mayOf } from '@/logic/accounts'

/** What somebody is called and may do, everywhere and in single rosters, and until when. */
const props = defineProps<{
  start: AccountIn
  rosters: Roster[]
  act: string
  busy: boolean
  /** The highest level that can be given. */
  most?: number
}>()
const emit = defineEmits<{ done: [may: AccountIn]; changed: [isChanged: boolean] }>()

const said = reactive({
  name: '',
  level: 0,
  last_day: '',
  rosters: {} as Record<string, number>,
  parts: {} as Record<string, Condition | null>,
  may_uncover: false,
})
watch(
  () => props.start,
  (start) => Object.assign(said, asWritten(start), { last_day: start.last_day ?? '' }),
  { immediate: true },
)
const levels = [0, 1, 2, 3, 4]
  .filter((level) => level <= (props.most ?? 4))
  .map((level) => ({ value: level, label: levelWords(level) }))
const everywhere = levels.map((one) => (one.value ? one : { ...one, label: 'only as below' }))
/** Less than everywhere cannot be said of one roster. */
const levelsIn = computed(() => levels.filter((one) => one.value >= said.level))
const may = computed(() => mayOf({ ...said, last_day: said.last_day || null }))
const before = computed(() => asWritten(props.start))
const isChanged = computed(() => JSON.stringify(may.value) !== JSON.stringify(before.value))
watch(isChanged, (now) => emit('changed', now))
const levelOf = (roster: string) => Math.max(said.level, said.rosters[roster] ?? 0)
const set = (roster: string, level: number | null) => (said.rosters[roster] = level ?? 0)
</script>

<template>
  <form @submit.prevent="emit('done', may)">
    <label class="line">
      <span>Name</span>
      <input v-model="said.name" class="box" maxlength="120" required />
    </label>
    <slot />
    <div class="line">
      <span>In every roster</span>
      <ChooseOne v-model="said.level" :options="everywhere" label="In every roster" />
    </div>
    <LevelLine
      v-for="roster in rosters"
      :key="roster.name"
      :roster="roster"
      :name="said.name"
      :options="levelsIn"
      :everywhere="said.level"
      :level="levelOf(roster.name)"
      :part="said.parts[roster.name] ?? null"
      @update:level="(level) => set(roster.name, level)"
      @update:part="(part) => (said.parts[roster.name] = part)"
    />
    <label class="tick">
      <input v-model="said.may_uncover" type="checkbox" />
      <span>may uncover sensitive fields for a task, with a reason, where they may only look</span>
    </label>
    <div class="line">
      <span>Last day</span>
      <DayField v-model="said.last_day" label="Last day" placeholder="no end" />
    </div>
    <button class="btn main" :disabled="busy || !said.name.trim() || !isChanged">{{ act }}</button>
  </form>
</template>

<style scoped>
form {
  display: grid;
  gap: 6px;
  justify-items: start;
}
.line {
  width: 100%;
  display: grid;
  grid-template-columns: 116px 1fr;
  gap: 8px;
  align-items: center;
  padding: 2px 0;
  border-bottom: 1px solid var(--drift);
}
.line :deep(.choose),
.box {
  width: 100%;
}
.tick {
  display: flex;
  gap: 8px;
  align-items: baseline;
  padding: 4px 0;
  font-size: 13px;
}
.btn {
  margin-top: 6px;
}
</style>
