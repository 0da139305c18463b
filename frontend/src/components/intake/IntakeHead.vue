<script setup lang="ts">
import { computed } from 'vue'
import MoreMenu from '@/components/controls/MoreMenu.vue'
import KeyCap from '@/components/controls/KeyCap.vue'
import { errorSheetAddress } from '@/api/intakes'
import type { Intake } from '@/api/types'
import { PREPARE } from '@/composables/useSession'
import { STAGES } from '@/logic/stages'
import { count, counted, day, moment } from '@/logic/words'

const ERROR_SHEET =
  'The problem rows with what is wrong, for the office that they came from. ' +
  'Drop the corrected sheet here again.'
const props = defineProps<{ intake: Intake; page: string; working: boolean }>()
const emit = defineEmits<{ undo: []; redo: []; throwAway: [back: boolean] }>()

const sheets = computed(() =>
  (['xlsx', 'csv'] as const).map((kind) => ({
    title: kind.toUpperCase(),
    href: errorSheetAddress(props.intake.id, kind),
  })),
)
const said = computed(() => {
  const { file_name: file, reading, coverage, source, learnt, by, at } = props.intake
  const claims =
    {
      part: `claims everybody where ${props.intake.part_said}`,
      everybody: 'claims everybody',
      people: 'exactly the groups of its people',
      groups: 'exactly the people of its groups',
    }[coverage] ?? 'only the people in it'
  const sheet = reading.sheet ? `, sheet “${reading.sheet}”` : ''
  const takes = { both: '', new: 'only adds people', known: 'only changes people' }[
    props.intake.takes
  ]
  return [
    file + sheet,
    claims,
    takes,
    props.intake.due && `due ${day(props.intake.due)}`,
    source &&
      `${props.intake.source_by === 'guess' ? 'seems to be ' : ''}from ` +
        `${source}${learnt ? `, as learnt on ${day(learnt)}` : ''}`,
    `dropped ${moment(at, new Date())} by ${by || 'the command line'}`,
  ]
    .filter(Boolean)
    .join(' · ')
})
const causes = computed(() => props.intake.stops + props.intake.asks)
const asked = computed(() => props.intake.people_decisions.possible ?? 0)
const tabs = computed(() => [
  {
    page: 'file',
    title: STAGES.file,
    state: props.intake.unlike.length ? `${props.intake.unlike.length} unlike last time` : '✓',
    bad: props.intake.unlike.length > 0,
  },
  {
    page: 'columns',
    title: STAGES.columns,
    state: `${props.intake.columns_paired} of ${props.intake.columns_total}`,
    bad: false,
  },
  {
    page: 'problems',
    title: STAGES.problems,
    state: causes.value ? counted(causes.value, 'cause') : '✓',
    bad: causes.value > 0,
  },
  {
    page: 'people',
    title: STAGES.people,
    state: asked.value ? count(asked.value) : '✓',
    bad: asked.value > 0,
  },
  {
    page: 'changes',
    title: STAGES.changes,
    state: count(
      props.intake.ready.new +
        props.intake.ready.changed +
        props.intake.ready.absent +
        (props.intake.membership?.ends ?? 0),
    ),
    bad: false,
  },
  {
    page: 'apply',
    title: STAGES.apply,
    state: props.intake.job
      ? 'running'
      : props.intake.applied && !props.intake.changes
        ? 'receipt'
        : '',
    bad: false,
  },
])
const next = computed(() => {
  if (props.page === 'file')
    return {
      to: 'columns',
      title: `Columns: ${props.intake.columns_paired} of ${props.intake.columns_total}`,
    }
  if (props.page === 'columns')
    return {
      to: 'problems',
      title: causes.value ? `Problems: ${counted(causes.value, 'cause')}` : 'Problems: none',
    }
  if (props.page === 'apply' || !props.intake.changes) return null
  return { to: 'apply', title: `Review ${counted(props.intake.changes, 'change')}` }
})
const standing = computed(() => (props.intake.is_applied ? props.intake.applied : null))
const open = computed(() => props.intake.ready.read - props.intake.ready.left_out)
const mayWork = computed(() => props.intake.level >= PREPARE)
const labelOf = (number: number | null) =>
  props.intake.log.find((step) => step.number === number)?.label ?? ''
</script>

<template>
  <div class="title no-print">
    <div class="names">
      <h1>{{ intake.title }} → {{ intake.roster_title }}</h1>
      <p>
        <b v-if="intake.within">only where {{ intake.within }} · </b>{{ said }}
      </p>
    </div>
    <span class="grow" />
    <template v-if="mayWork">
      <button
        class="btn"
        :disabled="!intake.undo || working"
        :title="labelOf(intake.undo)"
        @click="emit('undo')"
      >
        Undo <KeyCap of="Z" />
      </button>
      <button v-if="intake.redo" class="btn" :disabled="working" @click="emit('redo')">
        Redo <KeyCap of="Y" />
      </button>
    </template>
    <button
      v-if="mayWork && page === 'file' && !intake.applied && !intake.thrown"
      class="btn"
      title="For a file that was dropped by mistake. It can be taken back under Intakes."
      @click="emit('throwAway', false)"
    >
      Throw away
    </button>
    <RouterLink
      v-if="page === 'columns' || page === 'apply'"
      class="btn"
      :to="`/intakes/${intake.id}/rehearsal`"
      title="What would become of a few rows, with nothing stored"
      >Rehearse</RouterLink
    >
    <MoreMenu
      v-if="page === 'problems' && causes"
      label="Download error sheet"
      :title="ERROR_SHEET"
      :items="sheets"
    />
    <RouterLink v-if="next" class="btn main" :to="`/intakes/${intake.id}/${next.to}`">{{
      next.title
    }}</RouterLink>
    <slot />
  </div>
  <p v-if="intake.thrown" class="flag thrown no-print" role="status">
    <b>This file was thrown away.</b> It is on nobody’s desk, and nothing of it is applied.
    <button v-if="mayWork" class="link" @click="emit('throwAway', true)">Take it back</button>
  </p>
  <p v-else-if="standing" class="standing no-print">
    Applied: <RouterLink :to="`/receipts/${standing}`">receipt {{ standing }}</RouterLink> says what
    it did.
    {{
      open
        ? `${counted(open, 'row')} stayed open and can be settled still.`
        : 'Every row is settled.'
    }}
  </p>
  <nav class="stages no-print" aria-label="This intake">
    <RouterLink
      v-for="tab in tabs"
      :key="tab.page"
      :to="`/intakes/${intake.id}/${tab.page}`"
      :class="{ on: tab.page === page }"
      :aria-current="tab.page === page ? 'page' : undefined"
    >
      {{ tab.title }}<i v-if="tab.state" :class="{ n: tab.bad }">{{ tab.state }}</i>
    </RouterLink>
  </nav>
</template>

<style scoped>
.title {
  height: 52px;
  padding: 7px 16px 0;
  display: flex;
  align-items: flex-start;
  gap: 10px;
  background: var(--snow);
}
.names {
  min-width: 0;
}
.sheet {
  display: inline-flex;
  gap: 1px;
}
h1 {
  font-size: 18px;
  line-height: 22px;
  margin: 0;
  font-weight: 600;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
p {
  color: var(--ink2);
  font-size: 13px;
  line-height: 16px;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.standing,
.thrown {
  background: var(--snow);
  padding: 0 16px 6px;
  font-size: 13px;
}
.thrown {
  margin: 0 16px 8px;
  padding: 4px 10px;
}
.stages {
  display: flex;
  background: var(--snow);
  border-bottom: 1px solid var(--line);
  padding: 0 16px;
  gap: 2px;
  height: 34px;
  flex: none;
}
.stages a {
  padding: 0 14px;
  line-height: 32px;
  color: var(--ink2);
  border: 1px solid transparent;
  border-bottom: 0;
  text-decoration: none;
  height: 34px;
}
.stages a:hover {
  color: var(--ink);
}
.stages a.on {
  background: var(--shade);
  border-color: var(--line);
  color: var(--ink);
  font-weight: 600;
  margin-bottom: -1px;
  height: 35px;
}
i {
  font-style: normal;
  font-size: 12px;
  margin-left: 6px;
  color: var(--ink2);
  font-weight: 400;
}
i.n {
  color: var(--stopped-ink);
  font-weight: 600;
}
</style>
