<script setup lang="ts">
import { computed, ref } from 'vue'
import CauseItem from './CauseItem.vue'
import Mark from '@/components/Mark.vue'
import type { Cause, Remedy } from '@/api/types'
import { useIntake } from '@/composables/useIntake'
import { followersOf, isOpen, parentsOf, needsApproval } from '@/logic/causes'
import { count, counted } from '@/logic/words'

const props = defineProps<{ causes: Cause[]; selected: string; locked: boolean }>()
const emit = defineEmits<{
  choose: [id: string]
  settle: [cause: Cause, remedy: Remedy]
  add: [cause: Cause]
}>()

const { intake } = useIntake()
const withNotes = ref(false)
const of = (weight: string) =>
  props.causes.filter(
    (one) => one.weight === weight && isOpen(one) && !parentsOf(one, props.causes).length,
  )
const followers = (id: string) => followersOf(id, props.causes)
/** What of a cause's followers is open: it stands in full under it. */
const opened = (id: string) => followers(id).filter((one) => one.id === props.selected)
const stops = computed(() => of('stop'))
const asks = computed(() => of('ask'))
const wholes = computed(() => asks.value.filter((one) => one.whole).length)
const notes = computed(() => of('note'))
const sum = (of: (one: Cause) => number) => props.causes.reduce((all, one) => all + of(one), 0)
const needing = computed(() =>
  needsApproval(intake.value?.tally.waiting ?? 0, wholes.value, asks.value.length),
)
const given = computed(() => sum((one) => one.waived))
const earlier = computed(() => sum((one) => one.waived_before))
const noted = computed(() => notes.value.reduce((all, one) => all + one.rows, 0))
</script>

<template>
  <div class="causes" role="region" aria-label="Causes">
    <p v-if="stops.length" class="group">
      {{ counted(intake?.tally.stopped ?? 0, 'row') }} stopped by
      {{ counted(stops.length, 'cause') }}
    </p>
    <p v-else class="group"><b class="done">Nothing stops a row.</b></p>
    <template v-for="one in stops" :key="one.id">
      <CauseItem
        :cause="one"
        :followers="followers(one.id)"
        :on="one.id === selected"
        :locked="locked"
        @choose="emit('choose', one.id)"
        @open="(id) => emit('choose', id)"
        @settle="(remedy) => emit('settle', one, remedy)"
        @add="emit('add', one)"
      />
      <CauseItem
        v-for="two in opened(one.id)"
        :key="two.id"
        class="inner"
        :cause="two"
        on
        :locked="locked"
        @choose="emit('choose', two.id)"
        @settle="(remedy) => emit('settle', two, remedy)"
        @add="emit('add', two)"
      />
    </template>
    <p v-if="asks.length" class="group">{{ needing }}</p>
    <template v-for="one in asks" :key="one.id">
      <CauseItem
        :cause="one"
        :followers="followers(one.id)"
        :on="one.id === selected"
        :locked="locked"
        @choose="emit('choose', one.id)"
        @open="(id) => emit('choose', id)"
        @settle="(remedy) => emit('settle', one, remedy)"
        @add="emit('add', one)"
      />
      <CauseItem
        v-for="two in opened(one.id)"
        :key="two.id"
        class="inner"
        :cause="two"
        on
        :locked="locked"
        @choose="emit('choose', two.id)"
        @settle="(remedy) => emit('settle', two, remedy)"
        @add="emit('add', two)"
      />
    </template>
    <p v-if="given || earlier" class="group">
      <RouterLink :to="`/intakes/${intake?.id}/problems?outcome=approved`"
        >Approved with a reason: {{ count(given + earlier) }}</RouterLink
      ><template v-if="earlier"
        >,
        {{ given ? `${count(earlier)} of them` : given + earlier === 1 ? 'it was' : 'all' }}
        approved with an earlier file:
        <RouterLink :to="`/rosters/${intake?.roster}/waivers`">waivers</RouterLink></template
      >
    </p>
    <button
      v-if="notes.length"
      class="plain fold"
      :aria-expanded="withNotes"
      @click="withNotes = !withNotes"
    >
      <Mark weight="note" /><span
        >{{ counted(noted, 'note') }} of {{ counted(notes.length, 'kind') }}:
        {{
          notes
            .map((one) => one.title)
            .slice(0, 2)
            .join('; ')
        }}{{ notes.length > 2 ? ' …' : '' }}</span
      >
    </button>
    <template v-if="withNotes">
      <CauseItem
        v-for="one in notes"
        :key="one.id"
        :cause="one"
        :followers="followers(one.id)"
        :on="one.id === selected"
        :locked="locked"
        @choose="emit('choose', one.id)"
      />
    </template>
  </div>
</template>

<style scoped>
.causes {
  width: 318px;
  flex: none;
  padding: 10px 0 12px 12px;
  overflow-y: auto;
  overflow-x: hidden;
}
.group {
  padding: 0 8px 6px 0;
  color: var(--ink2);
  font-size: 13px;
}
.group:not(:first-child) {
  padding-top: 6px;
}
.inner {
  margin-left: 14px;
}
.done {
  color: var(--fir);
}
.fold {
  display: flex;
  gap: 9px;
  align-items: baseline;
  width: calc(100% - 8px);
  background: var(--snow);
  border: 1px solid var(--line);
  padding: 5px 10px;
  color: var(--ink2);
  font-size: 13px;
  line-height: 17px;
  margin-bottom: 6px;
}
.fold:hover {
  border-color: var(--ink2);
}
@media (min-width: 1600px) {
  .causes {
    width: 400px;
  }
}
@media (width < 1180px) {
  .causes {
    width: 246px;
  }
}
</style>
