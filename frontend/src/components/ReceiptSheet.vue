<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import LineFinder from './LineFinder.vue'
import ReceiptLines from './ReceiptLines.vue'
import { keepShortlist } from '@/api/shortlists'
import type { ChangeSet, Intake, Outcome } from '@/api/types'
import { PREPARE } from '@/composables/useSession'
import { count, counted, momentInFull } from '@/logic/words'

const props = defineProps<{ receipt: ChangeSet; intake: Intake | null }>()
const opened = ref<Outcome | null>(null)
const tally = computed(() => props.receipt.tally)
const found = computed(
  () =>
    ({ ...props.receipt.found, same: props.receipt.rows.same ?? tally.value?.same ?? 0 }) as Record<
      string,
      number
    >,
)
const fields = computed(() =>
  Object.values(props.receipt.fields).reduce((sum, one) => sum + one, 0),
)
const taken = computed(() =>
  Object.entries(props.receipt.taken_away).map(
    ([title, n]) => `${title} taken away from ${counted(n, 'person', 'people')}`,
  ),
)
const isIn = computed(() =>
  tally.value ? tally.value.new + tally.value.changed + tally.value.same : 0,
)
const sum = computed(() => Object.values(props.receipt.rows).reduce((total, one) => total + one, 0))
const ended = computed(() => props.receipt.absent.end ?? 0)
const lines = computed(() => [
  {
    key: 'new',
    word: 'joined',
    planned: tally.value?.new ?? props.receipt.planned.joined ?? 0,
    back: found.value.joined ?? 0,
    said: '',
  },
  {
    key: 'changed',
    word: 'changed',
    planned: tally.value?.changed ?? props.receipt.planned.changed ?? 0,
    back: (found.value.changed ?? 0) - ended.value,
    said: [fields.value ? counted(fields.value, 'field') : '', ...taken.value]
      .filter(Boolean)
      .join('; '),
  },
  ...(props.receipt.kind === 'intake'
    ? [
        {
          key: 'same',
          word: 'same already',
          planned: tally.value?.same ?? 0,
          back: found.value.same ?? 0,
          said: '',
        },
      ]
    : []),
  ...(ended.value
    ? [
        {
          key: 'ended',
          word: 'absent, end day set',
          planned: ended.value,
          back: ended.value,
          said: '',
        },
      ]
    : []),
  ...(props.receipt.found.left
    ? [
        {
          key: 'left',
          word: 'left',
          planned: props.receipt.planned.left ?? 0,
          back: props.receipt.found.left,
          said: '',
        },
      ]
    : []),
])
const outside = computed(() =>
  (['stopped', 'waiting', 'held', 'left_out'] as const).map((key) => ({
    key,
    word: key === 'left_out' ? 'left out' : key,
    n: props.receipt.rows[key] ?? 0,
  })),
)
const opens = (key: string): Outcome | null =>
  props.receipt.kind === 'intake' && !['left', 'ended'].includes(key) ? (key as Outcome) : null
const print = () => window.print()

/** Of a receipt of taking back, what became of whom. */
const BACK = [
  ['returned', 'Returned to the roster'],
  ['left', 'Left it again'],
  ['values', 'Have their earlier values back'],
] as const
const FEW = 12
/** Of what became of many, which are named beyond the first few. */
const told = ref<string[]>([])
const named = (word: string) =>
  (props.receipt.who[word] ?? []).slice(0, told.value.includes(word) ? undefined : FEW)
const router = useRouter()
const problem = ref('')
const joined = computed(() => props.receipt.rows.new ?? 0)
const mayKeep = computed(
  () =>
    !!props.intake && props.intake.level >= PREPARE && joined.value > 0 && !props.receipt.undone_by,
)
async function keep(): Promise<void> {
  problem.value = ''
  try {
    const made = await keepShortlist(props.intake!.roster, {
      title: `New with receipt ${props.receipt.id}`,
      change_set: props.receipt.id,
      outcome: 'new',
    })
    await router.push(`/rosters/${props.intake!.roster}?shortlist=${made.id}`)
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}
</script>

<template>
  <div class="sheet">
    <div class="left">
      <h2 v-if="receipt.kind === 'intake' && tally">
        {{ count(isIn) }} of {{ counted(tally.read, 'row') }}
        {{ tally.read === 1 ? 'is' : 'are' }} in the roster
      </h2>
      <h2 v-else>{{ receipt.kind === 'undo' ? `Taken back: ${receipt.title}` : receipt.title }}</h2>
      <p class="soft">
        <template v-if="receipt.kind === 'intake'">{{ receipt.title }} · </template>Receipt
        {{ receipt.id }} · {{ momentInFull(receipt.at)
        }}{{ receipt.by ? ` by ${receipt.by}` : '' }} · read back from the database after
        {{ receipt.kind === 'undo' ? 'taking back' : 'applying' }}, line by line
      </p>
      <p v-if="receipt.looked_at != null" class="soft">
        The roster moved on {{ counted(receipt.version - 1 - receipt.looked_at, 'time') }} between
        looking at these changes and applying them: they were worked out again, and did the same to
        the same records.
      </p>
      <p v-if="receipt.part_of" class="flag">
        Only a part of
        <RouterLink :to="`/receipts/${receipt.part_of}`">receipt {{ receipt.part_of }}</RouterLink>
        was taken back<template v-if="receipt.undone.kept"
          >; {{ counted(receipt.undone.kept, 'record keeps', 'records keep') }} what was changed
          again later</template
        >.
      </p>
      <p v-if="receipt.undone_by" class="flag">
        This was taken back; see
        <RouterLink :to="`/receipts/${receipt.undone_by}`"
          >receipt {{ receipt.undone_by }}</RouterLink
        >.
      </p>
      <table>
        <thead>
          <tr>
            <th>outcome</th>
            <th class="n">planned</th>
            <th class="n">read back</th>
            <th />
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in lines" :key="one.key">
            <td>{{ one.word }}</td>
            <td class="n">
              <b>{{ count(one.planned) }}</b>
            </td>
            <td class="n">
              <button
                v-if="intake && one.back && opens(one.key)"
                class="link"
                :title="`Show who ${one.word}`"
                @click="opened = opens(one.key)"
              >
                {{ count(one.back) }}</button><b v-else>{{ count(one.back) }}</b>
            </td>
            <td>
              <span v-if="one.planned === one.back" class="ok">✓</span
              ><b v-else class="bad">differs</b> <span class="soft">{{ one.said }}</span>
            </td>
          </tr>
          <template v-if="receipt.kind === 'intake' && tally">
            <tr class="total">
              <td>in the roster</td>
              <td class="n">{{ count(isIn) }}</td>
              <td class="n">
                {{ count((found.joined ?? 0) + (found.changed ?? 0) - ended + (found.same ?? 0)) }}
              </td>
              <td class="ok">✓</td>
            </tr>
            <tr v-for="one in outside" :key="one.key">
              <td>{{ one.word }}</td>
              <td class="n">
                <b>{{ count(one.n) }}</b>
              </td>
              <td class="n">
                <button
                  v-if="intake && one.n"
                  class="link"
                  :title="`Show what was ${one.word}`"
                  @click="opened = one.key"
                >
                  {{ count(one.n) }}</button><b v-else>{{ count(one.n) }}</b>
              </td>
              <td>
                <span v-if="one.n" class="soft">stay with the intake, with their reasons</span>
              </td>
            </tr>
            <tr class="total">
              <td>rows read</td>
              <td class="n">{{ count(tally.read) }}</td>
              <td class="n">{{ count(sum) }}</td>
              <td :class="sum === tally.read ? 'ok' : 'bad'">
                {{ sum === tally.read ? 'adds up' : 'does not add up' }}
              </td>
            </tr>
          </template>
        </tbody>
      </table>
      <template v-for="[word, title] in BACK" :key="word">
        <p v-if="receipt.who[word]?.length" class="who">
          <b>{{ title }}:</b>
          <template v-for="(one, place) in named(word)" :key="one.record"
            >{{ place ? '; ' : ' '
            }}<RouterLink :to="`/rosters/${receipt.roster}?record=${one.record}`">{{
              one.name || one.key
            }}</RouterLink></template
          ><template v-if="(receipt.undone[word] ?? 0) > named(word).length">
            and {{ count((receipt.undone[word] ?? 0) - named(word).length) }} more
            <button
              v-if="named(word).length < receipt.who[word]!.length"
              class="link no-print"
              @click="told = [...told, word]"
            >
              name {{ count(receipt.who[word]!.length) }}
            </button></template
          >
        </p>
      </template>
      <p class="do no-print">
        <button class="btn" @click="print">Print</button>
        <button v-if="mayKeep" class="btn" @click="keep">
          Keep the {{ count(joined) }} who joined as a shortlist
        </button>
        <RouterLink
          v-if="!receipt.undone_by && receipt.kind !== 'opening'"
          class="btn fir"
          :to="`/receipts/${receipt.id}/undo`"
          >Take back …</RouterLink
        >
      </p>
      <p v-if="problem" class="flag stop no-print" role="alert">{{ problem }}</p>
      <ReceiptLines
        v-if="opened && intake"
        :receipt="receipt.id"
        :intake="intake.id"
        :roster="intake.roster"
        :outcome="opened"
        @close="opened = null"
      />
    </div>
    <div v-if="intake" class="right no-print">
      <LineFinder :intake="intake.id" :roster="intake.roster" />
      <h3>How it came about</h3>
      <ol class="log">
        <li>
          <i />File dropped <span class="soft">{{ momentInFull(intake.at) }} {{ intake.by }}</span>
        </li>
        <li
          v-for="step in intake.log"
          :key="step.number"
          :class="{ undone: step.undone, last: step.kind === 'applied' }"
        >
          <i />{{ step.label }}
          <span class="soft">{{ momentInFull(step.at).split(', ')[1] }} {{ step.by }}</span>
        </li>
      </ol>
    </div>
  </div>
</template>

<style scoped>
.who {
  margin-top: 8px;
  max-width: 760px;
}
.sheet {
  background: var(--snow);
  border: 1px solid var(--ink);
  border-width: 1px 0 0 1px;
  min-height: 100%;
  padding: 20px 26px;
  display: flex;
  gap: 34px;
}
.left {
  flex: 1;
  min-width: 0;
}
.right {
  width: 330px;
  flex: none;
}
h2 {
  font-size: 19px;
  line-height: 26px;
}
.flag {
  margin-top: 10px;
}
table {
  border-collapse: collapse;
  width: 100%;
  margin-top: 14px;
}
th {
  font-weight: 400;
  color: var(--ink2);
  text-align: left;
  font-size: 13.5px;
}
th,
td {
  height: 34px;
  border-bottom: 1px solid var(--drift);
  padding: 0 10px 0 0;
}
.n {
  text-align: right;
  width: 110px;
}
td.n {
  font-size: 15px;
}
.total td {
  font-weight: 600;
  border-top: 1px solid var(--ink);
  border-bottom: 2px solid var(--ink);
}
.ok {
  color: var(--fir);
  font-weight: 600;
}
.do {
  display: flex;
  gap: 8px;
  margin-top: 18px;
}
h3 {
  margin: 20px 0 8px;
}
.log {
  list-style: none;
  margin: 0;
  padding: 0;
  border-left: 2px solid var(--line);
}
.log li {
  position: relative;
  padding: 3px 0 3px 14px;
  overflow-wrap: anywhere;
}
.log i {
  position: absolute;
  left: -6px;
  top: 8px;
  width: 10px;
  height: 10px;
  border-radius: 50%;
  border: 2px solid var(--ink3);
  background: var(--snow);
}
.log .last {
  font-weight: 600;
}
.log .last i {
  background: var(--fir);
  border-color: var(--fir);
}
.log .last .soft {
  font-weight: 400;
}
.log .undone {
  text-decoration: line-through;
  color: var(--ink2);
}
.log .soft {
  font-size: 12.5px;
}
@media print {
  .sheet {
    border: 0;
  }
}
</style>
