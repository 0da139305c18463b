<script setup lang="ts">
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { useRoute } from 'vue-router'
import ApplyPlan from '@/components/intake/ApplyPlan.vue'
import ReceiptSheet from '@/components/ReceiptSheet.vue'
import { ApiError } from '@/api/client'
import { getChanges, getMoved, postApply } from '@/api/intakes'
import { proposeIntake } from '@/api/proposals'
import { getChangeSet } from '@/api/rosters'
import { scheduleIntake } from '@/api/scheduled'
import type { Changes, ChangeSet, Moved, Tally } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { useIntake } from '@/composables/useIntake'
import { useJob } from '@/composables/useJob'
import { counted, listed } from '@/logic/words'

const emit = defineEmits<{ receipt: [tally: Tally | null] }>()
const route = useRoute()
const catalog = useCatalog()
const { id, intake, revision, refresh, add } = useIntake()
const { job, follow } = useJob()
/** From the click until what came of it is there: nothing can be pressed between. */
const busy = ref(false)
const changes = shallowRef<Changes | null>(null)
const receipt = shallowRef<ChangeSet | null>(null)
const problem = ref('')
const moved = shallowRef<Moved | null>(null)
/** The receipt stands here once everything ready was applied; with more to apply, the plan does. */
const showsReceipt = computed(
  () =>
    !!receipt.value &&
    !receipt.value.undone_by &&
    (!intake.value?.changes || route.query.receipt === '1'),
)

async function load(): Promise<void> {
  try {
    changes.value = await getChanges(id)
    receipt.value = intake.value?.applied ? await getChangeSet(intake.value.applied) : null
    emit('receipt', showsReceipt.value ? (receipt.value?.tally ?? null) : null)
    if (intake.value?.job && !busy.value) await wait(intake.value.job)
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}

async function wait(number: number): Promise<void> {
  busy.value = true
  try {
    const done = await follow(number)
    if (done?.state === 'failed') problem.value = done.problem
    await refresh()
    await load()
  } finally {
    busy.value = false
  }
  void catalog.load().catch(() => undefined)
}

async function apply(typed: number | null, day: string): Promise<void> {
  if (!intake.value || busy.value) return
  moved.value = null
  problem.value = ''
  busy.value = true
  try {
    if (day) {
      await scheduleIntake(id, intake.value.steps, intake.value.roster_version, typed, day)
      return await refresh()
    }
    const answer = await postApply(id, intake.value.steps, intake.value.roster_version, typed)
    if (answer.job) return await wait(answer.job)
    await refresh()
    await load()
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
    if (error instanceof ApiError && error.problem.type === 'urn:nevefield:RosterMoved')
      await sayMoved(intake.value.roster_version)
    await refresh()
  } finally {
    busy.value = false
  }
}

/** What another person's alteration made of the plan that was looked at, row by row. */
async function sayMoved(version: number): Promise<void> {
  moved.value = await getMoved(id, version).catch(() => null)
}

async function propose(typed: number | null, day: string): Promise<void> {
  if (!intake.value || busy.value) return
  problem.value = ''
  busy.value = true
  try {
    await proposeIntake(id, intake.value.steps, intake.value.roster_version, typed, day)
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
  await refresh()
  busy.value = false
}
const approved = (number: number | null) => void (number ? wait(number) : refresh())

watch([revision, () => route.query.receipt], () => void load())
onMounted(() => void load())
</script>

<template>
  <div v-if="intake" class="page">
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <div v-if="moved" class="flag" role="status">
      <b
        >{{
          moved.total
            ? `${counted(moved.total, 'row is', 'rows are')} another than what you looked at`
            : 'What you looked at is the same still'
        }}.</b
      >
      <ul v-if="moved.rows.length">
        <li v-for="one in moved.rows" :key="one.line">
          line {{ one.line }} {{ one.name }}:
          <template v-if="one.before !== one.now"
            >{{ one.before.replace('_', ' ') }} before,
            {{ one.now.replace('_', ' ') }} now</template
          ><template v-if="one.fields.length"> ({{ listed(one.fields) }})</template>
        </li>
      </ul>
    </div>
    <div v-if="busy || job" class="sheet run" role="status">
      <h2>
        {{ job?.state === 'queued' ? 'Waiting for a worker …' : `${job?.doing || 'Working'} …` }}
      </h2>
      <progress
        :value="job?.total ? job.done : undefined"
        :max="job?.total || 1"
        aria-label="How far it is"
      />
      <p class="soft">All of it or nothing. You can leave this page and come back.</p>
    </div>
    <ReceiptSheet v-else-if="showsReceipt && receipt" :receipt="receipt" :intake="intake" />
    <ApplyPlan
      v-else-if="changes"
      :intake="intake"
      :changes="changes"
      :before="receipt"
      @apply="apply"
      @propose="propose"
      @approved="approved"
      @decided="refresh"
      @step="add"
    />
  </div>
</template>

<style scoped>
.page {
  flex: 1;
  min-height: 0;
  overflow: auto;
  padding: 10px 0 0 14px;
}
.flag {
  margin: 0 16px 10px 0;
}
.run {
  padding: 24px 26px;
  background: var(--snow);
  border: 1px solid var(--ink);
  border-right: 0;
  min-height: 100%;
}
progress {
  width: 420px;
  height: 10px;
  accent-color: var(--fir);
  margin: 14px 0 8px;
  display: block;
}
@media print {
  .page {
    padding: 0;
    overflow: visible;
  }
}
</style>
