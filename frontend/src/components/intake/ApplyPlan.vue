<script setup lang="ts">
import { computed, ref } from 'vue'
import ApplyDoes from './ApplyDoes.vue'
import ApplyPeople from './ApplyPeople.vue'
import FromDay from '@/components/FromDay.vue'
import ProposalBox from '@/components/ProposalBox.vue'
import ScheduledBox from '@/components/ScheduledBox.vue'
import type { Changes, ChangeSet, Intake, Step } from '@/api/types'
import { APPROVE, PREPARE } from '@/composables/useSession'
import { count, counted, day, listed } from '@/logic/words'

const props = defineProps<{ intake: Intake; changes: Changes; before: ChangeSet | null }>()
const emit = defineEmits<{
  apply: [typed: number | null, day: string]
  propose: [typed: number | null, day: string]
  approved: [job: number | null]
  decided: []
  step: [step: Step]
}>()

/** What is a lot is not done by one click: its number is typed. */
const typed = ref('')
/** From which day it holds; '' for now. */
const from = ref('')
const sure = computed(
  () =>
    !props.intake.waits.length &&
    (!props.intake.guards.length ||
      Number(typed.value.replace(/[ ,.]/g, '')) === props.intake.changes),
)

/** Of the rows that did not go in yet: what went in before is in the receipt. */
const tally = computed(() => props.intake.ready)
const may = computed(() => props.intake.level >= APPROVE)
const mayPropose = computed(() => props.intake.level >= PREPARE)
/**
 * Where a second person has to approve, and where one's own account may not apply, it is proposed.
 */
const proposes = computed(() => mayPropose.value && (!!props.intake.why || !may.value))
const typedNumber = computed(() => (props.intake.guards.length ? props.intake.changes : null))
const proposal = computed(() =>
  props.intake.proposal && props.intake.proposal.state !== 'done' ? props.intake.proposal : null,
)
const waitsForMe = computed(
  () => proposal.value?.state === 'open' && proposal.value.may_approve && !proposal.value.is_stale,
)
</script>

<template>
  <div class="sheet">
    <div class="plan">
      <h2>
        {{
          intake.changes
            ? `Applying ${counted(intake.changes, 'change')} to ${intake.roster_title} would do this`
            : 'Nothing is ready to apply'
        }}
      </h2>
      <p v-if="intake.membership && tally.new + tally.changed" class="soft">
        {{ counted(tally.new + tally.changed, 'membership') }} of
        {{ counted(intake.membership.people, 'person', 'people') }}.
      </p>
      <p v-if="Object.keys(intake.parts).length" class="soft">
        {{ intake.part_title }}:
        {{ listed(Object.entries(intake.parts).map(([name, n]) => `${name} ${count(n)}`)) }}.
      </p>
      <p v-if="intake.later && intake.changes" class="flag">
        <b
          >The roster was altered {{ counted(intake.later, 'time') }} since this file was
          applied.</b
        >
        What those files brought would go back to this file’s values.
      </p>
      <p v-if="before?.undone_by" class="soft">
        What was applied before was taken back;
        <RouterLink :to="`/receipts/${before.id}`">receipt {{ before.id }}</RouterLink> stays
        readable.
      </p>
      <p v-else-if="before" class="soft">
        Receipt {{ before.id }} says what was
        <RouterLink :to="`/intakes/${intake.id}/apply?receipt=1`">applied before</RouterLink>; this
        is what came ready since.
      </p>
      <ApplyDoes :intake="intake" :changes="changes" />
      <div v-if="intake.unusual && intake.changes && !intake.waits.length" class="flag guard">
        <b>{{ intake.unusual.said }}</b> {{ intake.unusual.reason }}
        <RouterLink :to="`/intakes/${intake.id}/changes?family=absent`">Look at them</RouterLink>
      </div>
      <div v-if="intake.waits.length && intake.changes" class="flag guard">
        Before anything is applied,
        {{ intake.waits.length === 1 ? 'this has' : `these ${intake.waits.length} have` }} to be
        settled:
        <template v-for="(one, place) in intake.waits" :key="one.cause"
          >{{ place ? '; ' : ''
          }}<RouterLink :to="`/intakes/${intake.id}/problems?cause=${one.cause}`">{{
            one.title
          }}</RouterLink></template
        >.
      </div>
      <p v-if="intake.source && intake.changes" class="learns soft">
        <template v-if="intake.source_by === 'guess'"
          >Nothing will be learnt from this file for the next one: that it is from
          {{ intake.source }} is a guess. {{ intake.source_why }}
          <button
            v-if="mayPropose"
            class="link"
            @click="emit('step', { kind: 'source', name: intake.source })"
          >
            It is from {{ intake.source }}
          </button></template
        >
        <template v-else
          >What was decided about columns and values is remembered for the next file of
          {{ intake.source }}.</template
        >
      </p>
      <ProposalBox
        v-if="proposal"
        :proposal="proposal"
        :act="`apply ${counted(intake.changes, 'record')}`"
        @done="(done) => emit('approved', done.job)"
        @decided="emit('decided')"
      />
      <ScheduledBox
        v-if="intake.scheduled"
        :scheduled="intake.scheduled"
        :may="may"
        @decided="emit('decided')"
      />
      <p v-if="intake.changes && (proposes || !waitsForMe) && mayPropose" class="when">
        <FromDay v-model="from" />
      </p>
      <div v-if="intake.guards.length && intake.changes" class="flag guard">
        <b>{{ intake.guards.join(' ') }}</b>
        <label
          >Type {{ count(intake.changes) }} to say that you mean it:
          <input v-model="typed" class="box" inputmode="numeric" autocomplete="off"
        /></label>
      </div>
      <div class="do">
        <button
          v-if="intake.changes && proposes"
          class="btn main big"
          :disabled="!mayPropose || !sure || (proposal?.state === 'open' && !proposal.is_stale)"
          @click="emit('propose', typedNumber, from)"
        >
          Propose {{ counted(intake.changes, 'change') }}{{ from ? ` for ${day(from)}` : '' }}
        </button>
        <button
          v-else-if="intake.changes && !waitsForMe"
          class="btn main big"
          :disabled="!may || !sure"
          @click="emit('apply', typedNumber, from)"
        >
          {{
            from
              ? `Put ${counted(intake.changes, 'row')} off to ${day(from)}`
              : `Apply ${counted(intake.changes, 'row')}${intake.scheduled ? ' now' : ''}`
          }}
        </button>
        <RouterLink
          v-else-if="tally.stopped + tally.waiting"
          class="btn fir"
          :to="`/intakes/${intake.id}/problems`"
          >Settle problems</RouterLink
        >
        <p v-if="intake.changes && intake.why" class="soft">
          Here {{ intake.why }}: propose it, and somebody else can approve it.
        </p>
        <p v-else-if="!may" class="soft">
          {{
            mayPropose
              ? 'Your account may not apply: propose it, and somebody who may can approve it.'
              : 'Your account may not apply; somebody who may approve has to.'
          }}
        </p>
        <p v-else-if="intake.changes" class="soft">
          All of it or nothing, in one transaction. A receipt read back from the database follows,
          and it can be taken back.
        </p>
      </div>
    </div>
    <ApplyPeople v-if="intake.changes" :intake="intake" :families="changes.families" />
  </div>
</template>

<style scoped>
.sheet {
  background: var(--snow);
  border: 1px solid var(--ink);
  border-width: 1px 0 0 1px;
  min-height: 100%;
  padding: 20px 26px;
}
h2 {
  font-size: 18px;
  line-height: 24px;
}
h2 + .soft {
  margin-top: 4px;
}
@media (width >= 1200px) {
  .sheet {
    display: grid;
    grid-template-columns: minmax(540px, 780px) minmax(460px, 1fr);
    gap: 40px;
  }
}
.do {
  display: flex;
  gap: 16px;
  align-items: center;
  margin-top: 24px;
  max-width: 780px;
}
.guard {
  margin-top: 20px;
  max-width: 780px;
}
.guard .box {
  width: 90px;
}
.learns {
  margin-top: 20px;
  max-width: 780px;
}
.when {
  margin-top: 20px;
}
.when + .do {
  margin-top: 12px;
}
.big {
  padding: 7px 20px;
  font-size: 15px;
}
</style>
