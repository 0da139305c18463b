<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { listRequests } from '@/api/submissions'
import type { ChangeRequests, Submission } from '@/api/types'
import { useSubmission } from '@/composables/useSubmission'
import { count, counted, momentInFull } from '@/logic/words'

/** What was asked of the authority, which stays to be seen whatever was decided since. */
const props = defineProps<{ submission: Submission }>()
const open = useSubmission()
const asked = ref<ChangeRequests | null>(null)
const states = computed(() =>
  Object.entries(asked.value?.counts ?? {})
    .map(
      ([state, size]) =>
        `${count(size)} ${{ waits: 'without an answer', agreed: 'granted', refused: 'refused' }[state] ?? state}`,
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
</script>

<template>
  <section class="round" aria-label="Change requests">
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
</template>

<style scoped src="./round.css"></style>
<style scoped>
table {
  margin-top: 8px;
}
</style>
