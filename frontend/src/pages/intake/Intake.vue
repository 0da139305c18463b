<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { useEventListener } from '@vueuse/core'
import { useRoute, useRouter } from 'vue-router'
import ConflictDialog from '@/components/intake/ConflictDialog.vue'
import IntakeHead from '@/components/intake/IntakeHead.vue'
import TallyLayers from '@/components/TallyLayers.vue'
import NotHere from '@/components/NotHere.vue'
import { provideIntake } from '@/composables/useIntake'
import { useCatalog } from '@/composables/useCatalog'
import { useKeys } from '@/composables/useKeys'
import { usePageTitle } from '@/composables/usePageTitle'
import type { Tally } from '@/api/types'
import { STAGES } from '@/logic/stages'

const route = useRoute()
const router = useRouter()
const open = provideIntake(Number(route.params.id))
const catalog = useCatalog()
const { intake } = open
/** The receipt's own tally while the receipt is looked at: what was applied, not what is left. */
const receipt = ref<Tally | null>(null)
const page = computed(() => String(route.path.split('/').at(-1)))
const tally = computed(() => (page.value === 'apply' && receipt.value) || intake.value?.tally)
const selected = computed(() => {
  if (route.query.outcome) return String(route.query.outcome)
  const family = String(route.query.family ?? (intake.value?.tally.new ? 'join' : ''))
  return page.value === 'changes' ? ({ join: 'new', absent: 'absent' }[family] ?? 'changed') : ''
})

function openOutcome(outcome: string): void {
  if (outcome === 'absent')
    void router.push({ path: `/intakes/${open.id}/changes`, query: { family: 'absent' } })
  else void router.push({ path: `/intakes/${open.id}/problems`, query: { outcome } })
}

const titleOf = (name: string | undefined) =>
  catalog.roster(intake.value?.roster ?? '')?.fields.find((one) => one.name === name)?.title ??
  name ??
  ''

/** Whose value stands is somebody's decision; mine is set again over what is known now. */
function decide(mine: boolean): void {
  const step = open.conflict.value?.step
  open.conflict.value = null
  if (mine && step) void open.add(step)
}

const look = () =>
  document.visibilityState === 'visible' && !open.working.value && void open.refresh()
useKeys({ z: () => void open.undo(), y: () => void open.redo() })
useEventListener(document, 'visibilitychange', look)
onMounted(async () => {
  if (!catalog.state.rosters.length) await catalog.load().catch(() => undefined)
  await open.refresh()
  const fields = catalog.roster(intake.value?.roster ?? '')?.fields ?? []
  await Promise.all(fields.map((one) => catalog.loadList(one.code_list).catch(() => undefined)))
})
usePageTitle(
  () =>
    intake.value &&
    `${STAGES[page.value] ?? ''} · ${intake.value.title} → ${intake.value.roster_title}`,
)
</script>

<template>
  <template v-if="intake && tally">
    <TallyLayers
      :tally="tally"
      :people="intake.people"
      :not-data="intake.not_data"
      :selected="selected"
      :working="open.working.value"
      @open="openOutcome"
      @lines="router.push(`/intakes/${open.id}/file`)"
    />
    <section class="work">
      <IntakeHead
        :intake="intake"
        :page="page"
        :working="open.working.value"
        @undo="open.undo()"
        @redo="open.redo()"
        @throw-away="(back) => void open.throwAway(back)"
      />
      <p v-if="open.problem.value" class="flag stop" role="alert">{{ open.problem.value }}</p>
      <p v-if="open.interrupted.value" class="flag" role="status">
        <b>Not done:</b> {{ open.interrupted.value }}. The session had ended, or nothing answered.
        <button class="link" @click="open.goOn(true)">Do it now</button>
        <button class="link" @click="open.goOn(false)">Discard it</button>
      </p>
      <ConflictDialog
        :conflict="open.conflict.value"
        :title="titleOf(open.conflict.value?.field)"
        @mine="decide(true)"
        @theirs="decide(false)"
      />
      <RouterView @receipt="(one: Tally | null) => (receipt = one)" />
    </section>
  </template>
  <NotHere
    v-else-if="open.problem.value"
    title="This intake cannot be opened"
    :problem="open.problem.value"
    to="/intakes"
    back="All intakes"
  />
  <p v-else class="empty opening" role="status">Opening the intake …</p>
</template>

<style scoped>
.work {
  flex: 1;
  display: flex;
  flex-direction: column;
  min-width: 0;
}
@media print {
  .work {
    display: block;
  }
}
</style>
