<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import WentGets from './WentGets.vue'
import { traceRecord } from '@/api/passing'
import type { PassedRow, Went } from '@/api/types'
import { usePassing } from '@/composables/usePassing'
import { standsIn } from '@/logic/passing'
import { moment } from '@/logic/words'

/** Where a record has gone, and what the destination gets of it. */
const props = defineProps<{ row: PassedRow; destination: string }>()
const passing = usePassing()
const found = ref<Went[] | null>(null)
const problem = ref('')
const now = new Date()
const here = computed(() => found.value?.find((one) => one.destination === props.destination))

const mark = (one: Went) =>
  ({ 'in step': 'full', refused: 'bad', held: 'open', 'not theirs': 'none' })[
    one.place as string
  ] ?? 'open'
function when(one: Went): string {
  if (one.place === 'not theirs') return 'not concerned'
  if (one.place !== 'in step') return standsIn(one.place)?.word ?? one.place
  return one.at ? moment(one.at, now) : 'in step'
}

async function load(): Promise<void> {
  try {
    found.value = await traceRecord(props.row.record)
    problem.value = ''
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}
watch([() => props.row.record, () => passing.turn.value], load, { immediate: true })
</script>

<template>
  <aside :aria-label="row.name || row.key">
    <b class="who">{{ row.name || row.key }}</b>
    <p class="soft">
      <RouterLink :to="`/rosters/${row.roster}?record=${row.record}`" class="mono">{{
        row.key
      }}</RouterLink>
      · where the record has gone
    </p>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <template v-if="found && here">
      <h3>{{ here.receipt && here.because ? `Because of ${here.because}` : 'Where it stands' }}</h3>
      <p v-for="one in found" :key="one.destination" class="line">
        <span><i class="mark" :class="mark(one)" />{{ one.title }}</span
        ><span class="soft">{{ when(one) }}</span>
      </p>
      <WentGets :went="here" />
    </template>
    <p v-else-if="!problem" class="soft" role="status">Looking where it has gone …</p>
  </aside>
</template>

<style scoped src="./went.css"></style>
<style scoped>
aside {
  width: 300px;
  flex: none;
  padding: 14px 16px;
  border-left: 1px solid var(--line);
  background: var(--snow);
  overflow-y: auto;
  font-size: 13.5px;
}
.who {
  font-size: 16px;
}
.mark {
  display: inline-block;
  width: 9px;
  height: 9px;
  margin-right: 7px;
  border: 2px solid var(--fir);
  border-radius: 50%;
}
.mark.full {
  background: var(--fir);
}
.mark.open {
  border-color: var(--waiting);
}
.mark.bad {
  border-color: var(--stopped);
  background: var(--stopped);
  border-radius: 0;
}
.mark.none {
  border-color: var(--ink3);
  border-style: dotted;
}
</style>
