<script setup lang="ts">
import { computed, ref } from 'vue'
import { answerAddress, bodyAddress, bringAnswer, endRound, sendAgain } from '@/api/submissions'
import type { Round, Submission } from '@/api/types'
import MoreMenu from '@/components/controls/MoreMenu.vue'
import RoundCame from '@/components/submission/RoundCame.vue'
import { APPROVE } from '@/composables/useSession'
import { useSubmission } from '@/composables/useSubmission'
import { wordSends } from '@/logic/standing'
import { count, counted, momentInFull } from '@/logic/words'

/** One round: what was sent, what came back, and what can be done with it. */
const props = defineProps<{ submission: Submission; round: Round }>()
const open = useSubmission()
const shown = ref(false)
const may = computed(() => props.submission.level >= APPROVE)
/** A round that was there before the submission began. */
const isEarlier = computed(() => !props.round.number)
const downloads = computed(() => [
  { title: 'As sent, as CSV', href: bodyAddress(props.round.id, 'csv') },
  { title: 'As sent, as JSON', href: bodyAddress(props.round.id, 'json') },
  ...(props.round.answered_at
    ? [{ title: 'The answer as it came', href: answerAddress(props.round.id) }]
    : []),
])
async function bring(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (file) await open.act(() => bringAnswer(props.round.id, file))
}
</script>

<template>
  <section class="round" :aria-label="`Round ${round.number}`">
    <div class="head">
      <h2>
        {{
          round.number
            ? `Round ${round.number}`
            : `What “${submission.starts_from}” held on the live side`
        }}
      </h2>
      <span class="state" :class="round.state">{{ round.said }}</span>
      <span v-if="isEarlier" class="soft"
        >{{ counted(round.records, 'record') }}; of the others nothing was sent</span
      ><span v-else class="soft"
        >{{ wordSends(round.counts) }}{{ round.receipt ? ` · receipt ${round.receipt}` : '' }}</span
      ><span class="grow" />
      <template v-if="may && round.number">
        <MoreMenu label="Download" :items="downloads" />
      </template>
    </div>
    <p v-if="round.problem" class="flag" :class="{ stop: round.state === 'refused' }" role="alert">
      {{ round.problem }}
      <button
        v-if="round.state === 'refused' && may"
        class="link"
        @click="open.act(() => sendAgain(round.id))"
      >
        Send it again
      </button>
    </p>
    <p v-if="['byhand', 'refused'].includes(round.state) && may" class="hand">
      Take the file to {{ submission.authority }}, and
      <label class="btn fir bring"
        >bring the answer<input
          type="file"
          accept=".json,.csv"
          class="unseen"
          @change="bring" /></label
      ><span class="soft"
        >JSON as it comes, or CSV with REF, OUTCOME, NUMBER, RULES; a part of it leaves the rest
        open</span
      >
    </p>
    <p v-if="round.state === 'byhand' && round.answered_at" class="hand">
      <b>{{ count(round.done) }} of {{ count(round.records) }} answered.</b>
      <button
        v-if="may"
        class="btn"
        :title="'What has no answer is ready again'"
        @click="open.act(() => endRound(round.id))"
      >
        Nothing more comes for the {{ counted(round.records - round.done, 'other', 'others') }}
      </button>
    </p>
    <div
      v-if="round.state === 'sent'"
      class="bar"
      role="progressbar"
      :aria-valuenow="round.done"
      aria-valuemin="0"
      :aria-valuemax="round.records"
      :aria-label="`Round ${round.number}`"
    >
      <i :style="{ width: `${(100 * round.done) / Math.max(round.records, 1)}%` }" />
    </div>
    <RoundCame :round="round" />
    <p class="soft small">
      kept {{ momentInFull(round.at) }}{{ round.by ? ` by ${round.by}` : ''
      }}{{ round.sent_at ? `, sent ${momentInFull(round.sent_at)}` : ''
      }}{{ round.answered_at ? `, answered ${momentInFull(round.answered_at)}` : ''
      }}<template v-if="round.intake">
        ·
        <RouterLink :to="`/intakes/${round.intake}/apply`"
          >its numbers in the roster</RouterLink
        ></template
      >
    </p>
    <template v-if="round.again.length">
      <button class="link" :aria-expanded="shown" @click="shown = !shown">
        {{ counted(round.again.length, 'record') }} rejected again
      </button>
      <table v-if="shown" class="list">
        <thead>
          <tr>
            <th>Who</th>
            <th>Key</th>
            <th>Before</th>
            <th>In this round</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="each in round.again" :key="String(each.record)">
            <td>{{ each.name }}</td>
            <td class="mono">{{ each.key }}</td>
            <td>{{ each.before }}</td>
            <td>{{ each.now }}</td>
          </tr>
        </tbody>
      </table>
    </template>
  </section>
</template>

<style scoped src="./round.css"></style>
<style scoped>
.state {
  font-size: 13px;
  border: 1px solid var(--line);
  padding: 0 8px;
}
.state.done {
  border-color: var(--fir);
  color: var(--fir);
}
.state.refused {
  border-color: var(--stopped);
  color: var(--stopped-ink);
}
.flag,
.hand {
  margin: 8px 0;
}
.hand {
  display: flex;
  gap: 8px;
  align-items: center;
}
.bring {
  cursor: pointer;
  position: relative;
}
.bring:focus-within {
  outline: 2px solid var(--fir);
  outline-offset: 1px;
}
.bar {
  height: 10px;
  background: var(--drift);
  margin: 8px 0;
}
.bar i {
  display: block;
  height: 100%;
  background: var(--fir);
  transition: width 0.3s;
}
table {
  margin-top: 8px;
}
</style>
