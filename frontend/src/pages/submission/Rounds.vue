<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import {
  answerAddress,
  bodyAddress,
  bringAnswer,
  endRound,
  listRequests,
  sendAgain,
} from '@/api/submissions'
import type { ChangeRequests, Round, Submission } from '@/api/types'
import { APPROVE } from '@/composables/useSession'
import { useSubmission } from '@/composables/useSubmission'
import { wordSends } from '@/logic/standing'
import { count, counted, momentInFull } from '@/logic/words'

const props = defineProps<{ submission: Submission }>()
const open = useSubmission()
const shown = ref<number | null>(null)
const may = () => props.submission.level >= APPROVE
const PARTS = [
  ['accepted', 'accepted'],
  ['warned', 'with a warning'],
  ['to number', 'to number'],
  ['rejected', 'rejected'],
  ['unanswered', 'not answered'],
] as const
const came = (one: Round) =>
  PARTS.filter(([name]) => one.counts[name]).map(([name, words]) => ({
    name,
    words,
    size: one.counts[name] ?? 0,
  }))

/** What was asked of the authority stays to be seen, whatever was decided since. */
const asked = ref<ChangeRequests | null>(null)
const states = computed(() =>
  Object.entries(asked.value?.counts ?? {})
    .map(
      ([state, size]) =>
        `${count(size)} ${{ waits: 'without an answer', agreed: 'agreed to', refused: 'refused' }[state] ?? state}`,
    )
    .join(', '),
)
watch(
  () => [props.submission.requests, props.submission.touched],
  async () => {
    if (props.submission.requests) asked.value = await listRequests(open.id).catch(() => null)
  },
  { immediate: true },
)

async function bring(one: Round, event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (file) await open.act(() => bringAnswer(one.id, file))
}
</script>

<template>
  <div class="page">
    <p v-if="!submission.rounds.length" class="empty">
      <b>No round was sent yet.</b>
      {{
        submission.sendable
          ? `${counted(submission.sendable, 'record is', 'records are')} ready for the first.`
          : ''
      }}
    </p>
    <section v-if="submission.requests" class="round" aria-label="Change requests">
      <div class="head">
        <h2>
          {{ counted(submission.requests, 'change of theirs was', 'changes of theirs were') }} asked
          for
        </h2>
        <span class="soft">{{ states }}</span>
      </div>
      <table class="list">
        <thead>
          <tr>
            <th>Who</th>
            <th>Rule</th>
            <th>Reason</th>
            <th>Asked</th>
            <th>What became of it</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in asked?.requests ?? []" :key="`${one.record}/${one.at}`">
            <td>
              {{ one.name }} <span class="soft mono">{{ one.key }}</span>
            </td>
            <td class="mono">{{ one.rule }}</td>
            <td>“{{ one.reason }}”</td>
            <td>
              {{ one.by
              }}<span class="soft"
                >{{ ` ${momentInFull(one.at)}`
                }}{{ one.round ? `, with round ${one.round}` : ', goes with the next round' }}</span
              >
            </td>
            <td>{{ one.answer || 'no answer yet' }}</td>
          </tr>
        </tbody>
      </table>
    </section>
    <section
      v-for="one in [...submission.rounds].reverse()"
      :key="one.id"
      class="round"
      :aria-label="`Round ${one.number}`"
    >
      <div class="head">
        <h2>
          {{
            one.number
              ? `Round ${one.number}`
              : `What “${submission.starts_from}” held on the live side`
          }}
        </h2>
        <span class="state" :class="one.state">{{ one.said }}</span>
        <span v-if="!one.number" class="soft"
          >{{ counted(one.records, 'record') }}; of the others nothing was sent</span
        ><span v-else class="soft"
          >{{ wordSends(one.counts) }}{{ one.receipt ? ` · receipt ${one.receipt}` : '' }}</span
        ><span class="grow" />
        <template v-if="may() && one.number">
          <a class="btn" :href="bodyAddress(one.id, 'csv')">As sent, CSV</a
          ><a class="btn" :href="bodyAddress(one.id, 'json')">JSON</a>
          <a v-if="one.answered_at" class="btn" :href="answerAddress(one.id)">Answer as it came</a>
        </template>
      </div>
      <p v-if="one.problem" class="flag" :class="{ stop: one.state === 'refused' }" role="alert">
        {{ one.problem }}
        <button
          v-if="one.state === 'refused' && may()"
          class="link"
          @click="open.act(() => sendAgain(one.id))"
        >
          Send it again
        </button>
      </p>
      <p v-if="['byhand', 'refused'].includes(one.state) && may()" class="hand">
        Take the file to {{ submission.authority }}, and
        <label class="btn fir bring"
          >bring the answer<input
            type="file"
            accept=".json,.csv"
            class="unseen"
            @change="(event) => bring(one, event)" /></label
        ><span class="soft"
          >JSON as it comes, or CSV with REF, OUTCOME, NUMBER, RULES; a part of it leaves the rest
          open</span
        >
      </p>
      <p v-if="one.state === 'byhand' && one.answered_at" class="hand">
        <b>{{ count(one.done) }} of {{ count(one.records) }} answered.</b>
        <button
          v-if="may()"
          class="btn"
          :title="'What has no answer is ready again'"
          @click="open.act(() => endRound(one.id))"
        >
          Nothing more comes for the {{ counted(one.records - one.done, 'other', 'others') }}
        </button>
      </p>
      <div
        v-if="one.state === 'sent'"
        class="bar"
        role="progressbar"
        :aria-valuenow="one.done"
        aria-valuemin="0"
        :aria-valuemax="one.records"
        :aria-label="`Round ${one.number}`"
      >
        <i :style="{ width: `${(100 * one.done) / Math.max(one.records, 1)}%` }" />
      </div>
      <div
        v-if="came(one).length"
        class="came"
        role="img"
        :aria-label="
          came(one)
            .map((each) => `${each.size} ${each.words}`)
            .join(', ')
        "
      >
        <span
          v-for="each in came(one)"
          :key="each.name"
          :class="`c-${each.name.replace(' ', '-')}`"
          :style="{ flexGrow: Math.sqrt(each.size) }"
          ><b>{{ count(each.size) }}</b> {{ each.words }}</span
        >
      </div>
      <p class="soft small">
        kept {{ momentInFull(one.at) }}{{ one.by ? ` by ${one.by}` : ''
        }}{{ one.sent_at ? `, sent ${momentInFull(one.sent_at)}` : ''
        }}{{ one.answered_at ? `, answered ${momentInFull(one.answered_at)}` : ''
        }}<template v-if="one.intake">
          ·
          <RouterLink :to="`/intakes/${one.intake}/apply`"
            >its numbers in the roster</RouterLink
          ></template
        >
      </p>
      <template v-if="one.again.length">
        <button
          class="link"
          :aria-expanded="shown === one.id"
          @click="shown = shown === one.id ? null : one.id"
        >
          {{ counted(one.again.length, 'record') }} rejected again
        </button>
        <table v-if="shown === one.id" class="list">
          <thead>
            <tr>
              <th>Who</th>
              <th>Key</th>
              <th>Before</th>
              <th>In this round</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="each in one.again" :key="String(each.record)">
              <td>{{ each.name }}</td>
              <td class="mono">{{ each.key }}</td>
              <td>{{ each.before }}</td>
              <td>{{ each.now }}</td>
            </tr>
          </tbody>
        </table>
      </template>
    </section>
  </div>
</template>

<style scoped>
.page {
  flex: 1;
  overflow-y: auto;
  padding: 12px 16px 24px;
}
.round {
  background: var(--snow);
  border: 1px solid var(--line);
  padding: 10px 14px 12px;
  margin-bottom: 10px;
  max-width: 1080px;
}
.head {
  display: flex;
  gap: 10px;
  align-items: baseline;
  flex-wrap: wrap;
}
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
.came {
  display: flex;
  gap: 2px;
  margin: 8px 0;
  font-size: 13px;
}
.came span {
  padding: 4px 8px;
  min-width: 92px;
}
.c-accepted {
  background: var(--accepted);
  color: var(--ink);
}
.c-warned {
  background: var(--accepted);
  color: var(--ink);
  border-bottom: 3px solid var(--waiting-edge);
}
.c-to-number {
  background:
    linear-gradient(90deg, var(--waiting-edge) 0 4px, transparent 4px), var(--waiting-fill);
  color: var(--ink);
}
.c-rejected {
  background: var(--stopped);
  color: #fff;
}
.c-unanswered {
  border: 1px dashed var(--ink3);
}
table {
  margin-top: 8px;
}
</style>
