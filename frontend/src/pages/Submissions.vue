<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { Modal } from 'ant-design-vue'
import { beginSubmission, listSubmissions } from '@/api/submissions'
import type { SubmissionList } from '@/api/types'
import { standingLayers, STANDING_WORDS } from '@/logic/standing'
import { count, day, today } from '@/logic/words'

const router = useRouter()
const found = ref<SubmissionList | null>(null)
const problem = ref('')
const asking = ref(false)
const like = ref(0)
const title = ref('')
const side = ref<'practice' | 'live'>('practice')
const on = ref(today())
const due = ref('')
const models = computed(() => found.value?.submissions.filter((one) => found.value?.may_begin.includes(one.roster)) ?? [])

async function load(): Promise<void> {
  try {
    found.value = await listSubmissions()
    like.value = models.value[0]?.id ?? 0
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}
async function begin(): Promise<void> {
  const model = models.value.find((one) => one.id === like.value)
  if (!model) return
  problem.value = ''
  try {
    const made = await beginSubmission(model.roster, { title: title.value, side: side.value, day: on.value, due: due.value || null, like: like.value })
    await router.push(`/submissions/${made.submission}/contents`)
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}
onMounted(load)
</script>

<template>
  <section class="page">
    <div class="head"><h1>Submissions</h1><span class="soft">records that go to an authority, round by round</span><span class="grow" /><button v-if="models.length" class="btn main" @click="asking = true">Begin another</button></div>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <table v-if="found?.submissions.length" class="list">
      <thead><tr><th>Submission</th><th>To</th><th>Of</th><th class="n">Records</th><th>Where they stand</th><th>Next</th><th>Due</th></tr></thead>
      <tbody>
        <tr v-for="one in found.submissions" :key="one.id" class="click" @click="router.push(`/submissions/${one.id}/contents`)">
          <td><RouterLink :to="`/submissions/${one.id}/contents`">{{ one.title }}</RouterLink>{{ one.side === 'practice' ? ' (practice)' : '' }}</td><td>{{ one.authority }}</td><td>{{ one.roster_title }}</td><td class="n">{{ count(one.tally.records) }}</td>
          <td><span class="strip" role="img" :aria-label="standingLayers(one.tally, 300).map((each) => `${each.count} ${STANDING_WORDS[each.state]}`).join(', ')"><i v-for="each in standingLayers(one.tally, 300)" :key="each.state" :class="`s-${each.state}`" :style="{ flexGrow: Math.sqrt(each.count) }" /><i v-if="one.tally.not_sent" class="s-not_sent" :style="{ flexGrow: Math.sqrt(one.tally.not_sent) }" /></span></td>
          <td>{{ one.said }}</td><td>{{ one.due ? day(one.due) : '' }}</td>
        </tr>
      </tbody>
    </table>
    <div v-else-if="found" class="empty"><h2>No submission yet</h2><p>A submission sends records of a roster to an authority and works off what comes back. The first one is begun with its layout through the API: <span class="mono">POST /api/rosters/NAME/submissions</span>; later ones are begun like it.</p></div>
    <p v-else-if="!problem" class="soft" role="status">Opening the submissions …</p>
    <Modal destroy-on-close :open="asking" title="Begin a submission" :footer="null" :width="460" @cancel="asking = false">
      <p class="soft">It is written as an earlier one was, with its codes, and takes in whom the same condition takes in on its own day.</p>
      <label class="ask">Like <select v-model="like" class="box"><option v-for="one in models" :key="one.id" :value="one.id">{{ one.title }} · {{ one.roster_title }}</option></select></label>
      <label class="ask">Title <input v-model="title" class="box" maxlength="200" placeholder="Spring return" /></label>
      <label class="ask">Side <select v-model="side" class="box"><option value="practice">practice: nothing counts</option><option value="live">live</option></select></label>
      <label class="ask">Day of reference <input v-model="on" type="date" class="box" /></label>
      <label class="ask">Due <input v-model="due" type="date" class="box" /></label>
      <p class="do"><button class="btn main" :disabled="!like || !on" @click="begin">Begin</button><button class="btn" @click="asking = false">Not now</button></p>
    </Modal>
  </section>
</template>

<style scoped>
.page { flex: 1; padding: 12px 16px; overflow-y: auto; background: var(--snow); }
.head { display: flex; gap: 10px; align-items: baseline; margin-bottom: 8px; }
h1 { font-size: 18px; line-height: 26px; font-weight: 600; margin: 0; }
.strip { display: flex; width: 220px; height: 14px; gap: 1px; }
.strip i { min-width: 5px; }
.s-accepted { background: var(--accepted); }
.s-to_number { background: var(--waiting); }
.s-ready { background: var(--ready); }
.s-rejected { background: var(--stopped); }
.s-not_sent { border: 1px dashed var(--ink3); }
.ask { display: grid; grid-template-columns: 130px 1fr; align-items: center; margin: 8px 0; }
.do { display: flex; gap: 8px; margin-top: 14px; }
</style>
