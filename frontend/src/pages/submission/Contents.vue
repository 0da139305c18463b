<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import ReasonDialog from '@/components/ReasonDialog.vue'
import { decide, getPeopleOf, takeIn } from '@/api/submissions'
import type { PersonHere, Submission } from '@/api/types'
import { PREPARE } from '@/composables/useSession'
import { useSubmission } from '@/composables/useSubmission'
import { isOnWay, STANDING_WORDS, type Standing } from '@/logic/standing'
import { count, counted, day } from '@/logic/words'

const PAGE = 200

const props = defineProps<{ submission: Submission }>()
const open = useSubmission()
const route = useRoute()
const router = useRouter()
const people = ref<PersonHere[]>([])
const total = ref(0)
const text = ref('')
const keeping = ref<PersonHere | null>(null)
const state = computed(() => (route.query.state === 'all' ? '' : String(route.query.state ?? '')))
const may = computed(() => props.submission.level >= PREPARE)
const STATES: Standing[] = ['accepted', 'to_number', 'ready', 'rejected', 'not_sent']
let latest = 0

async function load(more = false): Promise<void> {
  const mine = ++latest
  const start = more ? people.value.length : 0
  const found = await getPeopleOf(open.id, {
    state: state.value,
    rule: '',
    q: text.value,
    start,
    limit: PAGE,
  })
  if (mine !== latest) return
  people.value = more ? [...people.value, ...found.people] : found.people
  total.value = found.total
}
const states = [
  { value: '', label: 'everywhere' },
  ...STATES.map((name) => ({ value: name, label: STANDING_WORDS[name] ?? name })),
]
const setState = (name: string) => void router.replace({ query: { state: name || undefined } })
async function keep(reason: string): Promise<void> {
  const one = keeping.value
  keeping.value = null
  if (one) await open.act(() => decide(open.id, { records: [one.record], kind: 'hold', reason }))
}
const release = (one: PersonHere) =>
  open.act(() => decide(open.id, { records: [one.record], kind: 'clear' }))

watch([state, text, () => props.submission.touched], () => void load(), { immediate: true })
</script>

<template>
  <div class="page">
    <div class="side">
      <h3>Of whom</h3>
      <p class="soft">
        {{ submission.roster_title }} on {{ day(submission.day) }},
        {{ counted(submission.tally.records, 'record') }}.
      </p>
      <p>
        <RouterLink :to="`/submissions/${submission.id}/layout`"
          >How it is written for {{ submission.authority }}</RouterLink
        >
      </p>
      <p v-if="submission.joining" class="flag">
        {{ counted(submission.joining, 'record belongs', 'records belong') }} in it by now and
        {{ submission.joining === 1 ? 'is' : 'are' }} not.
        <button v-if="may" class="link" @click="open.act(() => takeIn(open.id))">
          Take {{ submission.joining === 1 ? 'it' : 'them' }} in
        </button>
      </p>
      <template v-for="by in submission.parts" :key="by.title">
        <h3>How far each {{ by.title.toLowerCase() }} is</h3>
        <div v-for="one in by.parts" :key="one.value" class="part">
          <span>{{ one.value }}</span><span
            class="bar"
            role="img"
            :aria-label="`${one.accepted} of ${one.records} accepted`"
            ><i :style="{ width: `${(100 * one.accepted) / one.records}%` }" /></span
          ><span class="soft">{{ count(one.accepted) }} of {{ count(one.records) }}</span>
        </div>
      </template>
      <p v-if="submission.warned" class="soft">
        <RouterLink :to="`/submissions/${submission.id}/before?which=warned`">{{
          counted(submission.warned, 'warning')
        }}</RouterLink>
        that nobody has let pass; none of them keeps a record back.
      </p>
    </div>
    <div class="main">
      <div class="find">
        <input
          v-model="text"
          class="box"
          placeholder="Name or number"
          aria-label="Find somebody in it"
        />
        <ChooseOne
          :model-value="state"
          :options="states"
          label="Where they stand"
          @update:model-value="(name) => setState(name ?? '')"
        />
        <span class="soft" role="status">{{ counted(total, 'record') }}</span>
      </div>
      <div class="scroll">
        <table v-if="people.length" class="list">
          <thead>
            <tr>
              <th>Who</th>
              <th>Key</th>
              <th>Number</th>
              <th>Stands</th>
              <th>Why</th>
              <th />
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in people" :key="one.record">
              <td>{{ one.name }}</td>
              <td class="mono">{{ one.key }}</td>
              <td class="mono">{{ one.number }}</td>
              <td>
                <span class="dot" :class="`s-${one.state}`" />{{
                  isOnWay(one.why) ? 'on its way' : STANDING_WORDS[one.state]
                }}
              </td>
              <td class="soft why">
                {{ isOnWay(one.why) ? one.why.replace('on its way ', '') : one.why
                }}<template v-if="one.state === 'rejected' && !one.why">{{
                  one.rules.join(' ')
                }}</template>
              </td>
              <td class="n">
                <button
                  v-if="may && one.why.startsWith('kept back')"
                  class="link"
                  @click="release(one)"
                >
                  Let go again</button
                ><button
                  v-else-if="may && /^(ours is right|the number is questioned)/.test(one.why)"
                  class="link"
                  @click="release(one)"
                >
                  Decide anew</button
                ><button
                  v-else-if="may && one.state !== 'accepted' && !isOnWay(one.why)"
                  class="link quiet"
                  @click="keeping = one"
                >
                  Keep back
                </button>
              </td>
            </tr>
          </tbody>
        </table>
        <div v-else class="empty">
          <h2>Nobody</h2>
          <p>
            {{ text ? 'Nobody of that name or number stands here.' : 'No record stands here.' }}
          </p>
        </div>
        <p v-if="people.length < total" class="more">
          <button class="btn" @click="load(true)">
            {{ counted(Math.min(PAGE, total - people.length), 'more', 'more') }} of
            {{ count(total - people.length) }}
          </button>
        </p>
      </div>
    </div>
    <ReasonDialog
      :open="!!keeping"
      :title="`Keep ${keeping?.name ?? ''} back`"
      said="It is not sent until somebody lets it go; the reason is kept."
      act="Keep back"
      :usual="['asked the office', 'withdrew']"
      @done="keep"
      @close="keeping = null"
    />
  </div>
</template>

<style scoped>
.page {
  flex: 1;
  display: flex;
  min-height: 0;
}
.side {
  width: 300px;
  flex: none;
  padding: 14px 14px;
  overflow-y: auto;
}
.side h3 {
  margin: 12px 0 4px;
}
.side h3:first-child {
  margin-top: 0;
}
.flag {
  margin-top: 8px;
}
.part {
  display: grid;
  grid-template-columns: 96px 1fr auto;
  gap: 8px;
  align-items: center;
  font-size: 13px;
  padding: 2px 0;
}
.bar {
  height: 10px;
  background: var(--drift);
  display: block;
}
.bar i {
  display: block;
  height: 100%;
  background: var(--fir);
}
.main {
  flex: 1;
  min-width: 0;
  display: flex;
  flex-direction: column;
  background: var(--snow);
  border-left: 1px solid var(--line);
}
.find {
  display: flex;
  gap: 8px;
  align-items: center;
  padding: 8px 12px;
}
.scroll {
  flex: 1;
  overflow: auto;
  min-height: 0;
}
.why {
  max-width: 340px;
  overflow: hidden;
  text-overflow: ellipsis;
}
tr .quiet {
  opacity: 0;
}
tr:hover .quiet,
.quiet:focus-visible {
  opacity: 1;
}
.dot {
  display: inline-block;
  width: 9px;
  height: 9px;
  margin-right: 6px;
  background: var(--paper);
  border: 1px dashed var(--ink3);
}
.dot.s-accepted {
  background: var(--accepted);
  border: 0;
}
.dot.s-to_number {
  background: var(--waiting);
  border: 0;
  border-radius: 50%;
}
.dot.s-ready {
  background: var(--ready);
  border: 0;
  border-radius: 50% 50% 0 0;
}
.dot.s-rejected {
  background: var(--stopped);
  border: 0;
}
.more {
  padding: 10px 12px;
}
</style>
