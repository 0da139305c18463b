<script setup lang="ts">
import { computed } from 'vue'
import ChangeMark from './ChangeMark.vue'
import type { Changes, Intake } from '@/api/types'
import { count, counted, listed } from '@/logic/words'

/** What applying would do, in sentences with numbers; and what does not go in with it. */
const props = defineProps<{ intake: Intake; changes: Changes }>()

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
  <div>
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
  </div>
</template>

<style scoped>
h3 {
  margin: 22px 0 4px;
}
.does {
  margin-top: 8px;
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
</style>
