<script setup lang="ts">
import { computed, onMounted, ref, shallowRef } from 'vue'
import { useRoute } from 'vue-router'
import { message } from 'ant-design-vue'
import EvidenceBar from '@/components/intake/EvidenceBar.vue'
import { listDoubles, mergeRecords, sayTwo } from '@/api/doubles'
import type { Double, DoubleField, Doubles, Value } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { useKeys } from '@/composables/useKeys'
import { APPROVE, PREPARE } from '@/composables/useSession'
import { count, counted, show } from '@/logic/words'

const route = useRoute()
const catalog = useCatalog()
const name = String(route.params.name)
const roster = computed(() => catalog.roster(name))
const doubles = shallowRef<Doubles | null>(null)
const problem = ref('')
const working = ref(false)
const place = ref(0)
/** Which of the two stays, and the fields of which the other's value is taken. */
const stays = ref(0)
const taken = ref(new Set<string>())
const all = ref(false)
const pair = computed<Double | undefined>(() => doubles.value?.pairs[place.value])
const fields = computed(() =>
  (pair.value?.fields ?? []).filter((one) => all.value || !one.is_same || one.word),
)
const mayMerge = computed(() => (roster.value?.level ?? 0) >= APPROVE)
const maySay = computed(() => (roster.value?.level ?? 0) >= PREPARE)
const isSeveral = (one: DoubleField) =>
  roster.value?.fields.find((other) => other.name === one.field)?.several ?? false
const label = (one: DoubleField, value: Value) => {
  const field = roster.value?.fields.find((other) => other.name === one.field)
  return (
    (typeof value === 'string' && field?.code_list && catalog.label(field.code_list, value)) ||
    show(value, field?.type)
  )
}
/**
 * Whose value the merged record has: of several values both, of a value that only one has that
 * one's.
 */
function whose(one: DoubleField): 'both' | 0 | 1 {
  if (one.is_same || (isSeveral(one) && one.values.every((value) => value !== null))) return 'both'
  if (one.values[0] === null) return 1
  if (one.values[1] === null) return 0
  return taken.value.has(one.field) ? (stays.value === 0 ? 1 : 0) : stays.value === 0 ? 0 : 1
}

function choose(index: number): void {
  place.value = Math.max(0, Math.min((doubles.value?.pairs.length ?? 1) - 1, index))
  stays.value = 0
  taken.value = new Set()
}
function takeFrom(one: DoubleField, side: number): void {
  if (whose(one) === 'both' || one.values[side] === null) return
  const next = new Set(taken.value)
  if (side === stays.value) next.delete(one.field)
  else next.add(one.field)
  taken.value = next
}

async function load(): Promise<void> {
  try {
    doubles.value = await listDoubles(name)
    problem.value = ''
    choose(place.value)
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}
async function act(send: (one: Double) => Promise<string>): Promise<void> {
  if (!pair.value || working.value) return
  working.value = true
  try {
    void message.info(await send(pair.value), 5)
    await load()
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  } finally {
    working.value = false
  }
}
const merge = () =>
  mayMerge.value &&
  act(async (one) => {
    const kept = stays.value
    const done = await mergeRecords(name, {
      keep: one.records[kept]!,
      gone: one.records[1 - kept]!,
      take: [...taken.value],
      version: doubles.value!.version,
    })
    void catalog.load().catch(() => undefined)
    return `One record now: receipt ${done.change_set}, which can be taken back.`
  })
const two = () =>
  maySay.value &&
  act(async (one) => {
    await sayTwo(name, one.records[0]!, one.records[1]!)
    return 'Two people: they are not shown again.'
  })

useKeys({
  '.': () => choose(place.value + 1),
  ',': () => choose(place.value - 1),
  ArrowDown: () => choose(place.value + 1),
  ArrowUp: () => choose(place.value - 1),
  1: () => (stays.value = 0),
  2: () => (stays.value = 1),
  m: () => void merge(),
  t: () => void two(),
})
onMounted(async () => {
  await catalog.load().catch((error: Error) => (problem.value = error.message))
  await load()
  await Promise.all(
    (roster.value?.fields ?? []).map((one) =>
      catalog.loadList(one.code_list).catch(() => undefined),
    ),
  )
})
</script>

<template>
  <div class="page">
    <div class="title">
      <h1>{{ roster?.title }}: who may stand twice</h1>
      <span class="grow" />
      <RouterLink class="btn" :to="`/rosters/${name}`">To the roster</RouterLink>
    </div>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <p v-if="!doubles && !problem" class="soft wait" role="status">
      Comparing everybody with everybody …
    </p>
    <div v-else-if="doubles && !doubles.total" class="empty">
      <h2>Nobody stands twice</h2>
      <p>
        No two records are so alike that they may be one person{{
          maySay ? '; what was said to be two people is not shown' : ''
        }}.
      </p>
    </div>
    <div v-else-if="doubles && pair" class="cols">
      <nav aria-label="Pairs">
        <p class="soft">{{ counted(doubles.total, 'pair') }}, the likeliest first</p>
        <button
          v-for="(one, index) in doubles.pairs"
          :key="one.records.join()"
          class="plain pair"
          :class="{ on: index === place }"
          :aria-pressed="index === place"
          @click="choose(index)"
        >
          <b>{{ Math.round(one.score) }}</b><span
            >{{ one.names[0] }}<br /><span class="soft">{{ one.names[1] }}</span></span
          >
        </button>
        <p v-if="doubles.total > doubles.pairs.length" class="soft">
          and {{ count(doubles.total - doubles.pairs.length) }} more, once these are settled
        </p>
      </nav>
      <section aria-label="The two side by side">
        <table>
          <thead>
            <tr>
              <th scope="col"><span class="unseen">field</span></th>
              <th v-for="side in [0, 1]" :key="side" scope="col" :class="{ on: side === stays }">
                <button class="plain top" :aria-pressed="side === stays" @click="stays = side">
                  <kbd>{{ side + 1 }}</kbd> {{ side === stays ? 'stays' : 'leaves' }}
                  <small class="mono">{{ pair.keys[side] }}</small>
                </button>
              </th>
              <th scope="col">agree</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in fields" :key="one.field" :class="{ same: one.is_same }">
              <th scope="row">{{ one.title }}</th>
              <td
                v-for="side in [0, 1]"
                :key="side"
                :class="{ kept: whose(one) === side || whose(one) === 'both' }"
              >
                <button
                  v-if="!one.is_same && one.values[side] !== null"
                  class="plain cell"
                  :aria-pressed="whose(one) === side || whose(one) === 'both'"
                  :aria-label="`Keep ${one.title} ${label(one, one.values[side] ?? null)}`"
                  @click="takeFrom(one, side)"
                >
                  {{ label(one, one.values[side] ?? null) }}
                </button>
                <template v-else
                  >{{ label(one, one.values[side] ?? null)
                  }}<span v-if="one.values[side] === null" class="soft">none</span></template
                >
              </td>
              <td>
                <span v-if="one.word" class="soft">{{ one.word }}</span>
                <EvidenceBar v-if="one.word" :bits="one.bits" />
              </td>
            </tr>
          </tbody>
        </table>
        <p>
          <button class="link" @click="all = !all">
            {{ all ? 'only what tells people apart, and what differs' : 'all fields' }}
          </button>
        </p>
        <p class="soft">
          What is in bold the one record has afterwards; of several values both. Who referred to the
          record that leaves refers to the other.
        </p>
        <div class="do">
          <button class="btn main" :disabled="!mayMerge || working" @click="merge">
            One person: {{ pair.keys[stays] }} stays <kbd>M</kbd>
          </button>
          <button class="btn" :disabled="!maySay || working" @click="two">
            Two people <kbd>T</kbd>
          </button>
          <span class="soft keys"
            ><kbd>1</kbd> <kbd>2</kbd> which stays <kbd>,</kbd> <kbd>.</kbd> previous, next</span
          >
        </div>
      </section>
    </div>
  </div>
</template>

<style scoped>
.page {
  flex: 1;
  min-width: 0;
  display: flex;
  flex-direction: column;
}
.title {
  display: flex;
  gap: 10px;
  align-items: center;
  padding: 12px 18px;
  border-bottom: 1px solid var(--ink);
}
h1 {
  font-size: 18px;
}
.wait {
  padding: 18px;
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
nav p {
  padding: 0 0 8px;
  font-size: 13.5px;
}
.pair {
  display: grid;
  grid-template-columns: 38px 1fr;
  width: 100%;
  padding: 5px 0;
  border-bottom: 1px solid var(--line);
  text-align: left;
  line-height: 19px;
}
.pair.on {
  background: var(--snow);
  box-shadow: inset 3px 0 0 var(--ink);
  padding-left: 8px;
}
section {
  flex: 1;
  min-width: 0;
  background: var(--snow);
  border-left: 1px solid var(--ink);
  padding: 12px 16px;
  overflow-y: auto;
  display: flex;
  flex-direction: column;
  gap: 8px;
}
table {
  border-collapse: collapse;
  width: 100%;
  table-layout: fixed;
}
th,
td {
  height: 30px;
  border-bottom: 1px solid var(--drift);
  text-align: left;
  padding: 2px 10px 2px 0;
  overflow-wrap: anywhere;
  font-weight: 400;
}
th:first-child {
  width: 150px;
  color: var(--ink2);
}
th:last-child,
td:last-child {
  width: 190px;
  position: relative;
}
th.on {
  font-weight: 600;
  border-bottom: 2px solid var(--fir);
}
.kept,
.kept .cell {
  font-weight: 600;
}
.same td {
  color: var(--ink2);
  font-weight: 400;
}
.cell {
  text-align: left;
}
.do {
  display: flex;
  gap: 10px;
  align-items: center;
  padding-top: 8px;
}
.keys {
  margin-left: auto;
}
</style>
