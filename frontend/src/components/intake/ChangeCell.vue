<script setup lang="ts">
import type { TableColumn } from '@/components/VirtualTable.vue'
import type { FamilyDetail, Field, Value } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import type { Changed } from '@/composables/useChanges'
import { actWord } from '@/logic/changes'
import { show } from '@/logic/words'

/** One cell of the list of whom a kind of change concerns. */
defineProps<{
  row: Changed
  column: TableColumn
  kind: string
  detail: FamilyDetail | null
  field: Field | undefined
  /** The fields by which those who join are told. */
  telling: Field[]
  may: boolean
}>()
const emit = defineEmits<{ tick: [] }>()
const catalog = useCatalog()
const label = (value: Value, of: Field | undefined) =>
  typeof value === 'string' && of?.code_list
    ? catalog.label(of.code_list, value) || value
    : show(value, of?.type)
</script>

<template>
  <input
    v-if="column.key === 'tick' && kind === 'absent'"
    type="checkbox"
    :checked="row.act !== 'stay'"
    :disabled="!may || (row.act === 'stay' && detail?.act === 'stay')"
    :aria-label="`Do it to ${row.name}`"
    @click.stop
    @change="emit('tick')"
  />
  <input
    v-else-if="column.key === 'tick'"
    type="checkbox"
    checked
    :disabled="!may"
    :aria-label="`Change ${field?.title} of ${row.name}`"
    @click.stop
    @change="emit('tick')"
  />
  <template v-else-if="column.key === 'act'">{{ actWord(row, detail) }}</template>
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
    ><span class="was">{{ label(row.old, field) || 'empty' }}</span
    ><span class="arrow">→</span
    ><b class="will" :class="{ bad: !label(row.new, field) }">{{
      label(row.new, field) || 'empty'
    }}</b></template
  >
</template>
