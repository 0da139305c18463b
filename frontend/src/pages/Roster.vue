<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import CoverLine from '@/components/CoverLine.vue'
import ChosenBar from '@/components/ChosenBar.vue'
import HistoryList from '@/components/HistoryList.vue'
import RecordLife from '@/components/RecordLife.vue'
import RosterBar from '@/components/RosterBar.vue'
import VirtualTable, { type TableColumn } from '@/components/VirtualTable.vue'
import JustOpened from '@/components/opening/JustOpened.vue'
import NotHere from '@/components/NotHere.vue'
import { listRecords } from '@/api/rosters'
import { listShortlists } from '@/api/shortlists'
import type { RecordRow, Shortlist } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { useKeys } from '@/composables/useKeys'
import { usePages } from '@/composables/usePages'
import { useRosterView } from '@/composables/useRosterView'
import { PREPARE } from '@/composables/useSession'
import { usePageTitle } from '@/composables/usePageTitle'
import { show } from '@/logic/words'

const route = useRoute()
const router = useRouter()
const catalog = useCatalog()
const name = String(route.params.name)
const roster = computed(() => catalog.roster(name))
const view = useRosterView(name, roster)
const selected = ref(-1)
const whole = ref(0)
const ended = ref(0)
const ticked = ref(new Set<number>())
const shortlists = ref<Shortlist[]>([])
const withHistory = ref(false)
const problem = ref('')
const record = computed(() => Number(route.query.record ?? 0))
const pages = usePages<RecordRow>(async (start, limit) => {
  const found = await listRecords(name, { start, limit, ...view.asked.value })
  whole.value = found.of
  ended.value = found.ended
  isNamed.value = found.rows.some((row) => row.name)
  return { total: found.total, rows: found.rows }
})
const mayTick = computed(() => (roster.value?.level ?? 0) >= PREPARE && !view.day.value)
/** People of another roster, to whom the records refer, stand with their name. */
const isNamed = ref(false)
const columns = computed<TableColumn[]>(() => [
  ...(mayTick.value ? [{ key: ' tick', title: '', width: '46px' }] : []),
  ...(isNamed.value ? [{ key: ' name', title: 'Name', width: 'minmax(150px, 1fr)' }] : []),
  ...view.columns.value.map((one, place) => ({
    key: one.name,
    title: one.title,
    width: one.mono
      ? place || !ended.value
        ? '124px'
        : '168px'
      : one.several || one.means
        ? 'minmax(150px, 1fr)'
        : 'minmax(110px, 1fr)',
    mono: one.mono,
    sortable: true,
  })),
])
const label = (row: RecordRow, key: string) => {
  const value = row.values[key] ?? null
  const field = roster.value?.fields.find((one) => one.name === key)
  return (
    (typeof value === 'string' && field?.code_list && catalog.label(field.code_list, value)) ||
    show(value, field?.type)
  )
}

function open(index: number): void {
  selected.value = index
  const row = pages.at(index)
  // Who joins on a day ahead has no record yet.
  if (row)
    void router.replace({ query: { ...route.query, record: row.id > 0 ? row.id : undefined } })
}
function tick(row: RecordRow | undefined): void {
  if (!row || !mayTick.value) return
  const now = new Set(ticked.value)
  if (!now.delete(row.id)) now.add(row.id)
  ticked.value = now
}
const loadShortlists = async () =>
  void (shortlists.value = await listShortlists(name).catch(() => []))
async function kept(one: Shortlist | null): Promise<void> {
  await loadShortlists()
  if (one) {
    view.clear()
    view.shortlist.value = one.id
  } else await pages.restart()
}
const again = () => Promise.all([catalog.load(), pages.restart()])
const close = () => void router.replace({ query: { ...route.query, record: undefined } })
const move = (by: number) =>
  pages.total.value && open(Math.max(0, Math.min(pages.total.value - 1, selected.value + by)))

useKeys({
  ArrowDown: () => move(1),
  ArrowUp: () => move(-1),
  PageDown: () => move(20),
  PageUp: () => move(-20),
  Escape: close,
  x: () => tick(pages.at(selected.value)),
})
watch(view.asked, () => {
  selected.value = -1
  void pages.restart()
})
onMounted(async () => {
  await catalog.load().catch((error: Error) => (problem.value = error.message))
  await Promise.all(
    (roster.value?.fields ?? []).map((one) =>
      catalog.loadList(one.code_list).catch(() => undefined),
    ),
  )
  await Promise.all([pages.restart(), loadShortlists()])
})
usePageTitle(() => roster.value?.title)
</script>

<template>
  <section v-if="roster" class="page">
    <RosterBar
      :roster="roster"
      :view="view"
      :total="pages.total.value"
      :of="whole"
      :ended="ended"
      :with-history="withHistory"
      :shortlists="shortlists"
      @history="withHistory = !withHistory"
    >
      <ChosenBar
        :roster="roster"
        :view="view"
        :total="pages.total.value"
        :of="whole"
        :ticked="ticked"
        :shortlists="shortlists"
        @untick="ticked = new Set()"
        @kept="kept"
        @forgotten="view.shortlist.value = 0"
      />
      <CoverLine :roster="roster" @done="again" />
    </RosterBar>
    <JustOpened :roster="roster" />
    <p v-if="pages.problem.value" class="flag stop" role="alert">{{ pages.problem.value }}</p>
    <div class="body">
      <VirtualTable
        v-if="pages.total.value"
        :label="roster.title"
        :columns="columns"
        :pages="pages"
        :selected="selected"
        :sort="view.sort.value"
        :down="view.down.value"
        @choose="open"
        @sort="view.sortBy"
      >
        <template #cell="{ row, column, index }"
          ><input
            v-if="column.key === ' tick'"
            type="checkbox"
            :checked="ticked.has(row.id)"
            :aria-label="`Tick row ${index + 1}`"
            @click.stop
            @change="tick(row)"
          /><template v-else-if="column.key === ' name'">{{ row.name }}</template
          ><template v-else
            >{{ label(row, column.key)
            }}<span v-if="row.ended && column.key === view.columns.value[0]?.name" class="ended"
              >ended</span
            ></template
          ></template
        >
      </VirtualTable>
      <div v-else-if="!pages.loading.value" class="empty" style="flex: 1">
        <template v-if="whole"
          ><h2>No record is like that</h2>
          <button class="btn fir" @click="view.clear()">Show all {{ whole }}</button></template
        >
        <template v-else
          ><h2>
            {{ view.day.value ? 'On that day the roster had no record' : 'The roster is empty' }}
          </h2>
          <p>Drop a file with people anywhere.</p></template
        >
      </div>
      <RecordLife
        v-if="record"
        :key="record"
        :record="record"
        :roster="roster"
        @close="close"
        @edited="pages.restart()"
      />
      <HistoryList v-else-if="withHistory" :roster="name" />
    </div>
  </section>
  <p v-else-if="!catalog.state.rosters.length && !problem" role="status">Opening the roster …</p>
  <NotHere
    v-else
    title="This roster cannot be opened"
    :problem="problem || `There is no roster “${name}”.`"
    to="/rosters"
    back="All rosters"
  />
</template>

<style scoped>
.page {
  flex: 1;
  min-width: 0;
  display: flex;
  flex-direction: column;
  padding: 10px 0 0 14px;
}
.ended {
  margin-left: 8px;
  padding: 0 5px;
  border: 1px solid var(--line);
  color: var(--ink2);
  font-size: 12px;
}
.body {
  flex: 1;
  min-height: 0;
  display: flex;
  border: 1px solid var(--ink);
  border-width: 1px 0 0 1px;
  background: var(--snow);
}
</style>
