<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'
import KeyCap from '@/components/controls/KeyCap.vue'
import DayField from '@/components/controls/DayField.vue'
import VirtualTable, { type TableColumn } from '@/components/VirtualTable.vue'
import ReadingSentence from '@/components/intake/ReadingSentence.vue'
import SourceLine from '@/components/intake/SourceLine.vue'
import { getLines } from '@/api/intakes'
import type { Line, Step } from '@/api/types'
import { useIntake } from '@/composables/useIntake'
import { useKeys } from '@/composables/useKeys'
import { usePages } from '@/composables/usePages'
import { PREPARE } from '@/composables/useSession'
import { counted } from '@/logic/words'

const KINDS: Record<string, string> = {
  note: 'note',
  blank: 'blank',
  header: 'header',
  total: 'total',
  example: 'example',
  end: 'end mark',
}
const { id, intake, revision, working, add, setDue } = useIntake()
const headings = ref<string[]>([])
const selected = ref(-1)
const pages = usePages<Line>(async (start, limit) => {
  const found = await getLines(id, start, limit)
  headings.value = found.headings
  return { total: found.total, rows: found.lines }
})
const columns = computed<TableColumn[]>(() => [
  { key: 'line', title: 'line', width: '52px', mono: true, right: true },
  { key: 'kind', title: 'taken for', width: '86px' },
  ...headings.value.map((heading, place) => ({
    key: String(place),
    title: heading,
    width: place < 3 ? '150px' : '130px',
  })),
])
const chosen = computed(() => (selected.value >= 0 ? pages.at(selected.value) : undefined))
const mayWork = computed(() => (intake.value?.level ?? 0) >= PREPARE)

/** A note is one text over all columns; it is written into the first. */
const cell = (row: Line, key: string) =>
  key === 'line' ? String(row.line) : (row.cells[Number(key)] ?? '')

async function both(one: Step, then?: Step): Promise<void> {
  if ((await add(one)) && then) await add(then)
}
async function makeHeader(): Promise<void> {
  if (chosen.value && mayWork.value) await add({ kind: 'reading', header_line: chosen.value.line })
}

function move(by: number): void {
  selected.value = Math.max(0, Math.min(pages.total.value - 1, selected.value + by))
}

useKeys({ ArrowDown: () => move(1), ArrowUp: () => move(-1), Enter: () => void makeHeader() })
watch(revision, () => void pages.restart())
onMounted(() => void pages.restart())
</script>

<template>
  <div v-if="intake" class="page">
    <ReadingSentence :intake="intake" :locked="!mayWork || working" @step="both" />
    <SourceLine
      :intake="intake"
      :locked="!mayWork || working"
      @step="add"
      @forget="add({ kind: 'undo', step: intake.recipe_step })"
    />
    <ul v-if="intake.reading.remarks.length || intake.reading.why" class="remarks">
      <li v-if="intake.reading.why">
        Line {{ intake.reading.header_line }} is taken for the header: {{ intake.reading.why }}.
      </li>
      <li v-for="remark in intake.reading.remarks" :key="remark">{{ remark }}</li>
    </ul>
    <div class="bar">
      <b>The file’s own lines</b>
      <span class="soft"
        >{{ counted(intake.tally.read, 'row') }} of data,
        {{ counted(intake.not_data, 'line that is', 'lines that are') }} not data</span
      >
      <span class="grow" />
      <label class="due"
        >To be in the roster by
        <DayField
          :model-value="intake.due ?? ''"
          label="The day by which it has to be in the roster"
          :disabled="!mayWork || working"
          @update:model-value="(day) => setDue(day || null)"
      /></label>
      <template v-if="chosen && mayWork">
        <span class="soft">line {{ chosen.line }}</span>
        <button class="btn" :disabled="chosen.kind === 'header' || working" @click="makeHeader">
          Take it for the header <KeyCap of="Enter" />
        </button>
      </template>
    </div>
    <VirtualTable
      label="The file’s own lines"
      :columns="columns"
      :pages="pages"
      :selected="selected"
      @choose="(index) => (selected = index)"
    >
      <template #cell="{ row, column }">
        <span v-if="column.key === 'line'" class="soft">{{ row.line }}</span>
        <span v-else-if="column.key === 'kind'" :class="KINDS[row.kind] ? 'not-data' : 'soft'">{{
          KINDS[row.kind] ?? 'row'
        }}</span>
        <b v-else-if="row.kind === 'header'">{{ cell(row, column.key) }}</b>
        <i v-else-if="KINDS[row.kind]" class="soft" :class="{ spread: column.key === '0' }">{{
          cell(row, column.key)
        }}</i>
        <template v-else>{{ cell(row, column.key) }}</template>
      </template>
    </VirtualTable>
  </div>
</template>

<style scoped>
.page {
  flex: 1;
  min-height: 0;
  display: flex;
  flex-direction: column;
  padding: 14px 0 0 14px;
}
.remarks {
  margin: 10px 16px 0 0;
  font-size: 13px;
  color: var(--ink2);
}
.remarks li {
  padding-left: 12px;
  position: relative;
}
.remarks li::before {
  content: '·';
  position: absolute;
  left: 2px;
}
.bar {
  display: flex;
  gap: 10px;
  align-items: center;
  margin-top: 14px;
  padding: 0 16px 0 10px;
  height: 40px;
  background: var(--snow);
  border: 1px solid var(--ink);
  border-width: 1px 0 0 1px;
}
.due {
  display: inline-flex;
  gap: 8px;
  align-items: center;
  color: var(--ink2);
}
.table {
  border-left: 1px solid var(--ink);
}
.not-data {
  background: var(--drift);
  padding: 1px 6px;
  font-size: 12.5px;
}
.spread {
  font-style: normal;
}
</style>
