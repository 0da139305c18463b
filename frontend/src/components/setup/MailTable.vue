<script setup lang="ts">
import { computed } from 'vue'
import type { Mail } from '@/api/types'
import type { MailState } from '@/api/mail'
import type { UseMail } from '@/composables/useMail'
import { count, moment } from '@/logic/words'

/** The mails, the last first: what became of each, and what can be done with those that did not go. */
const props = defineProps<{ mail: UseMail }>()
const state = defineModel<MailState>('state', { required: true })
const now = new Date()
const WORDS: Record<Mail['state'], string> = {
  waiting: 'waits',
  handing: 'is being handed over',
  sent: 'went',
  refused: 'refused',
  unclear: 'may have gone',
  dropped: 'dropped',
}
const counts = computed(() => props.mail.post?.counts ?? {})
const waiting = computed(() => (counts.value.waiting ?? 0) + (counts.value.handing ?? 0))
const total = computed(() => Object.values(counts.value).reduce((sum, one) => sum + one, 0))
const parts = computed(() => [
  { key: '', words: 'all', count: total.value },
  { key: 'waiting', words: 'wait', count: waiting.value },
  { key: 'sent', words: 'went', count: counts.value.sent ?? 0 },
  { key: 'refused', words: 'refused', count: counts.value.refused ?? 0 },
  { key: 'unclear', words: 'may have gone', count: counts.value.unclear ?? 0 },
  { key: 'dropped', words: 'dropped', count: counts.value.dropped ?? 0 },
])
const can = (one: Mail) =>
  !one.has_text
    ? null
    : one.state === 'waiting'
      ? ({ what: 'drop', word: 'Drop' } as const)
      : one.state === 'sent' || one.state === 'handing'
        ? null
        : ({ what: 'again', word: 'Send again' } as const)
</script>

<template>
  <div class="mails">
    <p class="kinds" role="group" aria-label="What became of mails">
      <button
        v-for="one in parts.filter((part) => !part.key || part.count)"
        :key="one.key"
        class="plain"
        :aria-pressed="state === one.key"
        @click="state = one.key as MailState"
      >
        <b>{{ count(one.count) }}</b> {{ one.words }}
      </button>
    </p>
    <p v-if="counts.unclear" class="soft small">
      Of a mail that may have gone the line broke after all of it was said: it does not go again by
      itself, so that nobody gets it twice.
    </p>
    <div v-if="mail.mails.length" class="wide">
      <table class="list">
        <thead>
          <tr>
            <th>To</th>
            <th>Subject</th>
            <th>Written</th>
            <th>By</th>
            <th>What became of it</th>
            <th><span class="unseen">What can be done</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in mail.mails" :key="one.id">
            <td class="to">{{ one.recipient }}</td>
            <td class="subject">{{ one.subject }}</td>
            <td class="one-line">{{ moment(one.at, now) }}</td>
            <td class="one-line">{{ one.by || 'by itself' }}</td>
            <td :class="{ bad: one.state === 'refused' || one.state === 'unclear' }">
              {{ WORDS[one.state] }}
              <template v-if="one.done_at">{{ moment(one.done_at, now) }}</template>
              <span v-if="one.answer" class="soft"> · {{ one.answer }}</span>
              <span v-if="one.state === 'waiting' && one.tries" class="soft">
                · again {{ moment(one.next_at, now) }}</span
              >
            </td>
            <td>
              <button
                v-if="can(one)"
                class="plain"
                :disabled="mail.busy"
                :aria-label="`${can(one)!.word}: ${one.recipient}, ${one.subject}`"
                @click="mail.decide([one.id], can(one)!.what)"
              >
                {{ can(one)!.word }}
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-else class="soft">{{ total ? 'None of that kind.' : 'Nothing was mailed yet.' }}</p>
    <p v-if="mail.mails.length === 100" class="soft small">The last {{ count(100) }} are shown.</p>
  </div>
</template>

<style scoped src="../../pages/setup/page.css"></style>
<style scoped src="./mail.css"></style>
