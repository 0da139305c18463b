<script setup lang="ts">
import { computed, reactive, watch } from 'vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import DayField from '@/components/controls/DayField.vue'
import PartLine from './PartLine.vue'
import type { AccountIn, Condition, Roster } from '@/api/types'
import { canBePart, levelWords, mayOf } from '@/logic/accounts'

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
})
watch(
  () => props.start,
  (start) =>
    Object.assign(said, {
      name: start.name,
      level: start.level,
      last_day: start.last_day ?? '',
      rosters: { ...start.rosters },
      parts: { ...start.parts },
    }),
  { immediate: true },
)
const levels = [0, 1, 2, 3, 4]
  .filter((level) => level <= (props.most ?? 4))
  .map((level) => ({ value: level, label: levelWords(level) }))
const everywhere = levels.map((one) => (one.value ? one : { ...one, label: 'only as below' }))
/** Less than everywhere cannot be said of one roster. */
const levelsIn = computed(() => levels.filter((one) => one.value >= said.level))
const may = computed(() => mayOf({ ...said, last_day: said.last_day || null }))
const before = computed(() =>
  mayOf({
    name: props.start.name,
    level: props.start.level,
    rosters: props.start.rosters ?? {},
    parts: (props.start.parts ?? {}) as Record<string, Condition>,
    last_day: props.start.last_day ?? null,
  }),
)
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
    <template v-for="roster in rosters" :key="roster.name">
      <div class="line">
        <span>{{ roster.title }}</span>
        <ChooseOne
          :model-value="levelOf(roster.name)"
          :options="levelsIn"
          :label="`In ${roster.title}`"
          @update:model-value="(level) => set(roster.name, level)"
        />
      </div>
      <PartLine
        v-if="canBePart(said.level, levelOf(roster.name))"
        :model-value="said.parts[roster.name] ?? null"
        :roster="roster"
        :name="said.name"
        @update:model-value="(part) => (said.parts[roster.name] = part)"
      />
    </template>
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
.btn {
  margin-top: 6px;
}
</style>
