<script setup lang="ts">
import { computed, ref } from 'vue'
import { Modal } from 'ant-design-vue'
import DayField from '@/components/controls/DayField.vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import TextBox from '@/components/TextBox.vue'
import FilterMaker from './FilterMaker.vue'
import RequestDialog from './RequestDialog.vue'
import MoreMenu from '@/components/controls/MoreMenu.vue'
import { exportAddress } from '@/api/rosters'
import type { Roster, Shortlist } from '@/api/types'
import type { UseRosterView } from '@/composables/useRosterView'
import { useCatalog } from '@/composables/useCatalog'
import { PREPARE } from '@/composables/useSession'
import { today } from '@/logic/clock'
import { count, counted, show } from '@/logic/words'

const props = defineProps<{
  roster: Roster
  view: UseRosterView
  total: number
  of: number
  ended: number
  withHistory: boolean
  shortlists: Shortlist[]
}>()
const emit = defineEmits<{ history: [] }>()
const downloads = computed(() =>
  ['csv', 'xlsx', 'json'].map((kind) => ({
    title: kind.toUpperCase(),
    href: exportAddress(props.roster.name, kind, props.view.day.value, props.view.shortlist.value),
  })),
)

const catalog = useCatalog()
const choosing = ref(false)
const asking = ref(false)
const requesting = ref(false)
const view = computed(() => props.view)
const isAhead = computed(() => props.view.day.value > today())
const shown = computed(() => new Set(props.view.columns.value.map((one) => one.name)))

const ENDED = '~ended:'
const REQUEST_SHEET =
  'A workbook to send to an office: headings, choices, notes and an example row that is ' +
  'ignored when it comes back'
function word(filter: string): string {
  if (filter.startsWith(ENDED)) return filter === `${ENDED}true` ? 'ended' : 'not ended'
  const [name = '', ...rest] = filter.split(':')
  const field = props.roster.fields.find((one) => one.name === name)
  const value = rest.join(':')
  const label = field?.code_list ? catalog.label(field.code_list, value) : ''
  return `${field?.title ?? name}: ${value ? label || show(value) : 'empty'}`
}

const add = (filter: string) =>
  (view.value.filters.value = [...view.value.filters.value.filter((one) => one !== filter), filter])
const only = (value: string) =>
  (view.value.filters.value = [
    ...view.value.filters.value.filter((one) => !one.startsWith(ENDED)),
    ENDED + value,
  ])
const remove = (filter: string) =>
  (view.value.filters.value = view.value.filters.value.filter((one) => one !== filter))

function toggle(name: string): void {
  const now = new Set(shown.value)
  if (now.has(name)) now.delete(name)
  else now.add(name)
  view.value.chosen.value = [...now]
}
const setText = (event: Event) => (view.value.text.value = (event.target as HTMLInputElement).value)
const setDay = (day: string) => (view.value.day.value = day)
const lists = computed(() => [
  { value: 0, label: 'any shortlist' },
  ...props.shortlists.map((one) => ({
    value: one.id,
    label: `${one.title} · ${count(one.count)}`,
  })),
])

function showToday(): void {
  view.value.day.value = ''
  asking.value = false
}
</script>

<template>
  <div class="bar">
    <h1>{{ roster.title }}</h1>
    <span v-if="roster.within" class="within">only where {{ roster.within }}</span>
    <span class="soft"
      >{{ total === of ? counted(of, 'record') : `${count(total)} of ${counted(of, 'record')}`
      }}{{ view.day.value ? ` on ${show(view.day.value)}` : ''
      }}{{ isAhead ? ', as far as it is known today' : '' }}</span
    >
    <span class="grow" />
    <template v-if="view.day.value || asking">
      <label class="soft"
        >as of
        <DayField
          :model-value="view.day.value"
          label="The roster as of a day"
          needed
          @update:model-value="setDay"
      /></label>
      <button class="btn" @click="showToday">Today</button>
    </template>
    <button v-else class="btn" @click="asking = true">As of another day</button>
    <RouterLink
      class="btn"
      :to="{
        path: `/rosters/${roster.name}/compare`,
        query: view.day.value ? { old: `day:${view.day.value}` } : {},
      }"
      >Compare</RouterLink
    >
    <RouterLink
      class="btn"
      :to="`/rosters/${roster.name}/doubles`"
      title="Records that may be one person"
      >Who stands twice</RouterLink
    >
    <RouterLink
      class="btn"
      :to="`/rosters/${roster.name}/waivers`"
      title="What was approved with a reason, and for whom"
      >Waivers</RouterLink
    >
    <RouterLink
      v-if="roster.level >= PREPARE && !roster.within"
      class="btn"
      :to="`/rosters/${roster.name}/letters`"
      title="What was written to whom, and who has answered"
      >Letters</RouterLink
    >
    <RouterLink class="btn" :to="`/rosters/${roster.name}/definition`">Definition</RouterLink>
    <button class="btn" @click="choosing = true">
      Columns <b>{{ shown.size }}</b> of {{ roster.fields.length }}
    </button>
    <button class="btn" :aria-pressed="withHistory" @click="emit('history')">History</button>
    <button class="btn" :title="REQUEST_SHEET" @click="requesting = true">Request sheet</button>
    <MoreMenu label="Download" :items="downloads" />
  </div>
  <div class="bar second">
    <TextBox
      class="box text"
      :model-value="view.text.value"
      placeholder="with the words …"
      aria-label="Only records with the words"
      @change="setText"
    />
    <FilterMaker :roster="roster" @add="add" />
    <span v-if="ended" class="soft ended"
      ><button class="link" title="Only those whose last day is over" @click="only('true')">
        {{ count(ended) }} ended
      </button>
      · <button class="link" @click="only('false')">without them</button></span
    >
    <ChooseOne
      v-if="shortlists.length"
      v-model="view.shortlist.value"
      class="list"
      :options="lists"
      label="Only the records of a shortlist"
    />
    <button
      v-for="filter in view.filters.value"
      :key="filter"
      class="chip"
      :title="`Remove “${word(filter)}”`"
      @click="remove(filter)"
    >
      {{ word(filter) }} <span aria-hidden="true">×</span>
    </button>
    <button
      v-if="view.filters.value.length || view.text.value || view.shortlist.value"
      class="link"
      @click="view.clear()"
    >
      show all
    </button>
    <slot />
  </div>
  <RequestDialog :open="requesting" :roster="roster" @close="requesting = false" />
  <Modal v-model:open="choosing" destroy-on-close title="Columns shown" :footer="null" :width="520">
    <ul class="choose">
      <li v-for="one in roster.fields" :key="one.name">
        <label
          ><input type="checkbox" :checked="shown.has(one.name)" @change="toggle(one.name)" />
          {{ one.title }}</label
        >
      </li>
    </ul>
    <button class="btn" @click="view.chosen.value = []">The usual ones</button>
  </Modal>
</template>

<style scoped>
.within {
  font-weight: 600;
}
.ended {
  white-space: nowrap;
  font-size: 13px;
}
.bar {
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 0 14px 8px 4px;
  white-space: nowrap;
}
h1 {
  font-size: 18px;
  line-height: 26px;
  font-weight: 600;
  margin: 0;
}
.second {
  flex-wrap: wrap;
}
.text {
  width: 170px;
}
.list {
  max-width: 200px;
}
.day {
  width: 138px;
}
.chip {
  background: var(--fir-soft);
  border: 0;
  padding: 3px 9px;
  font-size: 13px;
  cursor: pointer;
  color: var(--ink);
}
.choose {
  columns: 2;
  margin: 8px 0 14px;
}
.choose li {
  padding: 3px 0;
  break-inside: avoid;
}
</style>
