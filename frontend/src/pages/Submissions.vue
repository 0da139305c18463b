<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { listSubmissions } from '@/api/submissions'
import type { SubmissionList } from '@/api/types'
import { standingParts, STANDING_WORDS } from '@/logic/standing'
import { count, day } from '@/logic/words'

const router = useRouter()
const found = ref<SubmissionList | null>(null)
const problem = ref('')

onMounted(async () => {
  try {
    found.value = await listSubmissions()
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
})
</script>

<template>
  <section class="page">
    <div class="head">
      <h1>Submissions</h1>
      <span class="soft">records that go to an authority, round by round</span
      ><span class="grow" /><RouterLink
        v-if="found?.may_begin.length"
        class="btn main"
        to="/submissions/begin"
        >Begin {{ found.submissions.length ? 'another' : 'one' }} …</RouterLink
      >
    </div>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <table v-if="found?.submissions.length" class="list">
      <thead>
        <tr>
          <th>Submission</th>
          <th>To</th>
          <th>Of</th>
          <th class="n">Records</th>
          <th>Where they stand</th>
          <th>Next</th>
          <th>Due</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="one in found.submissions"
          :key="one.id"
          class="click"
          :class="{ closed: one.closed }"
          @click="router.push(`/submissions/${one.id}/contents`)"
        >
          <td>
            <RouterLink :to="`/submissions/${one.id}/contents`">{{ one.title }}</RouterLink><span
              v-if="one.side === 'practice'"
              class="practice"
              >practice</span
            >
          </td>
          <td>{{ one.authority }}</td>
          <td>{{ one.roster_title }}</td>
          <td class="n">{{ count(one.tally.records) }}</td>
          <td>
            <span
              class="strip"
              role="img"
              :aria-label="
                standingParts(one.tally)
                  .map((each) => `${each.count} ${STANDING_WORDS[each.state]}`)
                  .join(', ') || 'nothing was sent'
              "
              ><i
                v-for="each in standingParts(one.tally)"
                :key="each.state"
                :class="`s-${each.state}`"
                :style="{ flexGrow: Math.sqrt(each.count) }" /><i
                v-if="one.tally.not_sent"
                class="s-not_sent"
                :style="{ flexGrow: Math.sqrt(one.tally.not_sent) }"
            /></span>
          </td>
          <td>{{ one.said }}</td>
          <td>{{ one.due ? day(one.due) : '' }}</td>
        </tr>
      </tbody>
    </table>
    <div v-else-if="found" class="empty">
      <h2>No submission yet</h2>
      <p>
        A submission sends records of a roster to an authority, works off what comes back, and
        obtains its numbers.
      </p>
    </div>
    <p v-else-if="!problem" class="soft" role="status">Opening the submissions …</p>
  </section>
</template>

<style scoped src="./page.css"></style>
<style scoped>
.practice {
  margin-left: 8px;
  border: 1px dashed var(--ink2);
  padding: 0 6px;
  font-size: 12px;
  color: var(--ink2);
}
tr.closed td {
  color: var(--ink2);
}
.strip {
  display: flex;
  width: 220px;
  height: 14px;
  gap: 1px;
}
.strip i {
  min-width: 5px;
}
.s-accepted {
  background: var(--accepted);
}
.s-to_number {
  background: var(--waiting);
}
.s-ready {
  background: var(--ready);
}
.s-rejected {
  background: var(--stopped);
}
.s-not_sent {
  border: 1px dashed var(--ink3);
}
</style>
