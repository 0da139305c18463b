<script setup lang="ts">
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import ColumnStrip from '@/components/intake/ColumnStrip.vue'
import ComposeDialog from '@/components/intake/ComposeDialog.vue'
import UnfilledStrip from '@/components/intake/UnfilledStrip.vue'
import { getColumns } from '@/api/intakes'
import type { Columns, Pattern, Unfilled } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { useIntake } from '@/composables/useIntake'
import { useKeys } from '@/composables/useKeys'
import { PREPARE } from '@/composables/useSession'
import { counted, day } from '@/logic/words'

const { id, intake, revision, working, add } = useIntake()
const catalog = useCatalog()
const found = shallowRef<Columns | null>(null)
const problem = ref('')
const open = ref('')
const composing = shallowRef<Unfilled | null>(null)
const fields = computed(() => catalog.roster(intake.value?.roster ?? '')?.fields ?? [])
const locked = computed(() => (intake.value?.level ?? 0) < PREPARE || working.value)

async function load(): Promise<void> {
  try {
    found.value = await getColumns(id)
    problem.value = ''
    // The first column that waits for somebody stands open, once.
    const waits = found.value.columns.find((one) => (one.field && !one.certain) || one.translations.some((two) => two.how === 'wrong'))
    if (!open.value) open.value = waits?.heading ?? ' '
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}

/** Columns that were guessed whole: one click says that all of them are right. */
const unsure = computed(() => found.value?.columns.filter((one) => one.field && !one.certain && !one.parts.length && !one.beside) ?? [])

const confirmAll = () => add({ kind: 'pairs', pairs: unsure.value.map((one) => ({ heading: one.heading, field: one.field })) })

async function compose(pattern: Pattern): Promise<void> {
  const field = composing.value?.field
  composing.value = null
  if (field) await add({ kind: 'compose', field, pattern })
}

function move(by: number): void {
  const headings = found.value?.columns.map((one) => one.heading) ?? []
  open.value = headings[Math.max(0, Math.min(headings.length - 1, headings.indexOf(open.value) + by))] ?? ''
}

useKeys({ ArrowDown: () => move(1), ArrowUp: () => move(-1), '.': () => move(1), ',': () => move(-1) })
watch(revision, () => void load())
onMounted(() => void load())
</script>

<template>
  <div class="page">
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <template v-if="found">
      <p v-if="unsure.length > 1" class="unsure">
        <b>{{ counted(unsure.length, 'column') }} not certain.</b> What they were taken for is marked below.
        <button class="btn fir" :disabled="locked" @click="confirmAll">They are all right</button>
      </p>
      <p v-if="intake?.learnt && intake.recipe_step" class="learnt">
        Read as learnt from {{ intake.source }} on {{ day(intake.learnt) }}.
        <button class="btn" :disabled="locked" @click="add({ kind: 'undo', step: intake.recipe_step })">Forget what was learnt</button>
      </p>
      <div class="strip names"><span /><span>heading in the file</span><span>what stands under it</span><span /><span>goes to</span><span>why, and how it is read</span></div>
      <ColumnStrip
        v-for="column in found.columns" :key="column.heading" :column="column" :fields="fields" :rows="intake?.tally.read ?? 0" :open="open === column.heading" :locked="locked"
        @toggle="open = open === column.heading ? ' ' : column.heading" @step="add"
      />
      <h3>Fields that no column fills</h3>
      <p v-if="!found.unfilled.length" class="soft">None: every field of the roster has a column.</p>
      <UnfilledStrip v-for="one in found.unfilled" :key="one.field" :unfilled="one" :field="fields.find((two) => two.name === one.field)" :locked="locked" @step="add" @compose="composing = one" />
      <ComposeDialog :intake="id" :unfilled="composing" :fields="fields" @done="compose" @close="composing = null" />
    </template>
    <p v-else-if="!problem" class="soft" role="status">Looking at the columns …</p>
  </div>
</template>

<style scoped>
.page { flex: 1; min-height: 0; overflow: auto; padding: 8px 14px 24px; }
h3 { font-weight: 400; color: var(--ink2); margin: 16px 0 6px; }
.learnt { display: flex; gap: 10px; align-items: center; justify-content: flex-end; font-size: 13px; color: var(--ink2); }
.unsure { display: flex; gap: 10px; align-items: center; padding: 2px 0 8px; }
.strip.names { display: grid; grid-template-columns: 26px 150px 200px 30px 172px 1fr; gap: 0 0; color: var(--ink2); font-size: 13px; line-height: 28px; border-bottom: 1px solid var(--line); position: sticky; top: -8px; background: var(--shade); z-index: 2; }
</style>
