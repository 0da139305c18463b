<script setup lang="ts">
import { computed, ref } from 'vue'
import ChangeMark from './ChangeMark.vue'
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
const fields = computed(() =>
  props.changes.families.filter((one) => one.key !== 'join' && one.key !== 'absent'),
)
const emptied = computed(() => fields.value.filter((one) => one.taken_away))
/** What the roster has today, who comes, who leaves, and what it has afterwards. */
const records = computed(() => {
  const {
    records: now,
    tally: { new: joins },
    absences,
  } = { ...props.intake, tally: props.intake.ready }
  const leave = absences.leave ?? 0
  const parts = [
    `${counted(now, 'record')} today`,
    joins && `${count(joins)} more`,
    leave && `${count(leave)} less`,
  ].filter(Boolean)
  return `${parts.join(', ')}: ${count(now + joins - leave)} afterwards.`
})
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
const absentSaid = computed(() => {
  const { leave = 0, end = 0, hold = 0, stay = 0 } = props.intake.absences
  const parts = [
    end && !props.intake.membership
      ? `${counted(end, 'person gets', 'people get')} an end day`
      : '',
    end && props.intake.membership
      ? `${counted(end, 'membership gets', 'memberships get')} an end day`
      : '',
    leave ? `${counted(leave, 'person leaves', 'people leave')} the roster` : '',
    hold ? `${counted(hold, 'is', 'are')} held for a look` : '',
  ]
  const said = listed(parts.filter(Boolean))
  return said
    ? `${said}${stay ? `; to ${count(stay)} nothing is done` : ''}.`
    : 'Nothing is done to them.'
})
const CLAIMS: Record<string, string> = {
  people: 'all the groups of its people',
  groups: 'all the people of its groups',
}
const be = (number: number) => (number === 1 ? 'is' : 'are')
const outside = computed(() =>
  [
    {
      key: 'waiting',
      n: tally.value.waiting,
      said: `${tally.value.waiting === 1 ? 'needs' : 'need'} your approval`,
    },
    {
      key: 'stopped',
      n: tally.value.stopped,
      said: `${be(tally.value.stopped)} stopped by ${counted(props.intake.stops, 'cause')}`,
    },
    { key: 'held', n: tally.value.held, said: `${be(tally.value.held)} held` },
    { key: 'left_out', n: tally.value.left_out, said: `${be(tally.value.left_out)} left out` },
  ].filter((one) => one.n),
)
const link = (page: string, query: string) => `/intakes/${props.intake.id}/${page}?${query}`
</script>

<template>
  <div class="sheet">
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
      <b>The roster was altered {{ counted(intake.later, 'time') }} since this file was applied.</b>
      What those files brought would go back to this file’s values.
    </p>
    <p v-if="before?.undone_by" class="soft">
      What was applied before was taken back;
      <RouterLink :to="`/receipts/${before.id}`">receipt {{ before.id }}</RouterLink> stays
      readable.
    </p>
    <p v-else-if="before" class="soft">
      Receipt {{ before.id }} says what was
      <RouterLink :to="`/intakes/${intake.id}/apply?receipt=1`">applied before</RouterLink>; this is
      what came ready since.
    </p>
    <ul class="does">
      <li v-if="tally.new">
        <ChangeMark kind="join" />
        <p>
          <RouterLink :to="link('changes', 'family=join')">{{
            intake.membership
              ? `${counted(tally.new, 'membership begins', 'memberships begin')}`
              : counted(tally.new, 'person joins', 'people join')
          }}</RouterLink>{{ intake.membership ? '' : ' the roster' }}.
        </p>
      </li>
      <li v-if="tally.changed">
        <ChangeMark kind="change" />
        <p>
          <RouterLink :to="link('problems', 'outcome=changed')">{{
            counted(tally.changed, 'record changes', 'records change')
          }}</RouterLink>:
          <template v-for="(one, place) in fields" :key="one.key"
            >{{ place ? ', ' : ''
            }}<RouterLink :to="link('changes', `family=${one.key}`)"
              >{{ one.title }} {{ count(one.count) }}</RouterLink
            ></template
          >. Every earlier value stays in the record’s life.
        </p>
      </li>
      <li v-if="intake.membership?.ends">
        <span class="minus" aria-hidden="true">−</span>
        <p>
          <RouterLink :to="link('changes', 'family=beside')">{{
            counted(intake.membership.ends, 'other membership ends', 'other memberships end')
          }}</RouterLink>, because another of its kind takes the place.
        </p>
      </li>
      <li v-if="emptied.length">
        <span class="minus" aria-hidden="true">−</span>
        <p>
          <b class="bad">Values are taken away</b>:
          {{
            listed(
              emptied.map(
                (one) => `${one.title} from ${counted(one.taken_away, 'person', 'people')}`,
              ),
            )
          }}.
        </p>
      </li>
      <li v-if="tally.same">
        <span />
        <p>
          <RouterLink :to="link('problems', 'outcome=same')">{{
            counted(tally.same, 'row says', 'rows say')
          }}</RouterLink>
          what the roster has already; nothing is done.
        </p>
      </li>
      <li v-if="tally.absent">
        <ChangeMark kind="absent" />
        <p>
          <RouterLink :to="link('changes', 'family=absent')"
            >{{ counted(tally.absent, 'record is', 'records are') }} absent</RouterLink
          >
          from a file that claims
          {{ CLAIMS[intake.coverage] ?? `everybody${intake.part ? ' of its part' : ''}` }}.
          {{ absentSaid }}
        </p>
      </li>
      <li v-if="tally.new || intake.absences.leave">
        <span />
        <p>{{ intake.roster_title }}: {{ records }}</p>
      </li>
    </ul>
    <template v-if="outside.length">
      <h3>Not going in now</h3>
      <ul class="does">
        <li v-for="one in outside" :key="one.key">
          <i class="swatch" :class="`l-${one.key}`" />
          <p>
            <RouterLink :to="link('problems', `outcome=${one.key}`)">{{
              counted(one.n, 'row')
            }}</RouterLink>
            {{ one.said }}.
            {{
              one.key === 'left_out'
                ? ''
                : one.n === 1
                  ? 'It stays on the desk and can go in later.'
                  : 'They stay on the desk and can go in later.'
            }}
          </p>
        </li>
      </ul>
    </template>
    <div v-if="intake.unusual && intake.changes && !intake.waits.length" class="flag guard">
      <b>{{ intake.unusual.said }}</b> {{ intake.unusual.reason }}
      <RouterLink :to="link('changes', 'family=absent')">Look at them</RouterLink>
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
        All of it or nothing, in one transaction. A receipt read back from the database follows, and
        it can be taken back.
      </p>
    </div>
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
h3 {
  margin: 22px 0 4px;
}
.does {
  margin-top: 8px;
  max-width: 780px;
}
.does li {
  display: grid;
  grid-template-columns: 26px 1fr;
  align-items: baseline;
  padding: 7px 0;
  border-bottom: 1px solid var(--drift);
}
.does a {
  font-weight: 600;
  text-decoration: none;
}
.does a:hover {
  text-decoration: underline;
}
.minus {
  color: var(--stopped-ink);
  font-weight: 600;
  font-size: 16px;
}
.swatch {
  width: 12px;
  height: 12px;
  align-self: center;
  border-width: 1px;
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
