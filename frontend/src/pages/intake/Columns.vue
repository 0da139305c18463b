<script setup lang="ts">
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { Modal, message } from 'ant-design-vue'
import ColumnStrip from '@/components/intake/ColumnStrip.vue'
import ComposeDialog from '@/components/intake/ComposeDialog.vue'
import UnfilledStrip from '@/components/intake/UnfilledStrip.vue'
import { getColumns } from '@/api/intakes'
import type { Column, Columns, Pattern, Step, Unfilled } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { useIntake } from '@/composables/useIntake'
import { useKeys } from '@/composables/useKeys'
import { PREPARE } from '@/composables/useSession'
import { counted, day, listed } from '@/logic/words'

const { id, intake, revision, working, add } = useIntake()
const catalog = useCatalog()
const found = shallowRef<Columns | null>(null)
const problem = ref('')
const open = ref('')
const composing = shallowRef<Unfilled | null>(null)
const fields = computed(() => catalog.roster(intake.value?.roster ?? '')?.fields ?? [])
const headings = computed(
  () => found.value?.columns.filter((one) => !one.secret).map((one) => one.heading) ?? [],
)
const locked = computed(() => (intake.value?.level ?? 0) < PREPARE || working.value)

async function load(): Promise<void> {
  try {
    found.value = await getColumns(id)
    problem.value = ''
    // The first column that waits for somebody stands open, once.
    const waits = found.value.columns.find(
      (one) => (one.field && !one.certain) || one.translations.some((two) => two.how === 'wrong'),
    )
    if (!open.value) open.value = waits?.heading ?? ' '
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}

/** Columns that were guessed whole: one click says that all of them are right. */
const unsure = computed(
  () =>
    found.value?.columns.filter(
      (one) => one.field && !one.certain && !one.parts.length && !one.beside,
    ) ?? [],
)

const confirmAll = () =>
  add({
    kind: 'pairs',
    pairs: unsure.value.map((one) => ({ heading: one.heading, field: one.field })),
  })

const titleOf = (name: string) => fields.value.find((one) => one.name === name)?.title ?? name
/**
 * Columns that somebody has sent to a field, for which another one is wanted now: whose it is has
 * to be said.
 */
const asked = shallowRef<{ step: Step; title: string; heading: string; others: string[] } | null>(
  null,
)
function holders(heading: string, names: string[]): string[] {
  const taken = (one: Column) =>
    [one.field, ...one.parts].some((name) => name && names.includes(name))
  return (
    found.value?.columns
      .filter((one) => one.by_hand && one.heading !== heading && taken(one))
      .map((one) => one.heading) ?? []
  )
}
function pair(heading: string, field: string | null): void {
  void step({ kind: 'pair', heading, field })
}

/**
 * Say where a column goes; nothing that a hand chose is moved unasked, and what else is moved is
 * said.
 */
async function step(one: Step): Promise<void> {
  const heading = String(one.heading ?? '')
  const names =
    one.kind === 'split'
      ? (one.into as string[])
      : one.kind === 'pair' && one.field
        ? [String(one.field)]
        : []
  const others = one.instead || one.beside ? [] : holders(heading, names)
  if (others.length) {
    asked.value = { step: one, title: names.map(titleOf).join(' and '), heading, others }
    return
  }
  const before = new Map(found.value?.columns.map((column) => [column.heading, column.field]))
  if (!(await add(one)) || !names.length) return
  await load()
  const moved =
    found.value?.columns.filter(
      (column) => column.heading !== heading && before.get(column.heading) !== column.field,
    ) ?? []
  const said = moved.map(
    (column) =>
      `“${column.heading}” ${column.field ? `goes to ${titleOf(column.field)} now` : 'stays in the file now'}`,
  )
  if (said.length) void message.info(`${said.join('; ')}. Z takes it back.`, 8)
}
function decided(more: Record<string, unknown>): void {
  const one = asked.value?.step
  asked.value = null
  if (one) void step({ ...one, ...more })
}

async function compose(pattern: Pattern): Promise<void> {
  const field = composing.value?.field
  composing.value = null
  if (field) await add({ kind: 'compose', field, pattern })
}

function move(by: number): void {
  const headings = found.value?.columns.map((one) => one.heading) ?? []
  open.value =
    headings[Math.max(0, Math.min(headings.length - 1, headings.indexOf(open.value) + by))] ?? ''
}

useKeys({
  ArrowDown: () => move(1),
  ArrowUp: () => move(-1),
  '.': () => move(1),
  ',': () => move(-1),
})
watch(revision, () => void load())
onMounted(() => void load())
</script>

<template>
  <div class="page">
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <template v-if="found">
      <p v-if="unsure.length > 1" class="unsure">
        <b>{{ counted(unsure.length, 'column') }} not certain.</b> What they were taken for is
        marked below.
        <button class="btn fir" :disabled="locked" @click="confirmAll">They are all right</button>
      </p>
      <p v-if="intake?.learnt && intake.recipe_step" class="learnt">
        Read as learnt from {{ intake.source }} on {{ day(intake.learnt) }}.
        <button
          class="btn"
          :disabled="locked"
          @click="add({ kind: 'undo', step: intake.recipe_step })"
        >
          Forget what was learnt
        </button>
      </p>
      <div class="strip names">
        <span /><span>heading in the file</span><span>what stands under it</span><span /><span
          >goes to</span
        ><span>why, and how it is read</span>
      </div>
      <ColumnStrip
        v-for="column in found.columns"
        :key="column.heading"
        :column="column"
        :fields="fields"
        :rows="intake?.tally.read ?? 0"
        :open="open === column.heading"
        :locked="locked"
        @toggle="open = open === column.heading ? ' ' : column.heading"
        @step="step"
        @pair="pair"
      />
      <h3>Fields that no column fills</h3>
      <p v-if="!found.unfilled.length" class="soft">
        None: every field of the roster has a column.
      </p>
      <UnfilledStrip
        v-for="one in found.unfilled"
        :key="one.field"
        :unfilled="one"
        :field="fields.find((two) => two.name === one.field)"
        :locked="locked"
        @step="add"
        @compose="composing = one"
      />
      <Modal
        destroy-on-close
        :open="!!asked"
        :title="`${asked?.title} has a column already`"
        :footer="null"
        :width="480"
        @cancel="asked = null"
      >
        <p>
          {{ listed((asked?.others ?? []).map((one) => `“${one}”`)) }}
          {{ (asked?.others.length ?? 0) > 1 ? 'were' : 'was' }} sent there by hand.
        </p>
        <p class="do">
          <button
            v-if="asked?.step.kind === 'pair'"
            class="btn fir"
            @click="decided({ beside: true })"
          >
            Both go there, one after the other
          </button>
          <button class="btn" @click="decided({ instead: true })">
            “{{ asked?.heading }}” in its place
          </button>
          <button class="btn" @click="asked = null">Leave it as it is</button>
        </p>
      </Modal>
      <ComposeDialog
        :intake="id"
        :unfilled="composing"
        :fields="fields"
        :headings="headings"
        @done="compose"
        @close="composing = null"
      />
    </template>
    <p v-else-if="!problem" class="soft" role="status">Looking at the columns …</p>
  </div>
</template>

<style scoped>
.page {
  flex: 1;
  min-height: 0;
  overflow: auto;
  padding: 8px 14px 24px;
}
h3 {
  font-weight: 400;
  color: var(--ink2);
  margin: 16px 0 6px;
}
.learnt {
  display: flex;
  gap: 10px;
  align-items: center;
  justify-content: flex-end;
  font-size: 13px;
  color: var(--ink2);
}
.do {
  display: flex;
  gap: 8px;
  flex-wrap: wrap;
  margin-top: 12px;
}
.unsure {
  display: flex;
  gap: 10px;
  align-items: center;
  padding: 2px 0 8px;
}
.strip.names {
  display: grid;
  grid-template-columns: 26px 150px 200px 30px 172px 1fr;
  gap: 0 0;
  color: var(--ink2);
  font-size: 13px;
  line-height: 28px;
  border-bottom: 1px solid var(--line);
  position: sticky;
  top: -8px;
  background: var(--shade);
  z-index: 2;
}
</style>
