<script setup lang="ts">
import type { Addressee, LetterOpen, Roster } from '@/api/types'
import { sayStand } from '@/logic/letters'
import { moment } from '@/logic/words'

/** Each to whom a letter was written: where they stand, since when, what they corrected. */
const props = defineProps<{ open: LetterOpen; people: Addressee[]; roster: Roster }>()
const now = new Date()
const title = (name: string) => props.roster.fields.find((one) => one.name === name)?.title ?? name
const MAILS: Record<string, string> = {
  refused: 'the mail was refused',
  dropped: 'the mail was dropped',
  unclear: 'the mail may have gone',
  waiting: 'the mail waits',
  handing: 'the mail is being handed over',
  sent: 'the mail went',
}
const INTAKES: Record<string, string> = {
  open: 'to be looked at',
  applied: 'looked at',
  thrown: 'thrown away',
}
const when = (one: Addressee) => one.answered_at ?? one.seen_at
const how = (one: Addressee) =>
  [
    MAILS[one.mail],
    one.printed_at ? `printed ${moment(one.printed_at, now)}` : one.on_paper && 'on paper',
  ]
    .filter(Boolean)
    .join(', ')
</script>

<template>
  <div v-if="people.length" class="across">
    <table class="list">
      <thead>
        <tr>
          <th>Who</th>
          <th>Where they stand</th>
          <th>How it went</th>
          <th>Corrected</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in people" :key="one.record">
          <td>
            <RouterLink v-if="one.key" :to="`/rosters/${roster.name}?record=${one.record}`">{{
              one.name || one.key
            }}</RouterLink><span v-else class="soft">somebody who has left the roster</span>
            <span class="soft small key">{{ one.key }}</span>
          </td>
          <td>
            {{ sayStand(one.part) }}
            <span v-if="when(one)" class="soft small">{{ moment(when(one)!, now) }}</span>
          </td>
          <td class="soft">
            {{ how(one)
            }}<span v-if="one.mail === 'refused'" class="small"> {{ one.mail_answer }}</span>
          </td>
          <td>
            {{ one.fields.map(title).join(', ') }}
            <RouterLink v-if="one.intake" class="small" :to="`/intakes/${one.intake}`">{{
              INTAKES[one.intake_state]
            }}</RouterLink><span v-else-if="one.fields.length" class="soft small"
              >not on the desk yet</span
            >
          </td>
        </tr>
      </tbody>
    </table>
  </div>
  <p v-else class="empty">Nobody stands there. ✓</p>
</template>

<style scoped>
table {
  width: 100%;
  min-width: 560px;
}
td {
  vertical-align: top;
  overflow-wrap: anywhere;
}
.key {
  margin-left: 6px;
}
</style>
