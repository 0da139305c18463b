<script setup lang="ts">
import { computed } from 'vue'
import type { PassedRow } from '@/api/types'
import { partsOf, sayField } from '@/logic/passing'

/** What sending changes of one record: of who joins the fields alone, else from what to what. */
const props = defineProps<{ row: Pick<PassedRow, 'act' | 'moved'> }>()
const SHOWN = 3
const moves = computed(() =>
  props.row.moved.slice(0, SHOWN).map((move) => ({ name: sayField(move.what), ...partsOf(move) })),
)
const more = computed(() => Math.max(0, props.row.moved.length - SHOWN))
/** Of who joins the first field says enough of whom. */
const first = computed(() => {
  const [one, ...others] = props.row.moved
  if (!one) return ''
  const rest = others.length ? ` +${others.length}` : ''
  return `${one.after.join(', ')}${rest}`
})
</script>

<template>
  <span v-if="row.act === 'joins'" class="soft one-line" :title="`${row.moved.length} fields`">{{
    first
  }}</span><span v-else-if="row.act === 'ends'" class="soft">leaves</span
  ><template v-else>
    <span v-for="move in moves" :key="move.name" class="move"
      >{{ move.name }}
      <span v-if="move.was.length" class="was">{{ move.was.join(', ') }}</span><span
        v-if="move.was.length && move.will.length"
        class="arrow"
        >→</span
      ><span v-if="move.will.length" class="will">{{ move.will.join(', ') }}</span></span
    ><span v-if="more" class="soft">and {{ more }} more</span>
  </template>
</template>

<style scoped>
.move {
  margin-right: 10px;
}
</style>
