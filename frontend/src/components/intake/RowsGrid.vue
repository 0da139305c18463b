<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import KeyCap from '@/components/controls/KeyCap.vue'
import FieldEditor from './FieldEditor.vue'
import RowCell from './RowCell.vue'
import VirtualTable, { type TableColumn } from '@/components/VirtualTable.vue'
import type { Cause, Roster, Row } from '@/api/types'
import type { UseCells } from '@/composables/useCells'
import type { UsePages } from '@/composables/usePages'
import { WORDS } from '@/logic/layers'
import { focusSoon } from '@/logic/focus'
import { counted, listed } from '@/logic/words'

const props = defineProps<{
  pages: UsePages<Row>
  cause: Cause | undefined
  outcome: string
  fields: string[]
  roster: Roster | undefined
  selected: number
  cells: UseCells
}>()
const emit = defineEmits<{ choose: [index: number, extending: boolean]; edit: [] }>()
const text = defineModel<string>('text', { required: true })

const field = (name: string) => props.roster?.fields.find((one) => one.name === name)
const key = computed(() => props.roster?.fields.find((one) => one.is_key))
const front = computed(() => props.fields.filter((name) => !field(name)?.is_key || props.cause))
const folded = computed(() => (props.roster?.fields.length ?? 0) - front.value.length)
const columns = computed<TableColumn[]>(() => {
  const made: TableColumn[] = [
    { key: 'line', title: 'line', width: '52px', mono: true, right: true },
  ]
  if (!front.value.includes(key.value?.name ?? ''))
    made.push({ key: 'key', title: key.value?.title ?? 'Key', width: '108px', mono: true })
  made.push({ key: 'name', title: 'Name', width: 'minmax(150px, 1fr)' })
  if (props.outcome === 'all' || (!props.cause && !props.outcome))
    made.push({ key: 'outcome', title: 'outcome', width: '78px' })
  if (!props.cause && !GOING_IN.includes(props.outcome))
    made.push({ key: 'why', title: 'why', width: 'minmax(300px, 3fr)' })
  made.push(
    ...front.value.map((name) => ({
      key: name,
      title: field(name)?.title ?? name,
      width: 'minmax(150px, 1fr)',
      mono: field(name)?.mono,
    })),
  )
  return made
})
const title = computed(() => {
  const rows = counted(props.pages.total.value, 'row')
  if (props.outcome === 'approved') return `${rows} approved with a reason`
  return props.outcome && props.outcome !== 'all'
    ? `${rows} ${WORDS[props.outcome as Row['outcome']] ?? ''}`
    : rows
})
const editor = ref<InstanceType<typeof FieldEditor>>()
const isActive = (index: number, name: string) =>
  name === props.cells.field.value &&
  index >= props.cells.first.value &&
  index <= props.cells.last.value

function pick(index: number, name: string, event: MouseEvent): void {
  const place = props.fields.indexOf(name)
  if (place >= 0) props.cells.go(place - props.cells.column.value)
  emit('choose', index, event.shiftKey)
}

watch(
  () => props.cells.editing.value,
  (now) => now && focusSoon(() => editor.value),
)
const GOING_IN = ['new', 'same', 'changed']
const why = (row: Row) =>
  row.findings
    .filter((one) => one.weight !== 'note')
    .map((one) => one.message)
    .join(' ')
</script>

<template>
  <section class="grid" aria-label="Rows">
    <div class="bar">
      <b>{{ title }}</b>
      <span v-if="cause" class="chip"
        >{{ listed(front.map((name) => field(name)?.title ?? name)) || 'All fields' }} in
        front</span
      >
      <span v-if="cause" class="chip" :title="`The other ${folded} fields stand at the right`"
        >+ {{ folded }}</span
      >
      <input
        v-else
        v-model.lazy="text"
        class="box"
        placeholder="with the text …"
        aria-label="Only rows with the text"
      />
      <span class="grow" />
      <template v-if="cause && cause.weight !== 'note' && !cause.whole"
        ><span class="key"><KeyCap of="Enter" /> accept</span></template
      >
      <span class="key"><KeyCap of="F2" /> cell</span><span class="key"><KeyCap of="E" /> row</span
      ><span class="key"><KeyCap of="H" /> hold</span>
      <span v-if="cause?.weight === 'ask'" class="key"><KeyCap of="W" /> approve</span>
    </div>
    <div v-if="!pages.total.value && !pages.loading.value" class="empty">
      <p v-if="pages.problem.value" class="bad">{{ pages.problem.value }}</p>
      <p v-else-if="cause?.whole">
        {{ cause.title }}: no single row of the file is the reason. Settle it at the left.
      </p>
      <p v-else-if="outcome">No row is {{ WORDS[outcome as Row['outcome']] ?? 'like that' }}.</p>
      <p v-else>Every problem is settled. Next: look at what would change.</p>
    </div>
    <VirtualTable
      v-else
      label="Rows"
      :columns="columns"
      :pages="pages"
      :selected="selected"
      :active="cells.field.value"
      @choose="(index) => emit('choose', index, false)"
      @open="emit('edit')"
    >
      <template #cell="{ row, column, index }">
        <span v-if="column.key === 'line'" class="soft">{{ row.line }}</span>
        <template v-else-if="column.key === 'key'">{{ row.key }}</template>
        <template v-else-if="column.key === 'name'">{{ row.name }}</template>
        <span v-else-if="column.key === 'outcome'" class="soft">{{ WORDS[row.outcome] }}</span>
        <span v-else-if="column.key === 'why'" :title="why(row)">{{ why(row) }}</span>
        <FieldEditor
          v-else-if="
            cells.editing.value &&
            index === selected &&
            column.key === cells.field.value &&
            field(column.key)
          "
          ref="editor"
          :model-value="cells.draft.value"
          class="in-cell"
          :field="field(column.key)!"
          @update:model-value="cells.write"
          @done="cells.done()"
          @leave="cells.leave()"
          @click.stop
          @dblclick.stop
        />
        <span
          v-else
          class="cell"
          :class="{ active: isActive(index, column.key) }"
          @click.stop="pick(index, column.key, $event)"
          ><RowCell
            :row="row"
            :field="field(column.key)"
            :name="column.key"
            :cause="cause?.id ?? ''"
        /></span>
      </template>
    </VirtualTable>
  </section>
</template>

<style scoped>
.grid {
  flex: 1;
  min-width: 0;
  background: var(--snow);
  border: 1px solid var(--ink);
  border-bottom: 0;
  margin-top: 10px;
  display: flex;
  flex-direction: column;
  position: relative;
  z-index: 1;
}
.bar {
  height: 40px;
  flex: none;
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 0 10px;
  border-bottom: 1px solid var(--line);
  white-space: nowrap;
  overflow: hidden;
}
.chip {
  background: var(--shade);
  padding: 1px 8px;
  font-size: 12.5px;
  color: var(--ink2);
  overflow: hidden;
  text-overflow: ellipsis;
}
.key {
  color: var(--ink2);
  font-size: 12.5px;
}
.box {
  width: 150px;
}
.cell {
  display: block;
  margin: 0 -8px;
  padding: 0 8px;
  overflow: hidden;
  text-overflow: ellipsis;
}
.cell.active {
  box-shadow: inset 0 0 0 1.5px var(--fir);
}
.in-cell {
  margin: 0 -8px;
}
@media (width < 1180px) {
  .chip {
    display: none;
  }
}
</style>
