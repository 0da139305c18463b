<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import RunTable from './RunTable.vue'
import ScanBox from './ScanBox.vue'
import WorkBar from '@/components/WorkBar.vue'
import MoreMenu from '@/components/controls/MoreMenu.vue'
import { getRun, handOver, saveSheets } from '@/api/cards'
import type { CardDesign, CardMade, CardRun } from '@/api/types'
import { useCards } from '@/composables/useCards'
import { useWork } from '@/composables/useWork'
import { count } from '@/logic/words'

/** The cards of a run: their sheets, and who has got theirs, ticked or scanned. */
const props = defineProps<{ design: CardDesign; run: number }>()

const cards = useCards()
const found = ref<CardRun | null>(null)
const problem = ref('')
const laying = ref(false)
const { work, during } = useWork()
const rest = computed(() => found.value?.cards.filter((one) => !one.handed_at && one.state) ?? [])
const sheets = computed(() =>
  [
    ['A4', 'On A4, with cutting marks'],
    ['Letter', 'On US Letter, with cutting marks'],
    ['card', 'Card by card, for a card printer'],
  ].map(([paper, title]) => ({
    title: title!,
    act: () => void lay(paper!),
    disabled: laying.value,
  })),
)

async function load(): Promise<void> {
  try {
    found.value = await getRun(cards.name, props.run)
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}
async function lay(paper: string): Promise<void> {
  laying.value = true
  await cards.act(() => during((token) => saveSheets(cards.name, props.run, paper, token)))
  laying.value = false
}
async function hand(given: CardMade[], isOver: boolean): Promise<void> {
  const numbers = given.map((one) => one.card)
  await cards.act(() => handOver(cards.name, { cards: numbers, scanned: '', is_over: isOver }))
  await load()
}
watch(() => cards.turn.value, load, { immediate: true })
</script>

<template>
  <section class="run" :aria-label="`Run ${run}`">
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <template v-if="found">
      <div class="head">
        <div>
          <h2>Run {{ run }}</h2>
          <p class="soft">
            {{ count(found.cards.length) }} cards by version {{ found.run.version }} ·
            <RouterLink :to="`/receipts/${found.run.change_set}`">receipt</RouterLink> ·
            {{
              found.run.undone
                ? 'taken back: none of these is in use'
                : `${count(found.run.handed)} handed over`
            }}
          </p>
        </div>
        <span class="grow" />
        <div v-if="design.may_change && !found.run.undone" class="acts no-print">
          <ScanBox @done="load" />
          <button v-if="rest.length" class="btn" @click="hand(rest, true)">
            Hand over the other {{ count(rest.length) }}
          </button>
          <MoreMenu label="Sheets (PDF)" :items="sheets" />
        </div>
      </div>
      <WorkBar v-if="laying" class="no-print" :work="work" first="Laying the sheets" />
      <div class="scroll">
        <RunTable
          :cards="found.cards"
          :locked="!design.may_change || found.run.undone"
          @hand="(one) => hand([one], !one.handed_at)"
        />
      </div>
    </template>
    <p v-else-if="!problem" class="soft" role="status">Opening the run …</p>
  </section>
</template>

<style scoped>
.run {
  flex: 1;
  min-width: 0;
  display: flex;
  flex-direction: column;
  padding: 10px 16px 0;
}
.head {
  display: flex;
  gap: 8px;
  align-items: flex-start;
}
.acts {
  display: flex;
  flex: none;
  max-width: 100%;
  flex-wrap: wrap;
  gap: 8px;
  justify-content: flex-end;
}
.scroll {
  flex: 1;
  min-height: 0;
  overflow: auto;
  margin-top: 8px;
}
</style>
