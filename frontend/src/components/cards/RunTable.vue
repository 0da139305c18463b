<script setup lang="ts">
import type { CardMade } from '@/api/types'
import { moment } from '@/logic/words'

/** The cards of a run, ticked as they are handed over; on paper, a list to sign. */
defineProps<{ cards: CardMade[]; locked: boolean }>()
const emit = defineEmits<{ hand: [card: CardMade] }>()

const now = new Date()
const name = (one: CardMade) => (one.facility ? `${one.facility}·${one.number}` : one.number)
</script>

<template>
  <table class="list">
    <thead>
      <tr>
        <th>Handed over</th>
        <th>Who</th>
        <th>Card</th>
        <th>State</th>
        <th>When</th>
        <th class="only-print">Signature</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="one in cards" :key="one.card">
        <td>
          <input
            type="checkbox"
            :checked="!!one.handed_at"
            :disabled="locked || !one.state"
            :aria-label="`Card ${name(one)} of ${one.name} was handed over`"
            @change="emit('hand', one)"
          />
        </td>
        <td>{{ one.name || 'left the roster' }}</td>
        <td class="mono">{{ name(one) || '–' }}</td>
        <td>{{ one.spoiled_at ? 'spoiled' : one.state.toLowerCase() || 'not in use' }}</td>
        <td class="soft">
          {{ one.handed_at ? `${moment(one.handed_at, now)}, ${one.handed_by}` : '' }}
        </td>
        <td class="only-print" />
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.only-print {
  display: none;
}
@media print {
  .only-print {
    display: table-cell;
    width: 180px;
  }
}
</style>
