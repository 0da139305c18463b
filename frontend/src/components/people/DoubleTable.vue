<script setup lang="ts">
import { computed } from 'vue'
import KeyCap from '@/components/controls/KeyCap.vue'
import type { Double, DoubleField, Roster, Value } from '@/api/types'
import EvidenceBar from '@/components/people/EvidenceBar.vue'
import { useCatalog } from '@/composables/useCatalog'
import { show } from '@/logic/words'

/** Two records side by side: which of them stays, and whose values the one record has then. */
const props = defineProps<{
  pair: Double
  roster: Roster | undefined
  /** Whether fields are shown in which nothing is to decide. */
  all: boolean
}>()
const stays = defineModel<number>('stays', { required: true })
/** The fields of which the other's value is taken. */
const taken = defineModel<Set<string>>('taken', { required: true })
const catalog = useCatalog()
const fields = computed(() =>
  props.pair.fields.filter((one) => props.all || !one.is_same || one.word),
)
const isSeveral = (one: DoubleField) =>
  props.roster?.fields.find((other) => other.name === one.field)?.several ?? false
const label = (one: DoubleField, value: Value) => {
  const field = props.roster?.fields.find((other) => other.name === one.field)
  return (
    (typeof value === 'string' && field?.code_list && catalog.label(field.code_list, value)) ||
    show(value, field?.type)
  )
}
/**
 * Whose value the merged record has: of several values both, of a value that only one has that
 * one's.
 */
function whose(one: DoubleField): 'both' | 0 | 1 {
  if (one.is_same || (isSeveral(one) && one.values.every((value) => value !== null))) return 'both'
  if (one.values[0] === null) return 1
  if (one.values[1] === null) return 0
  return taken.value.has(one.field) ? (stays.value === 0 ? 1 : 0) : stays.value === 0 ? 0 : 1
}
function takeFrom(one: DoubleField, side: number): void {
  if (whose(one) === 'both' || one.values[side] === null) return
  const next = new Set(taken.value)
  if (side === stays.value) next.delete(one.field)
  else next.add(one.field)
  taken.value = next
}
</script>

<template>
  <table>
    <thead>
      <tr>
        <th scope="col"><span class="unseen">field</span></th>
        <th v-for="side in [0, 1]" :key="side" scope="col" :class="{ on: side === stays }">
          <button class="plain top" :aria-pressed="side === stays" @click="stays = side">
            <KeyCap :of="side + 1" /> {{ side === stays ? 'stays' : 'leaves' }}
            <small class="mono">{{ pair.keys[side] }}</small>
          </button>
        </th>
        <th scope="col">agree</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="one in fields" :key="one.field" :class="{ same: one.is_same }">
        <th scope="row">{{ one.title }}</th>
        <td
          v-for="side in [0, 1]"
          :key="side"
          :class="{ kept: whose(one) === side || whose(one) === 'both' }"
        >
          <button
            v-if="!one.is_same && one.values[side] !== null"
            class="plain cell"
            :aria-pressed="whose(one) === side || whose(one) === 'both'"
            :aria-label="`Keep ${one.title} ${label(one, one.values[side] ?? null)}`"
            @click="takeFrom(one, side)"
          >
            {{ label(one, one.values[side] ?? null) }}
          </button>
          <template v-else
            >{{ label(one, one.values[side] ?? null)
            }}<span v-if="one.values[side] === null" class="soft">none</span></template
          >
        </td>
        <td>
          <span v-if="one.word" class="soft">{{ one.word }}</span>
          <EvidenceBar v-if="one.word" :bits="one.bits" />
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
table {
  border-collapse: collapse;
  width: 100%;
  table-layout: fixed;
}
th,
td {
  height: 30px;
  border-bottom: 1px solid var(--drift);
  text-align: left;
  padding: 2px 10px 2px 0;
  overflow-wrap: anywhere;
  font-weight: 400;
}
th:first-child {
  width: 150px;
  color: var(--ink2);
}
th:last-child,
td:last-child {
  width: 190px;
  position: relative;
}
th.on {
  font-weight: 600;
  border-bottom: 2px solid var(--fir);
}
.kept,
.kept .cell {
  font-weight: 600;
}
.same td {
  color: var(--ink2);
  font-weight: 400;
}
.cell {
  text-align: left;
}
</style>
