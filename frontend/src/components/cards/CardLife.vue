<script setup lang="ts">
import { Modal } from 'ant-design-vue'
import { ref } from 'vue'
import { handOver, markCard } from '@/api/cards'
import type { CardPerson } from '@/api/types'
import { useCards } from '@/composables/useCards'
import { day, moment } from '@/logic/words'

type Held = CardPerson['cards'][number]
type What = 'lost' | 'spoiled' | 'returned'

/** The cards that the register has of somebody, the last first, and what may become of them. */
defineProps<{ held: Held[]; mayChange: boolean }>()

const SAID: Record<What, string> = {
  lost: 'It is out of use at once, and its holder needs one anew.',
  spoiled: 'It is out of use at once, and is made anew with another number.',
  returned: 'It is out of use at once.',
}
const TITLES: Record<What, string> = { lost: 'Lost', spoiled: 'Spoiled', returned: 'Given back' }
const cards = useCards()
const asked = ref<{ card: Held; what: What } | null>(null)
const name = (card: Held) => (card.facility ? `${card.facility}·${card.number}` : card.number)

async function mark(): Promise<void> {
  const { card, what } = asked.value!
  asked.value = null
  await cards.act(() => markCard(cards.name, card.card, what))
}
const hand = (card: Held) =>
  cards.act(() =>
    handOver(cards.name, { cards: [card.card], scanned: '', is_over: !card.handed_at }),
  )
</script>

<template>
  <h3>Cards</h3>
  <p v-if="!held.length" class="soft">None yet.</p>
  <div v-for="card in [...held].reverse()" :key="card.card" class="card">
    <p>
      <b class="mono">{{ name(card) }}</b>
      <span :class="card.is_good ? 'good' : 'bad'">{{
        card.is_good ? 'in use' : card.state || 'out of use'
      }}</span>
      <span v-if="card.until" class="soft">until {{ day(card.until) }}</span>
    </p>
    <p v-if="card.bits" class="soft small">
      a reader sends <span class="mono bits">{{ card.bits }}</span>
    </p>
    <p class="soft small">
      <template v-if="card.run">
        <RouterLink :to="`/cards/${cards.name}/runs?run=${card.run}`">run {{ card.run }}</RouterLink
        >,
        {{
          card.handed_at
            ? `handed over ${moment(card.handed_at, new Date())}`
            : 'not handed over yet'
        }}
      </template>
      <template v-else>brought from elsewhere</template>
    </p>
    <p v-if="mayChange && card.is_good" class="acts">
      <button v-if="card.run" class="link" @click="hand(card)">
        {{ card.handed_at ? 'Not handed over after all' : 'Handed over' }}</button><button
        v-for="what in ['lost', 'spoiled', 'returned'] as const"
        :key="what"
        class="link"
        @click="asked = { card, what }"
      >
        {{ TITLES[what] }}
      </button>
    </p>
  </div>
  <Modal
    :open="!!asked"
    destroy-on-close
    :title="asked ? `Card ${name(asked.card)}: ${TITLES[asked.what].toLowerCase()}` : ''"
    :footer="null"
    :width="440"
    @cancel="asked = null"
  >
    <p>{{ asked && SAID[asked.what] }} It can be taken back from its receipt.</p>
    <p class="do">
      <button class="btn main" @click="mark">Put it out of use</button
      ><button class="btn" @click="asked = null">Cancel</button>
    </p>
  </Modal>
</template>

<style scoped>
h3 {
  margin: 14px 0 4px;
}
.card {
  border-top: 1px solid var(--drift);
  padding: 6px 0;
}
.good {
  margin: 0 8px;
}
.bad {
  margin: 0 8px;
}
.bits {
  font-size: 11.5px;
  overflow-wrap: anywhere;
}
.acts,
.do {
  display: flex;
  gap: 12px;
}
.do {
  margin-top: 14px;
  gap: 8px;
}
</style>
