<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import PersonFields from '@/components/submission/PersonFields.vue'
import RuleList from '@/components/submission/RuleList.vue'
import { decide, getHeld, getPersonOf, getRulesOf, takeTheirs } from '@/api/submissions'
import type { PersonInFull, RulesHere, Submission } from '@/api/types'
import { useKeys } from '@/composables/useKeys'
import { PREPARE } from '@/composables/useSession'
import { useSubmission } from '@/composables/useSubmission'
import { counted } from '@/logic/words'

type Way = 'right' | 'wrong' | 'question'

const props = defineProps<{ submission: Submission }>()
const open = useSubmission()
const router = useRouter()
const found = ref<RulesHere | null>(null)
const rule = ref('')
const record = ref<number | null>(null)
const person = ref<PersonInFull | null>(null)
const way = ref<Way>('right')
const reason = ref('')
const file = ref<{ name: string; data: string } | null>(null)
let named = '' // the rule whose people were looked at last
const may = computed(() => props.submission.level >= PREPARE)
const current = computed(() =>
  found.value?.rules.find((one) => one.rule === rule.value && !one.follows),
)
const place = computed(() =>
  current.value && record.value !== null ? current.value.records.indexOf(record.value) : -1,
)
const next = computed(() => props.submission.rounds.length + 1)
const canRight = computed(() => !!person.value?.has_held)
const canQuestion = computed(() => !!person.value?.number && !!person.value.round)
const takes = computed(
  () =>
    person.value?.fields
      .filter((one) => one.is_read && !one.is_same && one.source)
      .map((one) => one.title) ?? [],
)

async function load(): Promise<void> {
  found.value = await getRulesOf(open.id, 'rejected')
  const here = found.value.rules.filter((one) => !one.follows)
  const same = here.find((one) => one.rule === rule.value) ?? here[0]
  rule.value = same?.rule ?? ''
  if (!same?.records.includes(record.value ?? -1)) record.value = same?.records[0] ?? null
}
function choose(name: string, number: number): void {
  rule.value = name
  record.value = number
}
/** What they hold may be another by now than when they answered. */
async function look(): Promise<void> {
  const now = person.value
  if (!now) return
  await open.act(async () => {
    const fields = await getHeld(open.id, now.record, rule.value)
    if (person.value === now) person.value = { ...now, fields, answered_at: null }
  })
}
function step(by: number): void {
  const list = current.value?.records ?? []
  const to = list[place.value + by]
  if (to !== undefined) record.value = to
}
async function attach(event: Event): Promise<void> {
  const chosen = (event.target as HTMLInputElement).files?.[0]
  if (!chosen) return void (file.value = null)
  const bytes = new Uint8Array(await chosen.arrayBuffer())
  let text = ''
  for (let start = 0; start < bytes.length; start += 32_768)
    text += String.fromCharCode(...bytes.subarray(start, start + 32_768))
  file.value = { name: chosen.name, data: btoa(text) }
}
async function done(everybody: boolean): Promise<void> {
  const records = everybody
    ? (current.value?.records ?? [])
    : record.value === null
      ? []
      : [record.value]
  // what is shown is still somebody else's
  if (!records.length || !may.value || person.value?.record !== record.value) return
  if (way.value === 'wrong') {
    const fields = person.value?.fields.filter((one) => one.is_read).map((one) => one.field) ?? []
    let intake = 0
    if (await open.act(async () => (intake = (await takeTheirs(open.id, records, fields)).intake)))
      void router.push(`/intakes/${intake}/changes`)
    return
  }
  const said = {
    records,
    kind: way.value,
    rule: rule.value,
    reason: reason.value,
    attached: file.value?.name ?? '',
    attachment: file.value?.data ?? '',
  }
  if (await open.act(() => decide(open.id, said))) {
    reason.value = ''
    file.value = null
  }
}

useKeys({
  '.': () => step(1),
  ',': () => step(-1),
  ArrowDown: () => step(1),
  ArrowUp: () => step(-1),
  1: () => void (way.value = 'right'),
  2: () => void (way.value = 'wrong'),
  3: () => void (way.value = 'question'),
})
watch(() => props.submission.touched, load, { immediate: true })
watch(
  [record, rule, () => props.submission.touched],
  async () => {
    const number = record.value
    const full =
      number === null || !may.value
        ? null
        : await getPersonOf(open.id, number, rule.value).catch(() => null)
    if (number !== record.value) return
    person.value = full
    if (!full) return
    if (named !== rule.value) way.value = 'right' // what was chosen for one person holds for the others of the rule
    named = rule.value
    if (!canQuestion.value && way.value === 'question') way.value = 'right'
    if (!canRight.value && way.value === 'right') way.value = 'wrong'
  },
  { immediate: true },
)
</script>

<template>
  <div v-if="found" class="cols">
    <RuleList
      :rules="found.rules"
      :records="found.records"
      :rule="rule"
      :record="record"
      :empty="submission.rounds.length ? 'Nothing is rejected.' : 'Nothing was sent yet.'"
      @choose="choose"
    />
    <div v-if="person" class="pane">
      <div class="head">
        <h2>{{ person.name }}</h2>
        <span class="mono">{{ person.key }}{{ person.number ? ` · ${person.number}` : '' }}</span
        ><span class="grow" />
        <span class="soft">{{ place + 1 }} of {{ current?.records.length }}</span
        ><button class="plain" aria-label="The one before" @click="step(-1)"><kbd>,</kbd></button
        ><button class="plain" aria-label="The next one" @click="step(1)"><kbd>.</kbd></button>
      </div>
      <p class="flag stop rule">
        <b>{{ person.rule }}</b> {{ person.text }}
        <span class="soft">Reads: {{ person.reads.join(', ').toLowerCase() }}.</span>
      </p>
      <p v-if="person.rules.length > 1" class="soft small">
        Also rejected by {{ person.rules.filter((one) => one !== person!.rule).join(', ') }}.
      </p>
      <p v-for="one in person.requests.filter((each) => each.answer)" :key="one.at" class="flag">
        {{ submission.authority }} on the change that {{ one.by || 'somebody' }} asked for{{
          one.round ? ` with round ${one.round}` : ''
        }}: {{ one.answer }}
      </p>
      <PersonFields
        :person="person"
        :authority="submission.authority"
        :can-look="submission.can_reach && canQuestion"
        @look="look"
      />
      <div class="ways" role="radiogroup" aria-label="Who is right">
        <button
          class="way"
          role="radio"
          :aria-checked="way === 'right'"
          :disabled="!canRight"
          :class="{ on: way === 'right' }"
          @click="way = 'right'"
        >
          <b>Ours is right <kbd>1</kbd></b
          ><span>{{
            canRight
              ? `Ask ${submission.authority} to change theirs. Goes with round ${next}, as a ` +
                `change request with the reason.`
              : 'They hold no record that could be changed.'
          }}</span>
        </button>
        <button
          class="way"
          role="radio"
          :aria-checked="way === 'wrong'"
          :class="{ on: way === 'wrong' }"
          @click="way = 'wrong'"
        >
          <b>Ours is wrong <kbd>2</kbd></b
          ><span
            >{{
              takes.length
                ? `Take over theirs: ${takes.join(', ').toLowerCase()}. You see what it changes first;`
                : `Correct the record in ${submission.roster_title};`
            }}
            the correction goes with round {{ next }} by itself.</span
          >
        </button>
        <button
          class="way"
          role="radio"
          :aria-checked="way === 'question'"
          :disabled="!canQuestion"
          :class="{ on: way === 'question' }"
          @click="way = 'question'"
        >
          <b>Not this person <kbd>3</kbd></b
          ><span>{{
            canQuestion
              ? 'Their record is somebody else’s: ask for the number to be looked at.'
              : 'It was sent without a number.'
          }}</span>
        </button>
      </div>
      <div v-if="may" class="act">
        <template v-if="way !== 'wrong'">
          <label class="soft"
            >Reason
            <input
              v-model="reason"
              class="box"
              maxlength="1000"
              placeholder="such as: transfer letter of 28 August on file"
              @keydown.enter.prevent="done(false)"
          /></label>
          <label v-if="way === 'right'" class="btn attach"
            >{{ file ? file.name : 'Attach a file'
            }}<input type="file" class="unseen" @change="attach"
          /></label>
          <button class="btn main" :disabled="!reason.trim()" @click="done(false)">
            Ready for round {{ next }}
          </button>
          <button
            v-if="(current?.records.length ?? 0) > 1"
            class="btn"
            :disabled="!reason.trim()"
            @click="done(true)"
          >
            Same for all {{ current?.records.length }}
          </button>
        </template>
        <template v-else>
          <button v-if="takes.length" class="btn main" @click="done(false)">
            See what it changes
          </button>
          <button
            v-if="takes.length && (current?.records.length ?? 0) > 1"
            class="btn"
            @click="done(true)"
          >
            Same for all {{ current?.records.length }}
          </button>
          <RouterLink class="btn" :to="`/rosters/${submission.roster}?record=${person.record}`"
            >Open the record</RouterLink
          >
          <span class="soft small">{{
            takes.length ? '' : 'Correct it there; it goes with the next round by itself.'
          }}</span>
        </template>
      </div>
    </div>
    <div v-else class="empty pane">
      <h2>
        {{
          submission.tally.rejected
            ? `${counted(submission.tally.rejected, 'record')} rejected`
            : submission.rounds.length
              ? 'Nothing is rejected'
              : 'Nothing was sent yet'
        }}
      </h2>
      <p>
        {{
          submission.tally.rejected
            ? 'Who may prepare sees them in full.'
            : submission.tally.ready
              ? `${counted(submission.tally.ready, 'record is', 'records are')} ready for round ${next}.`
              : ''
        }}
      </p>
    </div>
  </div>
</template>

<style scoped>
.cols {
  flex: 1;
  display: flex;
  min-height: 0;
}
.pane {
  flex: 1;
  min-width: 0;
  background: var(--snow);
  border: 1px solid var(--ink);
  border-right: 0;
  border-bottom: 0;
  margin-top: 10px;
  padding: 12px 18px 18px;
  overflow-y: auto;
}
.head {
  display: flex;
  align-items: baseline;
  gap: 10px;
}
.head h2 {
  font-size: 17px;
}
.rule {
  margin-top: 8px;
  font-size: 14px;
  line-height: 19px;
  padding: 8px 12px;
}
.flag + .flag {
  margin-top: 8px;
}
.ways {
  display: grid;
  grid-template-columns: 1fr 1fr 1fr;
  gap: 10px;
  margin-top: 14px;
}
.way {
  border: 1px solid var(--line);
  padding: 10px 12px;
  background: none;
  text-align: left;
  cursor: pointer;
  display: flex;
  flex-direction: column;
  justify-content: flex-start;
}
.way.on {
  border: 2px solid var(--fir);
  padding: 9px 11px;
  background: var(--row-on);
}
.way:disabled {
  cursor: default;
  color: var(--ink3);
}
.way b {
  display: block;
  margin-bottom: 2px;
}
.way span {
  color: var(--ink2);
  font-size: 13px;
  line-height: 17px;
  display: block;
}
.act {
  margin-top: 12px;
  display: flex;
  gap: 10px;
  align-items: center;
  flex-wrap: wrap;
}
.act label {
  display: flex;
  gap: 8px;
  align-items: center;
}
.act label:first-child {
  flex: 1;
  min-width: 260px;
}
.act .box {
  flex: 1;
}
.attach {
  cursor: pointer;
  position: relative;
  max-width: 200px;
  overflow: hidden;
  text-overflow: ellipsis;
}
.attach:focus-within {
  outline: 2px solid var(--fir);
  outline-offset: 1px;
}
</style>
