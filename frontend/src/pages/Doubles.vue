<script setup lang="ts">
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { useRoute } from 'vue-router'
import { message } from 'ant-design-vue'
import KeyCap from '@/components/controls/KeyCap.vue'
import DoubleTable from '@/components/people/DoubleTable.vue'
import NotHere from '@/components/NotHere.vue'
import { listDoubles, mergeRecords, sayTwo } from '@/api/doubles'
import type { Double, Doubles } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { useKeys } from '@/composables/useKeys'
import { APPROVE, PREPARE } from '@/composables/useSession'
import { usePageTitle } from '@/composables/usePageTitle'
import { focusMarked } from '@/logic/focus'
import { count, counted } from '@/logic/words'

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
const mayMerge = computed(() => (roster.value?.level ?? 0) >= APPROVE)
const maySay = computed(() => (roster.value?.level ?? 0) >= PREPARE)
function choose(index: number): void {
  place.value = Math.max(0, Math.min((doubles.value?.pairs.length ?? 1) - 1, index))
  stays.value = 0
  taken.value = new Set()
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

/** What a key has marked; Enter decides, so that no single key does between two people. */
const marked = ref<'one' | 'two' | null>(null)
function mark(as: 'one' | 'two'): void {
  marked.value = as
  focusMarked()
}
function decide(): void {
  if (marked.value === 'one') void merge()
  else if (marked.value === 'two') void two()
}
watch(pair, () => (marked.value = null))
useKeys({
  '.': () => choose(place.value + 1),
  ',': () => choose(place.value - 1),
  ArrowDown: () => choose(place.value + 1),
  ArrowUp: () => choose(place.value - 1),
  1: () => (stays.value = 0),
  2: () => (stays.value = 1),
  m: () => mark('one'),
  t: () => mark('two'),
  Enter: decide,
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
usePageTitle(() => roster.value && `${roster.value.title}: who may stand twice`)
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
    <div class="title">
      <h1>{{ roster?.title ?? name }}: who may stand twice</h1>
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
        <DoubleTable
          v-model:stays="stays"
          v-model:taken="taken"
          :pair="pair"
          :roster="roster"
          :all="all"
        />
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
          <button
            class="btn"
            :data-marked="marked === 'one' || undefined"
            :class="{ main: marked !== 'two' }"
            :disabled="!mayMerge || working"
            @click="merge"
          >
            One person: {{ pair.keys[stays] }} stays
            <KeyCap :of="marked === 'one' ? 'Enter' : 'M'" />
          </button>
          <button
            class="btn"
            :data-marked="marked === 'two' || undefined"
            :class="{ main: marked === 'two' }"
            :disabled="!maySay || working"
            @click="two"
          >
            Two people <KeyCap :of="marked === 'two' ? 'Enter' : 'T'" />
          </button>
          <span class="soft keys"
            ><KeyCap of="1" /> <KeyCap of="2" /> which stays <KeyCap of="," />
            <KeyCap of="." /> previous, next</span
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
