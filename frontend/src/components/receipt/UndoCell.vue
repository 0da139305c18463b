<script setup lang="ts">
import type { UndoPerson, Value } from '@/api/types'
import ChangeMark from '@/components/intake/ChangeMark.vue'
import type { TableColumn } from '@/components/VirtualTable.vue'
import { listed, show } from '@/logic/words'

/** One cell of the list of whom a receipt changed: what would be again, and what stays. */
defineProps<{
  row: UndoPerson
  column: TableColumn
  roster: string
  /** Whether this person stays as it is. */
  kept: boolean
  fixed: boolean
}>()
const emit = defineEmits<{ toggle: [] }>()
const label = (value: Value) => show(value) || 'empty'
</script>

<template>
  <input
    v-if="column.key === 'tick' && row.does"
    type="checkbox"
    :checked="!kept"
    :disabled="fixed"
    :aria-label="`Take ${row.name} back`"
    @click.stop
    @change="emit('toggle')"
  />
  <template v-else-if="column.key === 'key'">{{ row.key }}</template>
  <template v-else-if="column.key === 'name'"
    ><RouterLink :to="`/rosters/${roster}?record=${row.record}`" @click.stop>{{
      row.name
    }}</RouterLink></template
  >
  <template v-else-if="column.key === 'does'">
    <template v-if="row.does === 'leaves'"><ChangeMark kind="absent" /> leaves the roster</template>
    <template v-else-if="row.does === 'returns'"
      ><ChangeMark kind="join" /> returns as it was</template
    >
    <template v-for="move in row.moves" :key="move.field"
      ><span class="soft">{{ move.title }}</span>
      <span class="was">{{ label(move.now) }}</span><span class="arrow">→</span
      ><b class="will">{{ label(move.then) }}</b
      >&ensp;</template
    >
    <span v-if="row.rests.length" class="rests"
      ><b>stays</b>: {{ row.rests[0] ? listed(row.rests) : 'the whole record'
      }}<template v-if="row.later.length"
        >, changed by
        <RouterLink
          v-for="one in row.later.slice(-1)"
          :key="one.change_set"
          :to="`/receipts/${one.change_set}`"
          @click.stop
          >{{ one.title }}</RouterLink
        ></template
      ></span
    >
  </template>
</template>

<style scoped>
.rests {
  color: var(--ink2);
}
</style>
