<script setup lang="ts">
import KeyCap from '@/components/controls/KeyCap.vue'
import type { Submission } from '@/api/types'
import PersonFields from '@/components/submission/PersonFields.vue'
import RejectedWays from '@/components/submission/RejectedWays.vue'
import RuleList from '@/components/submission/RuleList.vue'
import { useKeys } from '@/composables/useKeys'
import { useRejected, type Way } from '@/composables/useRejected'
import { counted } from '@/logic/words'

const props = defineProps<{ submission: Submission }>()
const { found, rule, record, person, way, may, current, place, next, ...given } = useRejected(
  () => props.submission,
)
const { isShown, reason, file, canRight, canQuestion, takes, choose, look, step, done } = given

function set(to: Way): void {
  if (isShown.value) way.value = to
}
useKeys({
  '.': () => step(1),
  ',': () => step(-1),
  ArrowDown: () => step(1),
  ArrowUp: () => step(-1),
  1: () => set('right'),
  2: () => set('wrong'),
  3: () => set('question'),
})
</script>

<template>
  <div v-if="found" class="cols">
    <RuleList
      :rules="found.rules"
      :records="found.records"
      :rule="rule"
      :record="record"
      :empty="submission.rounds.length ? 'Nothing is rejected.' : 'Nothing was sent yet.'"
      @choose="choose"
    />
    <div v-if="person" class="pane">
      <div class="head">
        <h2>{{ person.name }}</h2>
        <span class="mono">{{ person.key }}{{ person.number ? ` · ${person.number}` : '' }}</span
        ><span class="grow" />
        <span class="soft">{{ place + 1 }} of {{ current?.records.length }}</span
        ><button class="plain" aria-label="The one before" @click="step(-1)">
          <KeyCap of="," /></button
        ><button class="plain" aria-label="The next one" @click="step(1)"><KeyCap of="." /></button>
      </div>
      <p class="flag stop rule">
        <b>{{ person.rule }}</b> {{ person.text }}
        <span class="soft">Reads: {{ person.reads.join(', ').toLowerCase() }}.</span>
      </p>
      <p v-if="person.rules.length > 1" class="soft small">
        Also rejected by {{ person.rules.filter((one) => one !== person!.rule).join(', ') }}.
      </p>
      <p v-for="one in person.requests.filter((each) => each.answer)" :key="one.at" class="flag">
        {{ submission.authority }} on the change that {{ one.by || 'somebody' }} asked for{{
          one.round ? ` with round ${one.round}` : ''
        }}: {{ one.answer }}
      </p>
      <PersonFields
        :person="person"
        :authority="submission.authority"
        :can-look="submission.can_reach && canQuestion"
        @look="look"
      />
      <fieldset class="bare" :disabled="!isShown" :aria-busy="!isShown">
        <RejectedWays
          v-model:way="way"
          v-model:reason="reason"
          v-model:file="file"
          :submission="submission"
          :person="person"
          :next="next"
          :takes="takes"
          :all="current?.records.length ?? 0"
          :can-right="canRight"
          :can-question="canQuestion"
          :may="may"
          @done="done"
        />
      </fieldset>
    </div>
    <div v-else class="empty pane">
      <h2>
        {{
          submission.tally.rejected
            ? `${counted(submission.tally.rejected, 'record')} rejected`
            : submission.rounds.length
              ? 'Nothing is rejected'
              : 'Nothing was sent yet'
        }}
      </h2>
      <p>
        {{
          submission.tally.rejected
            ? 'Who may prepare sees them in full.'
            : submission.tally.ready
              ? `${counted(submission.tally.ready, 'record is', 'records are')} ready for round ${next}.`
              : ''
        }}
      </p>
    </div>
  </div>
</template>

<style scoped>
.cols {
  flex: 1;
  display: flex;
  min-height: 0;
}
.pane {
  flex: 1;
  min-width: 0;
  background: var(--snow);
  border: 1px solid var(--ink);
  border-right: 0;
  border-bottom: 0;
  margin-top: 10px;
  padding: 12px 18px 18px;
  overflow-y: auto;
}
.bare {
  display: contents;
}
.head {
  display: flex;
  align-items: baseline;
  gap: 10px;
}
.head h2 {
  font-size: 17px;
}
.rule {
  margin-top: 8px;
  font-size: 14px;
  line-height: 19px;
  padding: 8px 12px;
}
.flag + .flag {
  margin-top: 8px;
}
</style>
