<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import RunCards from '@/components/cards/RunCards.vue'
import { listRuns } from '@/api/cards'
import type { CardDesign, CardRunRow } from '@/api/types'
import { useCards } from '@/composables/useCards'
import { count, moment } from '@/logic/words'

defineProps<{ design: CardDesign }>()
const cards = useCards()
const route = useRoute()
const router = useRouter()
const runs = ref<CardRunRow[] | null>(null)
const problem = ref('')
const now = new Date()
const chosen = computed(
  () => runs.value?.find((one) => String(one.run) === route.query.run) ?? runs.value?.[0] ?? null,
)
const open = (run: CardRunRow) => void router.replace({ query: { run: run.run } })

async function load(): Promise<void> {
  try {
    runs.value = await listRuns(cards.name)
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}
watch(() => cards.turn.value, load, { immediate: true })
</script>

<template>
  <div class="page">
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <template v-if="runs?.length">
      <div class="runs no-print">
        <table class="list">
          <thead>
            <tr>
              <th>Run</th>
              <th>Made</th>
              <th class="n">Cards</th>
              <th class="n">Handed over</th>
              <th>Sheets</th>
            </tr>
          </thead>
          <tbody>
            <tr
              v-for="run in runs"
              :key="run.run"
              class="click"
              :class="{ chosen: run.run === chosen?.run, gone: run.undone }"
              @click="open(run)"
            >
              <td>
                <button class="link" :aria-pressed="run.run === chosen?.run">{{ run.run }}</button>
              </td>
              <td>{{ moment(run.at, now) }}, {{ run.by || 'the product' }}</td>
              <td class="n">{{ count(run.cards) }}</td>
              <td class="n">{{ run.undone ? '–' : count(run.handed) }}</td>
              <td>
                {{ run.undone ? 'taken back' : run.printed_at ? 'given out' : 'not given out yet' }}
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <RunCards v-if="chosen" :key="chosen.run" :design="design" :run="chosen.run" />
    </template>
    <div v-else-if="runs" class="empty">
      <h2>No cards were made yet</h2>
      <p>Cards that are made together are one run: their sheets, and who has got theirs.</p>
    </div>
    <p v-else-if="!problem" class="soft" role="status">Opening the runs …</p>
  </div>
</template>

<style scoped>
.page {
  flex: 1;
  display: flex;
  min-height: 0;
  background: var(--snow);
}
.page > p {
  padding: 12px 16px;
}
.runs {
  width: 420px;
  flex: none;
  overflow-y: auto;
  padding: 10px 8px 10px 16px;
  border-right: 1px solid var(--line);
}
tr.chosen td {
  background: var(--row-on);
}
tr.chosen td:first-child {
  box-shadow: inset 3px 0 0 var(--ink);
}
tr.gone td {
  color: var(--ink2);
}
</style>
