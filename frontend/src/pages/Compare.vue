<script setup lang="ts">
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import ChangeMark from '@/components/intake/ChangeMark.vue'
import StateChooser from '@/components/StateChooser.vue'
import VirtualTable, { type TableColumn } from '@/components/VirtualTable.vue'
import NotHere from '@/components/NotHere.vue'
import { listIntakes } from '@/api/intakes'
import { comparedAddress, compareStates } from '@/api/rosters'
import type { Compared, ComparedPerson, IntakeBrief, Value } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { useKeys } from '@/composables/useKeys'
import { usePages } from '@/composables/usePages'
import { usePageTitle } from '@/composables/usePageTitle'
import { dayPlus, today } from '@/logic/clock'
import { count, counted, show } from '@/logic/words'

const route = useRoute()
const router = useRouter()
const catalog = useCatalog()
const name = String(route.params.name)
const roster = computed(() => catalog.roster(name))
const intakes = shallowRef<IntakeBrief[]>([])
const compared = shallowRef<Compared | null>(null)
const problem = ref('')
const selected = ref(0)
const monthAgo = dayPlus(today(), -30)
const old = computed(() => String(route.query.old ?? `day:${monthAgo}`))
const now = computed(() => String(route.query.new ?? 'today'))
const wanted = computed(() => String(route.query.family ?? ''))
const field = computed(() =>
  roster.value?.fields.find((one) => one.name === compared.value?.family),
)
const pages = usePages<ComparedPerson>(async (start, limit) => {
  const found = await compareStates(name, {
    old: old.value,
    new: now.value,
    family: wanted.value,
    start,
    limit,
  })
  if (start === 0) compared.value = found
  return { total: found.total, rows: found.people }
})
const columns = computed<TableColumn[]>(() => [
  {
    key: 'key',
    title: roster.value?.fields.find((one) => one.is_key)?.title ?? 'Key',
    width: '130px',
    mono: true,
  },
  { key: 'name', title: 'Name', width: 'minmax(180px, 1fr)' },
  ...(field.value
    ? [{ key: 'change', title: field.value.title, width: 'minmax(280px, 2fr)' }]
    : []),
])
const markOf = (key: string) => (key === 'joined' ? 'join' : key === 'absent' ? 'absent' : 'change')
const label = (value: Value) =>
  typeof value === 'string' && field.value?.code_list
    ? catalog.label(field.value.code_list, value) || value
    : show(value, field.value?.type)
const set = (part: Record<string, string>) =>
  void router.replace({ query: { ...route.query, family: undefined, ...part } })
const step = (by: number) =>
  (selected.value = Math.max(0, Math.min(pages.total.value - 1, selected.value + by)))

async function load(): Promise<void> {
  selected.value = 0
  await pages.restart()
  problem.value = pages.problem.value
  if (field.value?.code_list) await catalog.loadList(field.value.code_list).catch(() => undefined)
}

useKeys({ ArrowDown: () => step(1), ArrowUp: () => step(-1) })
watch([old, now, wanted], () => void load())
onMounted(async () => {
  await catalog.load().catch((error: Error) => (problem.value = error.message))
  intakes.value = (
    await listIntakes({ start: 0, limit: 500, thrown: false }).catch(() => ({ intakes: [] }))
  ).intakes.filter((one) => one.roster === name)
  await load()
})
usePageTitle(() => roster.value && `${roster.value.title} compared`)
</script>

<template>
  <NotHere
    v-if="!roster && problem"
    title="This roster cannot be opened"
    :problem="problem"
    to="/rosters"
    back="All rosters"
  />
  <div v-else class="page">
    <div class="bar">
      <h1>{{ roster?.title }} compared</h1>
      <StateChooser
        label="The first"
        :value="old"
        :intakes="intakes"
        @choose="(value) => set({ old: value })"
      />
      <span class="arrow">→</span>
      <StateChooser
        label="The second"
        :value="now"
        :intakes="intakes"
        @choose="(value) => set({ new: value })"
      />
      <span class="grow" />
      <a
        v-if="compared && pages.total.value"
        class="btn"
        :href="comparedAddress(name, old, now)"
        download
        >Download CSV</a
      >
      <RouterLink class="btn" :to="`/rosters/${name}`">To the roster</RouterLink>
    </div>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <div v-if="compared" class="cols" :aria-busy="pages.loading.value">
      <nav aria-label="What differs">
        <button
          v-for="one in compared.families"
          :key="one.key"
          class="plain family"
          :class="{ on: one.key === compared.family }"
          :aria-pressed="one.key === compared.family"
          @click="set({ family: one.key })"
        >
          <ChangeMark :kind="markOf(one.key)" /><span>{{ one.title }}</span
          ><b>{{ count(one.count) }}</b>
        </button>
        <p class="soft">
          {{ counted(compared.changed, 'record differs', 'records differ') }},
          {{ count(compared.same) }} are the same.
        </p>
      </nav>
      <section aria-label="Who differs">
        <p class="soft">{{ compared.old }} → {{ compared.new }}</p>
        <VirtualTable
          v-if="pages.total.value"
          label="Who differs"
          :columns="columns"
          :pages="pages"
          :selected="selected"
          class="people"
          @choose="(index) => (selected = index)"
        >
          <template #cell="{ row, column }">
            <template v-if="column.key === 'key'">{{ row.key }}</template>
            <RouterLink
              v-else-if="column.key === 'name' && row.record"
              :to="`/rosters/${name}?record=${row.record}`"
              @click.stop
              >{{ row.name }}</RouterLink
            >
            <template v-else-if="column.key === 'name'"
              >{{ row.name }} <span class="soft">line {{ row.line }}</span></template
            >
            <template v-else
              ><span class="was">{{ label(row.old) || 'empty' }}</span
              ><span class="arrow">→</span
              ><b class="will">{{ label(row.new) || 'empty' }}</b></template
            >
          </template>
        </VirtualTable>
        <p v-else class="empty">
          {{
            compared.changed + compared.families.reduce((sum, one) => sum + one.count, 0)
              ? 'Nothing of this kind.'
              : 'The two are the same. Choose another day, or a file.'
          }}
        </p>
      </section>
    </div>
    <p v-else-if="!problem" class="soft" role="status">Comparing …</p>
  </div>
</template>

<style scoped>
.page {
  flex: 1;
  min-width: 0;
  display: flex;
  flex-direction: column;
}
.bar {
  display: flex;
  gap: 10px;
  align-items: center;
  padding: 12px 18px;
  border-bottom: 1px solid var(--ink);
  flex-wrap: wrap;
}
h1 {
  font-size: 18px;
}
.cols {
  flex: 1;
  min-height: 0;
  display: flex;
}
nav {
  width: 286px;
  flex: none;
  padding: 12px 10px 12px 14px;
  overflow-y: auto;
}
.family {
  display: grid;
  grid-template-columns: 18px 1fr auto;
  align-items: center;
  width: 100%;
  height: 30px;
  border-bottom: 1px solid var(--line);
}
.family.on {
  background: var(--snow);
  box-shadow: inset 3px 0 0 var(--ink);
  padding-left: 6px;
}
nav p {
  padding-top: 14px;
  font-size: 13.5px;
}
section {
  flex: 1;
  min-width: 0;
  background: var(--snow);
  border-left: 1px solid var(--ink);
  padding: 12px 16px 8px;
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.people {
  margin: 2px -16px 0;
  flex: 1;
}
</style>
