<script setup lang="ts">
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import AbsentBar from '@/components/intake/AbsentBar.vue'
import FamilyList from '@/components/intake/FamilyList.vue'
import MoveMatrix from '@/components/intake/MoveMatrix.vue'
import ReasonDialog from '@/components/ReasonDialog.vue'
import VirtualTable, { type TableColumn } from '@/components/VirtualTable.vue'
import { getChanges, getFamily, getRows } from '@/api/intakes'
import type { ChangedPerson, Changes, FamilyDetail, Move, Row, Step, Value } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { useIntake } from '@/composables/useIntake'
import { PREPARE } from '@/composables/useSession'
import { useKeys } from '@/composables/useKeys'
import { usePages } from '@/composables/usePages'
import { count, counted, show } from '@/logic/words'

type Person = ChangedPerson & { values?: Row['values'] }

const route = useRoute()
const router = useRouter()
const catalog = useCatalog()
const open = useIntake()
const { id, intake, revision } = open
const changes = shallowRef<Changes | null>(null)
const moves = shallowRef<Move[]>([])
const detail = shallowRef<FamilyDetail | null>(null)
const problem = ref('')
const selected = ref(0)
const key = computed(() => {
  const known = changes.value?.families.filter((one) => one.count) ?? []
  return (
    known.find((one) => one.key === route.query.family)?.key ??
    String(route.query.family ?? known[0]?.key ?? 'join')
  )
})
const family = computed(() => changes.value?.families.find((one) => one.key === key.value))
const field = computed(() => catalog.field(intake.value?.roster ?? '', key.value))
const isField = computed(() => !!field.value)
/**
 * Of those who join, the fields that say who they are: the required and the coded ones that are no
 * names.
 */
const telling = computed(
  () =>
    catalog
      .roster(intake.value?.roster ?? '')
      ?.fields.filter(
        (one) =>
          !one.is_key &&
          !one.means.endsWith('-name') &&
          !one.several &&
          (one.required || one.code_list),
      )
      .slice(0, 5) ?? [],
)
const pages = usePages<Person>(async (start, limit) => {
  if (key.value === 'join') {
    detail.value = null
    const joining = await getRows(id, {
      start,
      limit,
      outcome: 'new',
      cause: '',
      q: '',
      ready: true,
      fields: telling.value.map((one) => one.name).join(','),
    })
    return {
      total: joining.total,
      rows: joining.rows.map((one) => ({ ...one, old: null, new: null, act: '' })),
    }
  }
  const found = await getFamily(id, key.value, start, limit)
  if (start === 0) {
    moves.value = found.moves
    detail.value = found
  }
  return { total: found.total, rows: found.people }
})
/**
 * Memberships that end because another takes their place; what is shown of them is their last day.
 */
const isBeside = computed(() => key.value === 'beside')
const columns = computed<TableColumn[]>(() => [
  ...(isField.value || key.value === 'absent' ? [{ key: 'tick', title: '', width: '46px' }] : []),
  ...(key.value === 'absent' || isBeside.value
    ? []
    : [{ key: 'line', title: 'line', width: '60px', mono: true, right: true }]),
  {
    key: 'key',
    title:
      catalog.roster(intake.value?.roster ?? '')?.fields.find((one) => one.is_key)?.title ?? 'Key',
    width: '120px',
    mono: true,
  },
  { key: 'name', title: 'Name', width: 'minmax(180px, 1fr)' },
  ...(key.value === 'join'
    ? telling.value.map((one) => ({
        key: one.name,
        title: one.title,
        width: 'minmax(110px, 1fr)',
        mono: one.mono,
      }))
    : []),
  ...(isField.value || isBeside.value
    ? [{ key: 'change', title: field.value?.title ?? 'Ends', width: 'minmax(280px, 2fr)' }]
    : []),
  ...(key.value === 'absent'
    ? [{ key: 'act', title: 'What becomes of them', width: 'minmax(200px, 1fr)' }]
    : []),
])
const said = computed(() => {
  if (key.value === 'join' && intake.value?.membership)
    return `${counted(pages.total.value, 'membership begins', 'memberships begin')}`
  if (key.value === 'join')
    return `${counted(pages.total.value, 'person joins', 'people join')} ${intake.value?.roster_title}`
  if (key.value === 'absent')
    return `${counted(pages.total.value, 'record is', 'records are')} not in the file`
  if (isBeside.value)
    return `${counted(pages.total.value, 'membership ends', 'memberships end')}, because another takes the place`
  return `${field.value?.title ?? key.value}: ${counted(pages.total.value, 'record changes', 'records change')}`
})
const under = computed(() => {
  if (key.value === 'absent')
    return intake.value?.coverage !== 'listed'
      ? 'Nothing is done to them unless you say so. Whoever leaves keeps the record’s life, and can be taken back.'
      : 'The file claims only the people in it, so nobody counts as absent.'
  const kept = family.value?.kept_blank ?? 0
  if (kept && !family.value?.taken_away)
    return (
      `${counted(kept, 'row has', 'rows have')} nothing here, and the roster’s value stays ` +
      `for ${kept === 1 ? 'this person' : 'these people'}.`
    )
  return family.value?.taken_away
    ? `${counted(family.value.taken_away, 'value is', 'values are')} taken away, the others change`
    : ''
})
/** What becomes of the field's value, in words that fit numbers and several values. */
const RULES: Record<string, [string, string]> = {
  filled: ['take the file’s value where it has one', 'make it these where the file has any'],
  file: [
    'take the file’s value, an empty cell empties',
    'make it exactly these, an empty cell empties',
  ],
  ours: ['keep the roster’s', 'keep the roster’s'],
  blanks: ['fill blanks only', 'fill blanks only'],
  add: ['add the file’s number', 'add these'],
  remove: ['subtract the file’s number', 'remove these'],
}
const ruleWord = (rule: string) => RULES[rule]?.[field.value?.several ? 1 : 0] ?? rule
const may = computed(() => (intake.value?.level ?? 0) >= PREPARE && !open.working.value)
const setRule = (event: Event) =>
  void open.add({
    kind: 'update',
    field: key.value,
    rule: (event.target as HTMLSelectElement).value,
  })
/**
 * Tick one person out: the roster's value stays for them; of the absent, nothing is done to them,
 * or what is done to all.
 */
function tick(person: Person | undefined): void {
  if (!person || !may.value) return
  if (isField.value && person.line)
    void open.add({ kind: 'update', field: key.value, rule: 'ours', lines: [person.line] })
  else if (key.value === 'absent' && person.record)
    void open.add(actOf(person.record, person.act === 'stay'))
  else if (key.value === 'join' && person.line) leaving.value = person
}
function actOf(record: number, takesPart: boolean): Step {
  const said = detail.value
  if (!takesPart || !said || said.act === 'stay')
    return { kind: 'absent', act: 'stay', records: [record] }
  return {
    kind: 'absent',
    act: said.act,
    field: said.end_field,
    day: said.end_day,
    reason: said.act === 'hold' ? 'as the others' : '',
    records: [record],
  }
}
/** Tick somebody out who would join: the row is left out, with a reason. */
const leaving = shallowRef<Person | null>(null)
function leaveOut(reason: string): void {
  const line = leaving.value?.line
  leaving.value = null
  if (line) void open.add({ kind: 'leave_out', lines: [line], reason })
}
const ACT_WORDS: Record<string, string> = {
  stay: 'stays as it is',
  end: 'ends',
  leave: 'leaves the roster',
  hold: 'held for a look',
}
const actWord = (person: Person) =>
  person.act === 'end' && detail.value
    ? `ends ${show(detail.value.end_day)}`
    : (ACT_WORDS[person.act] ?? '')
const tickIn = () =>
  void open.add({ kind: 'update', field: key.value, rule: detail.value?.rule ?? 'filled' })
const label = (value: Value, of = field.value) =>
  typeof value === 'string' && of?.code_list
    ? catalog.label(of.code_list, value) || value
    : show(value, of?.type)

async function load(): Promise<void> {
  try {
    changes.value = await getChanges(id)
    detail.value = null
    if (field.value?.code_list) await catalog.loadList(field.value.code_list)
    selected.value = 0
    await pages.restart()
    problem.value = ''
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}

const choose = (wanted: string) => void router.replace({ query: { family: wanted } })
function move(by: number): void {
  const keys = changes.value?.families.filter((one) => one.count).map((one) => one.key) ?? []
  const next = keys[Math.max(0, Math.min(keys.length - 1, keys.indexOf(key.value) + by))]
  if (next) choose(next)
}
const step = (by: number) =>
  (selected.value = Math.max(0, Math.min(pages.total.value - 1, selected.value + by)))
function openRow(): void {
  const person = pages.at(selected.value)
  if (person?.line)
    void router.push({ path: `/intakes/${id}/problems`, query: { line: person.line } })
  else if (person?.record)
    void router.push({ path: `/rosters/${intake.value?.roster}`, query: { record: person.record } })
}

useKeys({
  ArrowDown: () => step(1),
  ArrowUp: () => step(-1),
  ']': () => move(1),
  '[': () => move(-1),
  '.': () => move(1),
  ',': () => move(-1),
  Enter: openRow,
  x: () => tick(pages.at(selected.value)),
})
watch([revision, key], () => void load())
onMounted(() => void load())
</script>

<template>
  <div class="cols">
    <FamilyList :changes="changes" :selected="key" :tally="intake?.tally" @choose="choose" />
    <section class="detail" aria-label="The changes of one kind">
      <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
      <h2>
        {{ said }} <span v-if="moves.length" class="soft">from the row’s to the column’s</span>
      </h2>
      <p v-if="under" :class="family?.taken_away && isField ? 'flag stop' : 'soft'">{{ under }}</p>
      <div v-if="isField && detail?.rules.length" class="rule">
        <label
          >What becomes of it
          <select class="box" :value="detail.rule" :disabled="!may" @change="setRule">
            <option v-for="one in detail.rules" :key="one" :value="one">{{ ruleWord(one) }}</option>
          </select></label
        >
        <button
          v-if="family?.kept_blank"
          class="btn"
          :disabled="!may"
          title="Shown here first, with from whom; nothing happens before it is applied"
          @click="open.add({ kind: 'update', field: key, rule: 'file' })"
        >
          Empty it for {{ counted(family.kept_blank, 'person', 'people') }}
        </button>
        <span v-if="detail.before !== null && detail.after !== null" class="soft"
          >sum {{ count(Number(detail.before)) }} → <b>{{ count(Number(detail.after)) }}</b></span
        >
        <span v-if="detail.kept" class="soft"
          >{{ counted(detail.kept, 'person keeps', 'people keep') }} the roster’s value ·
          <button class="link" :disabled="!may" @click="tickIn">tick them in again</button></span
        >
      </div>
      <div v-if="key === 'absent' && intake?.unusual" class="flag">
        <b>{{ intake.unusual.said }}</b> {{ intake.unusual.reason }}
        <button
          v-if="intake.unusual.part"
          class="btn"
          :disabled="!may"
          @click="open.add({ kind: 'coverage', of: 'part', when: intake.unusual.part })"
        >
          {{ intake.unusual.part_said }}
        </button>
      </div>
      <AbsentBar
        v-if="key === 'absent' && intake && detail?.total"
        :intake="intake"
        :detail="detail"
        :fields="catalog.roster(intake.roster)?.fields ?? []"
        :may="may"
        @step="open.add"
      />
      <MoveMatrix v-if="moves.length && field" :moves="moves" :list="field.code_list" />
      <VirtualTable
        v-if="pages.total.value"
        :label="said"
        :columns="columns"
        :pages="pages"
        :selected="selected"
        class="people"
        @choose="(index) => (selected = index)"
        @open="openRow"
      >
        <template #cell="{ row, column }">
          <input
            v-if="column.key === 'tick' && key === 'absent'"
            type="checkbox"
            :checked="row.act !== 'stay'"
            :disabled="!may || (row.act === 'stay' && detail?.act === 'stay')"
            :aria-label="`Do it to ${row.name}`"
            @click.stop
            @change="tick(row)"
          />
          <input
            v-else-if="column.key === 'tick'"
            type="checkbox"
            checked
            :disabled="!may"
            :aria-label="`Change ${field?.title} of ${row.name}`"
            @click.stop
            @change="tick(row)"
          />
          <template v-else-if="column.key === 'act'">{{ actWord(row) }}</template>
          <span v-else-if="column.key === 'line'" class="soft">{{ row.line ?? '' }}</span>
          <template v-else-if="column.key === 'key'">{{ row.key }}</template>
          <template v-else-if="column.key === 'name'">{{ row.name }}</template>
          <template v-else-if="row.values">{{
            label(
              row.values[column.key] ?? null,
              telling.find((one) => one.name === column.key),
            )
          }}</template>
          <template v-else
            ><span class="was">{{ label(row.old) || 'empty' }}</span
            ><span class="arrow">→</span
            ><b class="will" :class="{ bad: !label(row.new) }">{{
              label(row.new) || 'empty'
            }}</b></template
          >
        </template>
      </VirtualTable>
      <p v-else-if="!pages.loading.value && changes" class="empty">Nothing of this kind.</p>
      <p v-if="pages.total.value" class="keys soft">
        <kbd>Enter</kbd> open the row
        <template v-if="isField"><kbd>X</kbd> keep the roster’s for this person </template
        ><template v-else-if="key === 'absent'"><kbd>X</kbd> not this person </template
        ><template v-else-if="!isBeside"><kbd>X</kbd> leave this person out </template><kbd>[</kbd>
        <kbd>]</kbd> previous, next kind of change
      </p>
    </section>
    <ReasonDialog
      :open="!!leaving"
      :title="`Leave ${leaving?.name} out`"
      said="The row does not go in now; it stays with the intake, with its reason, and can be taken back in."
      act="Leave it out"
      :usual="['joins later', 'is no member']"
      @done="leaveOut"
      @close="leaving = null"
    />
  </div>
</template>

<style scoped>
.cols {
  flex: 1;
  display: flex;
  min-height: 0;
}
.detail {
  flex: 1;
  min-width: 0;
  background: var(--snow);
  border-left: 1px solid var(--ink);
  padding: 12px 16px 8px;
  display: flex;
  flex-direction: column;
  gap: 8px;
}
h2 .soft {
  font-size: 13.5px;
  font-weight: 400;
  margin-left: 8px;
}
.rule {
  display: flex;
  gap: 18px;
  align-items: center;
  flex-wrap: wrap;
  font-size: 13.5px;
}
.people {
  margin: 2px -16px 0;
}
.keys {
  font-size: 13px;
}
</style>
