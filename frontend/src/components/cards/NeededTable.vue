<script setup lang="ts">
import type { CardPerson } from '@/api/types'
import { needWords } from '@/logic/design'

/** People by where they stand; arrows go from one to the next. */
const props = defineProps<{ people: CardPerson[] }>()
const chosen = defineModel<CardPerson | null>('chosen', { required: true })

const numbers = (one: CardPerson) =>
  one.cards
    .filter((card) => card.is_good || one.cards.length === 1)
    .map((card) => (card.facility ? `${card.facility}·${card.number}` : card.number))
    .join(', ')
function choose(step: number): void {
  const place = props.people.findIndex((one) => one === chosen.value)
  const to = Math.max(0, Math.min(props.people.length - 1, place + step))
  chosen.value = props.people[to] ?? null
}
</script>

<template>
  <table class="list" @keydown.down.prevent="choose(1)" @keydown.up.prevent="choose(-1)">
    <thead>
      <tr>
        <th>Who</th>
        <th>Key</th>
        <th>Card</th>
        <th>Stands</th>
        <th>Why</th>
      </tr>
    </thead>
    <tbody>
      <tr
        v-for="one in people"
        :key="`${one.record} ${one.cards[0]?.card}`"
        class="click"
        :class="{ chosen: one === chosen }"
        @click="chosen = one"
      >
        <td>
          <button class="link" :aria-pressed="one === chosen">
            {{ one.name || 'nobody who gets one' }}
          </button>
        </td>
        <td class="mono">{{ one.key }}</td>
        <td class="mono">{{ numbers(one) || '–' }}</td>
        <td class="stands">
          <i class="dot" :class="needWords(one.need)?.look" />{{ needWords(one.need)?.word }}
        </td>
        <td class="soft">{{ one.why.join('; ') }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.dot {
  display: inline-block;
  width: 10px;
  height: 10px;
  margin-right: 6px;
  min-height: 0;
  padding: 0;
}
.stands {
  white-space: nowrap;
}
tr.chosen td {
  background: var(--row-on);
}
tr.chosen td:first-child {
  box-shadow: inset 3px 0 0 var(--ink);
}
</style>
