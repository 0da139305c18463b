<script setup lang="ts">
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import StandingLayers from '@/components/submission/StandingLayers.vue'
import SubmissionHead from '@/components/submission/SubmissionHead.vue'
import NotHere from '@/components/NotHere.vue'
import { provideSubmission } from '@/composables/useSubmission'
import { STAGES } from '@/logic/stages'
import { usePageTitle } from '@/composables/usePageTitle'

const route = useRoute()
const router = useRouter()
const open = provideSubmission(Number(route.params.id))
const page = computed(() => String(route.path.split('/').at(-1)))
const selected = computed(() =>
  page.value === 'contents'
    ? String(route.query.state ?? '')
    : ({ rejected: 'rejected', numbers: 'to_number' }[page.value] ?? ''),
)

function openState(state: string): void {
  const direct: Record<string, string> = { rejected: 'rejected', to_number: 'numbers' }
  if (direct[state]) void router.push(`/submissions/${open.id}/${direct[state]}`)
  else void router.push({ path: `/submissions/${open.id}/contents`, query: { state } })
}
usePageTitle(
  () => open.submission.value && `${STAGES[page.value] ?? ''} · ${open.submission.value.title}`,
)
</script>

<template>
  <template v-if="open.submission.value">
    <StandingLayers :submission="open.submission.value" :selected="selected" @open="openState" />
    <section class="work">
      <SubmissionHead :submission="open.submission.value" :page="page" />
      <p v-if="open.problem.value" class="flag stop" role="alert">{{ open.problem.value }}</p>
      <RouterView :submission="open.submission.value" />
    </section>
  </template>
  <NotHere
    v-else-if="open.problem.value"
    title="This submission cannot be opened"
    :problem="open.problem.value"
    to="/submissions"
    back="All submissions"
  />
  <p v-else class="empty opening" role="status">Opening the submission …</p>
</template>

<style scoped>
.work {
  flex: 1;
  display: flex;
  flex-direction: column;
  min-width: 0;
  min-height: 0;
}
</style>
