<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { decideNumber, getPeopleOf, getPersonOf, setPolicy } from '@/api/submissions'
import type { Holder, PersonHere, PersonInFull, Submission } from '@/api/types'
import { useKeys } from '@/composables/useKeys'
import { APPROVE, PREPARE } from '@/composables/useSession'
import { useSubmission } from '@/composables/useSubmission'
import { counted, day } from '@/logic/words'

const NEW = 'NEW'
const MOST = 1000

const props = defineProps<{ submission: Submission }>()
const open = useSubmission()
const waiting = ref<PersonHere[]>([])
const decided = ref<PersonHere[]>([])
const record = ref<number | null>(null)
const person = ref<PersonInFull | null>(null)
const chosen = ref(0)
const withSame = ref(false)
const may = computed(() => props.submission.level >= APPROVE)
const sees = computed(() => props.submission.level >= PREPARE)
const none = computed(() => props.submission.policy.none === 'new')
const one = computed(() =>
  typeof props.submission.policy.one === 'number' ? props.submission.policy.one : null,
)
const list = computed(() => [...waiting.value, ...decided.value])
const rows = computed(() => {
  const names = new Set(
    (person.value?.candidates ?? []).flatMap((each) =>
      each.values.filter((value) => withSame.value || !value.is_same).map((value) => value.field),
    ),
  )
  return (person.value?.candidates[0]?.values ?? [])
    .filter((value) => names.has(value.field))
    .map((value) => ({ field: value.field, title: value.title, ours: value.ours }))
})
const cell = (each: Holder, field: string) => each.values.find((value) => value.field === field)
const word = (value: string) => (/^\d{4}-\d\d-\d\d$/.test(value) ? day(value) : value || '—')
const kind = (each: PersonHere) =>
  each.candidates === 0
    ? 'nobody near'
    : each.candidates === 1
      ? 'one holder'
      : `${each.candidates} holders`

async function load(): Promise<void> {
  const query = { rule: '', q: '', start: 0, limit: MOST }
  const [first, second] = await Promise.all([
    getPeopleOf(open.id, { ...query, state: 'to_number' }),
    getPeopleOf(open.id, { ...query, state: 'ready' }),
  ])
  waiting.value = [...first.people].sort((left, right) => left.candidates - right.candidates)
  decided.value = second.people.filter(
    (each) => /number|holder/.test(each.why) && !/by policy|questioned/.test(each.why),
  )
  if (!list.value.some((each) => each.record === record.value))
    record.value = list.value[0]?.record ?? null
}
function step(by: number): void {
  const at = list.value.findIndex((each) => each.record === record.value)
  const to = list.value[at + by]
  if (to) record.value = to.record
}
/** Decide the number of whom is shown; '' takes the decision back. */
async function choose(value: string): Promise<void> {
  const now = record.value
  // what is shown is still somebody else's
  if (now === null || !may.value || person.value?.record !== now) return
  const at = waiting.value.findIndex((each) => each.record === now)
  const next = waiting.value[at + 1]?.record ?? waiting.value[at - 1]?.record ?? now
  if ((await open.act(() => decideNumber(open.id, [now], value))) && value) record.value = next
}
function take(at: number): void {
  const holder = person.value?.candidates[at]
  if (holder) void choose(holder.number)
}
const policy = (isNone: boolean, limit: number | null) =>
  open.act(() => setPolicy(open.id, isNone, limit))
const setLimit = (event: Event) =>
  policy(none.value, Number((event.target as HTMLSelectElement).value) || null)

useKeys({
  ArrowDown: () => step(1),
  ArrowUp: () => step(-1),
  '.': () => step(1),
  ',': () => step(-1),
  ArrowRight: () =>
    void (chosen.value = Math.min(chosen.value + 1, (person.value?.candidates.length ?? 1) - 1)),
  ArrowLeft: () => void (chosen.value = Math.max(0, chosen.value - 1)),
  ...Object.fromEntries(
    [1, 2, 3, 4, 5, 6, 7, 8, 9].map((number) => [number, () => take(number - 1)]),
  ),
  Enter: () => take(chosen.value),
  n: () => void choose(NEW),
})
watch(() => props.submission.touched, load, { immediate: true })
watch(
  [record, () => props.submission.touched],
  async () => {
    const number = record.value
    const full =
      number === null || !sees.value ? null : await getPersonOf(open.id, number).catch(() => null)
    if (number !== record.value) return
    person.value = full
    chosen.value = 0
  },
  { immediate: true },
)
</script>

<template>
  <div class="cols">
    <div class="side" role="region" aria-label="Without a number">
      <p class="soft group">
        {{ counted(waiting.length, 'record waits', 'records wait') }} for a number{{
          decided.length ? `, ${decided.length} decided` : ''
        }}
      </p>
      <button
        v-for="each in list"
        :key="each.record"
        class="plain who"
        :class="{ on: each.record === record, done: each.state === 'ready' }"
        :aria-current="each.record === record"
        @click="record = each.record"
      >
        <span class="name">{{ each.name }}</span><span class="mono">{{ each.key }}</span
        ><span class="soft small">{{ each.state === 'ready' ? each.why : kind(each) }}</span>
      </button>
      <p v-if="!list.length" class="soft">Nobody waits for a number.</p>
      <div class="policy">
        <h3>Decided without asking</h3>
        <label
          ><input type="checkbox" :checked="none" :disabled="!may" @change="policy(!none, one)" />
          nobody near: a new number</label
        >
        <label
          >one holder: taken from
          <select
            class="box"
            :value="one ?? 0"
            :disabled="!may"
            aria-label="From which score the only holder is taken"
            @change="setLimit"
          >
            <option :value="0">never</option>
            <option v-for="limit in [100, 99, 98, 95, 90, 85]" :key="limit" :value="limit">
              {{ limit }} in 100
            </option>
          </select></label
        >
        <p class="soft small">Several holders: always a person.</p>
      </div>
    </div>
    <div v-if="person" class="pane">
      <div class="head">
        <h2>{{ person.name }}</h2>
        <span class="mono">{{ person.key }}</span><span class="grow" /><span class="soft">{{
          counted(person.candidates.length, 'possible holder')
        }}</span>
      </div>
      <p v-if="person.asked" class="flag">
        Decided: {{ person.why }}.
        <button v-if="may" class="link" @click="choose('')">Decide anew</button>
      </p>
      <div v-if="person.candidates.length" class="wide">
        <table class="hold">
          <thead>
            <tr>
              <th scope="col">differs in</th>
              <th scope="col">ours</th>
              <th
                v-for="(each, at) in person.candidates"
                :key="each.number"
                scope="col"
                :class="{ on: at === chosen }"
              >
                <button class="plain" @click="chosen = at">
                  <b class="mono">{{ each.number }}</b><br /><span
                    class="score"
                    role="img"
                    :aria-label="`${each.score} in 100`"
                    ><i :style="{ width: `${each.score}%` }"
                  /></span>
                  {{ each.score }}
                </button>
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in rows" :key="row.field">
              <th scope="row">{{ row.title }}</th>
              <td>{{ word(row.ours) }}</td>
              <td
                v-for="(each, at) in person.candidates"
                :key="each.number"
                :class="{ on: at === chosen, diff: !cell(each, row.field)?.is_same }"
              >
                {{
                  cell(each, row.field)?.is_same ? '=' : word(cell(each, row.field)?.theirs ?? '')
                }}
              </td>
            </tr>
            <tr>
              <th scope="row">Earlier</th>
              <td class="soft">—</td>
              <td
                v-for="(each, at) in person.candidates"
                :key="each.number"
                class="soft small"
                :class="{ on: at === chosen }"
              >
                {{ each.earlier }}
              </td>
            </tr>
            <tr v-if="may">
              <td />
              <td />
              <td
                v-for="(each, at) in person.candidates"
                :key="each.number"
                :class="{ on: at === chosen }"
              >
                <button class="btn" :class="{ main: at === chosen }" @click="choose(each.number)">
                  Take<kbd v-if="at < 9">{{ at + 1 }}</kbd>
                </button>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <p v-else class="soft">{{ submission.authority }} knows nobody who is near.</p>
      <p class="act">
        <button v-if="may" class="btn" @click="choose(NEW)">
          {{ person.candidates.length ? 'None of these: a new number' : 'A new number' }}
          <kbd>N</kbd>
        </button>
        <button class="btn" @click="step(1)">Later <kbd>.</kbd></button>
        <button class="btn" :aria-pressed="withSame" @click="withSame = !withSame">
          {{ withSame ? 'Only what differs' : 'What is the same, too' }}
        </button>
        <span v-if="!may" class="soft small">Who may approve decides on numbers.</span>
      </p>
    </div>
    <div v-else class="empty pane">
      <h2>
        {{
          list.length
            ? counted(list.length, 'record waits', 'records wait')
            : 'Nobody waits for a number'
        }}
      </h2>
      <p>
        {{
          list.length
            ? 'Who may prepare sees the holders.'
            : submission.rounds.length
              ? 'Numbers that the authority gives go into the roster by themselves, with a receipt.'
              : 'Records without a number ask for one when they are sent.'
        }}
      </p>
    </div>
  </div>
</template>

<style scoped>
.cols {
  flex: 1;
  display: flex;
  min-height: 0;
}
.side {
  width: 300px;
  flex: none;
  padding: 10px 12px;
  overflow-y: auto;
}
.group {
  font-size: 13px;
  margin-bottom: 6px;
}
.who {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 0 8px;
  width: 100%;
  padding: 5px 8px;
  border: 1px solid var(--line);
  background: var(--snow);
  margin-bottom: 4px;
}
.who .name {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.who .small {
  grid-column: 1 / -1;
}
.who.on {
  border-color: var(--ink);
  box-shadow: inset 3px 0 0 var(--ink);
}
.who.done {
  background: none;
}
.policy {
  margin-top: 14px;
  border-top: 1px solid var(--line);
  padding-top: 10px;
}
.policy label {
  display: block;
  margin: 6px 0;
  font-size: 13px;
}
.pane {
  flex: 1;
  min-width: 0;
  background: var(--snow);
  border: 1px solid var(--ink);
  border-right: 0;
  border-bottom: 0;
  margin-top: 10px;
  padding: 12px 18px 18px;
  overflow-y: auto;
}
.head {
  display: flex;
  align-items: baseline;
  gap: 10px;
  margin-bottom: 8px;
}
.head h2 {
  font-size: 17px;
}
.wide {
  overflow-x: auto;
}
.hold {
  border-collapse: collapse;
  margin-top: 6px;
}
.hold th {
  font-weight: 400;
  color: var(--ink2);
  text-align: left;
  padding: 6px 8px;
  white-space: nowrap;
  font-size: 13px;
  vertical-align: bottom;
}
.hold td {
  padding: 6px 8px;
  border-top: 1px solid var(--drift);
  min-width: 78px;
  max-width: 150px;
  vertical-align: top;
  overflow-wrap: anywhere;
}
.hold td:nth-child(2) {
  min-width: 132px;
}
.hold tbody th {
  border-top: 1px solid var(--drift);
  vertical-align: top;
  white-space: nowrap;
}
.hold thead th {
  border-bottom: 1px solid var(--ink);
  color: var(--ink);
}
.hold .on {
  background: var(--row-on);
  box-shadow:
    inset 2px 0 0 var(--fir),
    inset -2px 0 0 var(--fir);
}
.hold .diff {
  font-weight: 600;
}
.hold .diff:not(.on) {
  background: var(--ask-soft);
}
.score {
  display: inline-block;
  width: 40px;
  height: 8px;
  background: var(--drift);
  vertical-align: 1px;
}
.score i {
  display: block;
  height: 100%;
  background: var(--fir);
}
.hold .btn kbd {
  margin-left: 5px;
}
.hold .btn {
  padding: 3px 7px;
}
.act {
  display: flex;
  gap: 8px;
  margin-top: 14px;
  align-items: center;
  flex-wrap: wrap;
}
</style>
