<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { message } from 'ant-design-vue'
import CauseList from '@/components/intake/CauseList.vue'
import CodeDialog from '@/components/intake/CodeDialog.vue'
import RecordPanel from '@/components/intake/RecordPanel.vue'
import ReplaceDialog from '@/components/intake/ReplaceDialog.vue'
import ReasonDialog from '@/components/ReasonDialog.vue'
import RowsGrid from '@/components/intake/RowsGrid.vue'
import ValueDialog from '@/components/intake/ValueDialog.vue'
import type { Cause, Remedy, Step } from '@/api/types'
import { postReplace } from '@/api/intakes'
import { useBench } from '@/composables/useBench'
import { useCells } from '@/composables/useCells'
import { useCatalog } from '@/composables/useCatalog'
import { useIntake } from '@/composables/useIntake'
import { useKeys } from '@/composables/useKeys'
import { PREPARE } from '@/composables/useSession'
import { counted } from '@/logic/words'

type Reasoned = 'hold' | 'leave_out' | 'waive'
interface Asked {
  kind: Reasoned
  cause: Cause | null
  lines: number[] | null
  rows: number
}

const USUAL = {
  hold: ['asked the office', 'letter due'],
  leave_out: ['withdrew', 'not ours'],
  waive: ['agreed with the office', 'boarding agreed'],
}
const TITLES: Record<Reasoned, string> = { hold: 'Hold', leave_out: 'Leave out', waive: 'Approve' }
const SAID: Record<Reasoned, string> = {
  hold: 'Held rows stay on the desk with the reason until somebody takes them back in.',
  leave_out: 'Rows left out do not go into the roster; the file’s line keeps the reason.',
  waive: 'The reason is kept with each row.',
}
const LASTS =
  'For these people it is not asked again as long as the value is the same; it is listed among ' +
  'the waivers of the roster, and can be withdrawn there.'

const open = useIntake()
const catalog = useCatalog()
const router = useRouter()
const roster = computed(() => catalog.roster(open.intake.value?.roster ?? ''))
const usual = () =>
  roster.value?.fields
    .filter((one) => !one.is_key && !one.several && (one.code_list || (one.required && !one.means)))
    .slice(0, 3)
    .map((one) => one.name) ?? []
const bench = useBench(usual)
const { pages, cause, outcome, text, selected, row, detail } = bench
const asked = ref<Asked | null>(null)
const setting = ref<Cause | null>(null)
const adding = ref<Cause | null>(null)
const panel = ref<InstanceType<typeof RecordPanel>>()
const mayWork = computed(
  () => (open.intake.value?.level ?? 0) >= PREPARE && !open.intake.value?.thrown,
)
const locked = computed(() => !mayWork.value || open.working.value)
/** A row that went in is history: its person is altered in the roster. */
const isPast = computed(() => !!detail.value?.is_in)
const cells = useCells({
  fields: bench.fields,
  selected,
  at: (index) => pages.at(index),
  locked,
  add: (one) => open.add(one),
  say: (text) => void message.info(text, 3),
})
const heading = computed(() => {
  const one = asked.value
  if (!one) return ''
  if (one.kind === 'waive' && one.cause?.whole) return `Approve: ${one.cause.title}`
  return `${TITLES[one.kind]} ${counted(one.rows, 'row')}`
})
const replacing = ref(false)
const cellField = computed(() => roster.value?.fields.find((one) => one.name === cells.field.value))

function moveRow(by: number, extending: boolean): void {
  cells.hold(extending)
  bench.moveRow(by)
}

/** The remedies of the open cause by number, as they stand on it. */
function byNumber(number: number): void {
  const of = cause.value
  const remedy = of?.remedies[number - 1]
  if (of && remedy) void settle(of, remedy)
}

async function replaceAll(asked: {
  find: string
  put: string
  whole: boolean
  cause: string
}): Promise<void> {
  replacing.value = false
  try {
    const done = await postReplace(open.id, { field: cells.field.value, ...asked })
    void message.info(
      done.cells
        ? `Replaced in ${counted(done.cells, 'cell')}; Z takes it back`
        : 'No cell has it.',
    )
    await open.refresh()
  } catch (error) {
    void message.error(error instanceof Error ? error.message : String(error), 6)
  }
}

function ask(kind: Reasoned, of: Cause | null, lines: number[] | null, rows: number): void {
  if (!locked.value && rows) asked.value = { kind, cause: of, lines, rows }
}

async function askRow(kind: Reasoned): Promise<void> {
  await bench.ready()
  if (kind === 'waive' && cause.value?.whole) return ask('waive', cause.value, null, 1)
  if (!row.value || isPast.value) return
  const waived =
    kind === 'waive'
      ? open.causes.value.find(
          (one) =>
            one.weight === 'ask' &&
            row.value?.findings.some((two) => two.cause === one.id && !two.waived),
        )
      : null
  if (kind === 'waive' && !waived) void message.info('Nothing in this row needs your approval.')
  else ask(kind, waived ?? null, [row.value.line], 1)
}

async function answer(reason: string, until: string): Promise<void> {
  const one = asked.value
  asked.value = null
  if (!one) return
  if (one.cause)
    await open.settle({ cause: one.cause.id, kind: one.kind, reason, until, lines: one.lines })
  else await open.add({ kind: one.kind, lines: one.lines ?? [], reason })
}

async function settle(of: Cause, remedy: Remedy): Promise<void> {
  if (locked.value) return
  if (remedy.kind === 'hold' || remedy.kind === 'leave_out' || remedy.kind === 'waive')
    ask(remedy.kind, of, null, of.whole ? of.near || 1 : of.rows)
  else if (remedy.kind === 'hold_line') ask('hold', of, [Number(remedy.value)], 1)
  else if (remedy.kind === 'edit') await editLine(of, Number(remedy.value))
  else if (remedy.kind === 'reading') void router.push(`/intakes/${open.id}/file`)
  else if (remedy.kind === 'set') setting.value = of
  else await open.settle({ cause: of.id, kind: remedy.kind, value: remedy.value })
}

/** Open a row of the cause in full, to type another value into the cause's field. */
async function editLine(of: Cause, line: number): Promise<void> {
  bench.openCause(of.id)
  await bench.ready()
  for (let index = 0; index < pages.total.value; index++)
    if (pages.at(index)?.line === line) selected.value = index
  await bench.ready()
  panel.value?.edit(of.field ?? '')
}

/**
 * Accept what is proposed for the open row; where its own value is not certain, open the editor.
 */
async function accept(): Promise<void> {
  await bench.ready()
  const finding =
    row.value?.findings.find((one) => one.cause === cause.value?.id) ??
    row.value?.findings.find((one) => one.weight === 'stop')
  if (locked.value || !row.value || !finding?.field) return
  if (finding.suggestions.length === 1)
    await step({
      kind: 'set',
      cells: [{ line: row.value.line, field: finding.field, value: finding.suggestions[0] }],
    })
  else panel.value?.edit()
}

async function added(): Promise<void> {
  adding.value = null
  await open.refresh()
}

const step = (one: Step) => open.add(one)
async function setAll(value: string): Promise<void> {
  const of = setting.value
  setting.value = null
  if (of) await open.settle({ cause: of.id, kind: 'set', value })
}

useKeys({
  '.': () => bench.moveCause(1),
  ',': () => bench.moveCause(-1),
  ArrowDown: (event) => moveRow(1, event.shiftKey),
  ArrowUp: (event) => moveRow(-1, event.shiftKey),
  ArrowRight: () => cells.go(1),
  ArrowLeft: () => cells.go(-1),
  F2: () => cells.edit(),
  r: () => void (replacing.value = !locked.value && !!cells.field.value),
  1: () => byNumber(1),
  2: () => byNumber(2),
  3: () => byNumber(3),
  4: () => byNumber(4),
  5: () => byNumber(5),
  6: () => byNumber(6),
  PageDown: () => bench.moveRow(20),
  PageUp: () => bench.moveRow(-20),
  Enter: () => void accept(),
  e: () => void bench.ready().then(() => panel.value?.edit()),
  h: () => void askRow('hold'),
  l: () => void askRow('leave_out'),
  w: () => void askRow('waive'),
})
onMounted(() => void bench.start())
</script>

<template>
  <div class="cols">
    <CauseList
      :causes="open.causes.value"
      :selected="cause?.id ?? ''"
      :locked="locked"
      @choose="bench.openCause"
      @settle="settle"
      @add="(of) => (adding = of)"
    />
    <RowsGrid
      v-model:text="text"
      :pages="pages"
      :cause="cause"
      :outcome="outcome"
      :fields="bench.fields.value"
      :roster="roster"
      :selected="selected"
      :cells="cells"
      @choose="
        (index, extending) => {
          cells.hold(extending)
          selected = index
        }
      "
      @edit="cells.edit()"
    />
    <ReplaceDialog
      :open="replacing"
      :field="cellField"
      :cause="cause"
      @done="replaceAll"
      @close="replacing = false"
    />
    <RecordPanel
      v-if="detail && roster"
      ref="panel"
      :key="detail.line"
      :detail="detail"
      :roster="roster"
      :front="bench.fields.value"
      :locked="locked || isPast"
      @step="step"
      @hold="askRow('hold')"
      @leave="askRow('leave_out')"
      @waive="askRow('waive')"
    />
    <aside v-else class="nobody soft">
      {{
        cause?.whole && !cause.near
          ? 'This is about the file as a whole, not about single rows.'
          : 'A row that is chosen is shown here in full.'
      }}
    </aside>
  </div>
  <ReasonDialog
    :open="!!asked"
    :title="heading"
    :said="
      !asked
        ? ''
        : asked.kind === 'waive' && asked.cause?.ends === 'again'
          ? LASTS
          : SAID[asked.kind]
    "
    :act="heading"
    :usual="asked ? USUAL[asked.kind] : []"
    :only="asked?.kind === 'waive' ? asked.cause?.reasons : []"
    :ends="asked?.kind === 'waive' ? asked.cause?.ends : ''"
    @done="answer"
    @close="asked = null"
  />
  <CodeDialog
    :cause="adding"
    :field="roster?.fields.find((one) => one.name === adding?.field)"
    @done="added"
    @close="added"
  />
  <ValueDialog
    v-if="roster"
    :cause="setting"
    :field="roster.fields.find((one) => one.name === setting?.field)"
    @done="setAll"
    @close="setting = null"
  />
</template>

<style scoped>
.cols {
  flex: 1;
  display: flex;
  min-height: 0;
}
.nobody {
  width: 286px;
  flex: none;
  background: var(--snow);
  border-left: 1px solid var(--line);
  padding: 14px;
}
@media (min-width: 1600px) {
  .nobody {
    width: 420px;
  }
}
</style>
