<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import KnownByDialog from '@/components/intake/KnownByDialog.vue'
import LimitsDialog from '@/components/intake/LimitsDialog.vue'
import PersonTable from '@/components/intake/PersonTable.vue'
import ReasonDialog from '@/components/ReasonDialog.vue'
import { getPeople, getPerson, type PeopleState } from '@/api/people'
import type { People, Person, PersonBrief, Step } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { useIntake } from '@/composables/useIntake'
import { useKeys } from '@/composables/useKeys'
import { PREPARE } from '@/composables/useSession'
import { count, counted, listed } from '@/logic/words'

const PAGE = 200
const route = useRoute()
const router = useRouter()
const open = useIntake()
const catalog = useCatalog()
const { intake, id, revision } = open
const found = shallowRef<People | null>(null)
const decided = shallowRef<PersonBrief[]>([])
const likely = shallowRef<PersonBrief[]>([])
const person = shallowRef<Person | null>(null)
const all = ref(false)
const limiting = ref(false)
const knowing = ref(false)
const asking = ref<'hold' | 'leave_out' | null>(null)
const problem = ref('')
const fields = computed(() => catalog.roster(intake.value?.roster ?? '')?.fields ?? [])
const used = computed(() => found.value?.keys.filter((one) => one.used) ?? [])
const keys = computed(() => listed(used.value.map((one) => one.title.toLowerCase())))
/** By which keys rows are known, each with its rows: only those that know somebody. */
const byKeys = computed(() =>
  used.value
    .filter((one) => one.rows)
    .map((one) => `${count(one.rows)} by ${one.title.toLowerCase()}`),
)
const may = computed(() => (intake.value?.level ?? 0) >= PREPARE && !open.working.value)
const counts = computed(() => found.value?.counts ?? {})
const said = computed(() => {
  const { certain = 0, nobody = 0, possible = 0, chosen = 0 } = counts.value
  const settled = [
    ...byKeys.value,
    certain && `${certain} by likeness`,
    nobody && `${nobody} like nobody`,
    chosen && `${chosen} by you`,
  ].filter(Boolean)
  const passed = found.value?.passed_over
    ? ` ${counted(found.value.passed_over, 'row is', 'rows are')} left out: this file ` +
      `${intake.value?.takes === 'new' ? 'only adds' : 'only changes'} people.`
    : ''
  const open = possible
    ? `${counted(possible, 'row')} could be somebody whom you already have`
    : 'Nobody is left to tell apart'
  return `${open}; settled: ${settled.join(', ') || 'none'}.${passed}`
})
/**
 * The rows to decide, in their groups: several records likely, one likely, two rows for one record.
 */
const groups = computed(() => {
  const people = found.value?.people ?? []
  const rivals = people.filter((one) => one.rivals.length)
  const alone = people.filter((one) => !one.rivals.length)
  return [
    { title: 'several likely', people: alone.filter((one) => one.candidates > 1) },
    { title: 'one likely', people: alone.filter((one) => one.candidates <= 1) },
    { title: 'two rows, one record', people: rivals },
    { title: 'settled by you', people: decided.value },
    { title: 'known by likeness', people: likely.value },
  ].filter((group) => group.people.length)
})
const queue = computed(() => groups.value.flatMap((group) => group.people.map((one) => one.line)))
const line = computed(() => Number(route.query.line) || queue.value[0] || 0)

async function load(): Promise<void> {
  try {
    const page = (state: PeopleState) => getPeople(id, state, 0, PAGE)
    const [asked, chosen, certain] = await Promise.all([
      page('possible'),
      page('chosen'),
      page('certain'),
    ])
    decided.value = chosen.people
    likely.value = certain.people
    found.value = asked
    problem.value = ''
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}
async function show(): Promise<void> {
  const wanted = line.value
  if (!wanted) person.value = null
  else {
    const one = await getPerson(id, wanted).catch(() => null)
    if (wanted === line.value) person.value = one
  }
}
const pick = (to: number) =>
  void router.replace({ query: { ...route.query, line: to || undefined } })

/** Go on to the next row that is still to be decided. */
async function decide(step: () => Promise<boolean>): Promise<void> {
  const here = line.value
  const rest = (found.value?.people ?? []).map((one) => one.line)
  const next = rest[rest.indexOf(here) + 1] ?? rest.find((one) => one !== here) ?? 0
  if (await step()) pick(next === here ? 0 : next)
}
const choose = (record: number | null) =>
  may.value &&
  person.value &&
  decide(() => open.add({ kind: 'person', choices: [{ line: line.value, record }] }))
/**
 * Other rows of the file that claim the record and are not known by a key: one of them can be kept
 * for all.
 */
const rivals = computed(() =>
  (person.value?.rivals ?? [])
    .map((other) => other.line)
    .filter((other) => found.value?.people.some((brief) => brief.line === other)),
)
const keepOne = () =>
  may.value &&
  open.add({
    kind: 'leave_out',
    lines: rivals.value,
    reason: `the same person as line ${line.value}, which is kept`,
  })
const leave = () => may.value && open.add({ kind: 'undecided', lines: [line.value] })
const allNew = () =>
  may.value &&
  open.add({
    kind: 'person',
    choices: (found.value?.people ?? []).map((one) => ({ line: one.line, record: null })),
  })
function reason(text: string): void {
  const kind = asking.value
  asking.value = null
  if (kind) void decide(() => open.add({ kind, lines: [line.value], reason: text }))
}
async function know(steps: Step[]): Promise<void> {
  knowing.value = false
  for (const step of steps) if (!(await open.add(step))) return
}
function limit(limits: { certain: number; nobody: number }): void {
  limiting.value = false
  void open.add({ kind: 'limits', ...limits })
}
function move(by: number): void {
  const place = queue.value.indexOf(line.value)
  const to = queue.value[Math.min(queue.value.length - 1, Math.max(0, place + by))]
  if (to) pick(to)
}
const digit = (place: number) => () => {
  const one = person.value?.candidates[place]
  if (one) void choose(one.record)
}
useKeys({
  1: digit(0),
  2: digit(1),
  3: digit(2),
  4: digit(3),
  n: () => void choose(null),
  h: () => may.value && (asking.value = 'hold'),
  l: () => may.value && (asking.value = 'leave_out'),
  '.': () => move(1),
  ',': () => move(-1),
  ArrowDown: () => move(1),
  ArrowUp: () => move(-1),
  d: () => (all.value = !all.value),
})
watch(revision, () => void load(), { immediate: true })
watch([line, found], () => void show(), { immediate: true })
</script>

<template>
  <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
  <div v-if="intake && found" class="bar">
    <p aria-live="polite">{{ said }}</p>
    <span class="grow" />
    <button v-if="found.total > 1" class="btn" :disabled="!may" @click="allNew">
      All {{ found.total }} are new people
    </button>
    <button class="btn" :disabled="!may || !found.keys.length" @click="knowing = true">
      Known by {{ keys || 'likeness alone' }}
    </button>
    <button class="btn" :disabled="!may" @click="limiting = true">
      Limits for settling by itself
    </button>
  </div>
  <div v-if="intake && found" class="cols">
    <nav class="queue" aria-label="Rows to tell apart">
      <template v-for="group in groups" :key="group.title">
        <h3>{{ group.title }}</h3>
        <button
          v-for="one in group.people"
          :key="one.line"
          class="item"
          :class="{ on: one.line === line, done: one.state !== 'possible' }"
          :aria-current="one.line === line ? 'true' : undefined"
          @click="pick(one.line)"
        >
          <b>{{ one.name || one.key }}</b>
          <span
            >line {{ one.line
            }}<template v-if="one.rivals.length">
              and {{ one.rivals.map((other) => other.line).join(', ') }}</template
            ><template v-if="one.state === 'chosen'"> = {{ one.record || 'somebody new' }}</template
            ><template v-else> · {{ Math.round(one.score) }}</template></span
          >
        </button>
      </template>
      <p v-if="!groups.length" class="soft none">
        Every row is known by its {{ keys || 'key' }}, or like nobody in {{ intake.roster_title }}.
      </p>
    </nav>
    <section v-if="person && person.candidates.length" class="pane" aria-label="Who is it">
      <div class="head">
        <h2>Who is line {{ person.line }}?</h2>
        <span class="soft">{{ person.name }} · {{ person.key || `no ${keys} in the file` }}</span
        ><span class="grow" />
        <label class="only"><input v-model="all" type="checkbox" /> all fields <kbd>D</kbd></label>
      </div>
      <PersonTable :person="person" :fields="fields" :all="all" @choose="choose" />
      <p v-if="person.more" class="soft">
        {{ counted(person.more, 'less likely record is', 'less likely records are') }} not shown.
      </p>
      <p v-if="person.rivals.length" class="flag">
        {{ person.rivals.map((one) => `Line ${one.line} (${one.name})`).join(', ') }} may be the
        same record: it can go to one of them only.
      </p>
      <p v-for="note in person.notes" :key="note" class="flag">{{ note }}</p>
      <div class="do">
        <button
          v-for="(one, place) in person.candidates.slice(0, 2)"
          :key="one.record"
          class="btn"
          :class="{ main: place === 0 && person.record === null }"
          :disabled="!may"
          @click="choose(one.record)"
        >
          Is {{ place + 1 }}: {{ one.key }} <kbd>{{ place + 1 }}</kbd>
        </button>
        <button
          v-if="rivals.length"
          class="btn"
          :disabled="!may"
          :title="`Leaves line ${rivals.join(', ')} out, with that for a reason`"
          @click="keepOne"
        >
          One person: keep line {{ person.line }}
        </button>
        <button class="btn fir" :disabled="!may" @click="choose(null)">
          Somebody new <kbd>N</kbd>
        </button>
        <button class="btn" :disabled="!may" @click="asking = 'hold'">
          Hold with a reason <kbd>H</kbd>
        </button>
        <button class="btn" :disabled="!may" @click="asking = 'leave_out'">
          Leave out <kbd>L</kbd>
        </button>
        <button v-if="person.state === 'chosen'" class="btn" :disabled="!may" @click="leave">
          Not decided by me
        </button>
        <span class="grow" /><span class="soft small"
          >bars: what each field says for it (right) or against (left)</span
        >
      </div>
    </section>
    <section v-else class="pane nothing">
      <h2>{{ counts.possible ? 'Choose a row' : 'Everybody is told apart' }}</h2>
      <p class="soft">
        A row is the record with the same {{ keys || 'key' }}; one that no key knows is told by
        likeness. Two rows of one person, and keys that point to two people, stand under Problems.
      </p>
      <dl>
        <template v-for="one in used" :key="one.title"
          ><dt>{{ count(one.rows) }}</dt>
          <dd>
            known by {{ one.title.toLowerCase()
            }}{{ one.in_file ? '' : ', which the file does not have' }}
          </dd></template
        >
        <dt>{{ counts.certain ?? 0 }}</dt>
        <dd>known by likeness, from {{ found.certain }} in 100 on</dd>
        <dt>{{ counts.nobody ?? 0 }}</dt>
        <dd>
          like nobody in {{ intake.roster_title }}:
          <RouterLink :to="`/intakes/${id}/changes?family=join`">{{
            counted(intake.tally.new, 'joins', 'join')
          }}</RouterLink>
        </dd>
        <dt>{{ counts.chosen ?? 0 }}</dt>
        <dd>decided by you</dd>
      </dl>
      <p v-if="!counts.key && !counts.certain" class="flag">
        No row is known. If these people should be in the roster already, look under Columns whether
        the key and the names are paired rightly.
      </p>
    </section>
  </div>
  <p v-else class="empty" role="status">Comparing people …</p>
  <KnownByDialog
    v-if="found && intake"
    :open="knowing"
    :roster="intake.roster_title"
    :source="intake.source_by === 'guess' ? '' : intake.source"
    :keys="found.keys"
    :own="found.own_keys"
    :takes="intake.takes"
    @done="know"
    @close="knowing = false"
  />
  <LimitsDialog
    v-if="found"
    :open="limiting"
    :intake="id"
    :certain="found.certain"
    :nobody="found.nobody"
    @done="limit"
    @close="limiting = false"
  />
  <ReasonDialog
    :open="!!asking"
    :title="asking === 'hold' ? 'Hold 1 row' : 'Leave 1 row out'"
    said="The reason is kept with the row."
    :act="asking === 'hold' ? 'Hold 1 row' : 'Leave 1 row out'"
    :usual="asking === 'hold' ? ['asked the office', 'letter due'] : ['withdrew', 'not ours']"
    @done="reason"
    @close="asking = null"
  />
</template>

<style scoped>
.bar {
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 8px 16px 0 12px;
  min-height: 36px;
}
.cols {
  flex: 1;
  display: flex;
  min-height: 0;
}
.queue {
  width: 231px;
  flex: none;
  padding: 2px 0 12px 12px;
  overflow-y: auto;
}
.queue h3 {
  font-size: 13px;
  font-weight: 400;
  color: var(--ink2);
  margin: 8px 0 6px;
}
.item {
  display: block;
  width: 100%;
  text-align: left;
  padding: 6px 10px;
  margin-bottom: 5px;
  background: var(--snow);
  border: 1px solid var(--line);
  color: var(--ink);
  line-height: 18px;
  cursor: pointer;
  font-size: 13.5px;
  overflow-wrap: anywhere;
}
.item span {
  display: block;
  color: var(--ink2);
  font-size: 13px;
}
.item.on {
  border-color: var(--ink);
  border-right-color: var(--snow);
  box-shadow: inset 3px 0 0 var(--fir);
}
.item.done b {
  font-weight: 400;
}
.none {
  padding-right: 12px;
}
.pane {
  flex: 1;
  min-width: 0;
  background: var(--snow);
  border: 1px solid var(--ink);
  border-right: 0;
  margin-top: 8px;
  padding: 10px 16px;
  overflow: auto;
}
.head {
  display: flex;
  align-items: baseline;
  gap: 10px;
}
.head h2 {
  font-size: 17px;
}
.only {
  font-size: 13px;
  color: var(--ink2);
  white-space: nowrap;
}
.flag {
  margin-top: 12px;
}
.do {
  display: flex;
  gap: 8px;
  flex-wrap: wrap;
  margin-top: 16px;
  align-items: center;
}
.nothing {
  max-width: none;
}
.nothing p {
  margin: 6px 0 12px;
  max-width: 720px;
}
dl {
  display: grid;
  grid-template-columns: 60px 1fr;
  row-gap: 6px;
}
dt {
  text-align: right;
  padding-right: 12px;
  font-weight: 600;
  font-variant-numeric: tabular-nums;
}
</style>
