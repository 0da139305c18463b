<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { ofPairs } from '@/logic/choices'
import DayField from '@/components/controls/DayField.vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import ConditionEditor from '@/components/definition/ConditionEditor.vue'
import LayoutTable from '@/components/submission/LayoutTable.vue'
import { beginSubmission, countRecords, listSubmissions, planLayout } from '@/api/submissions'
import type { Condition, FieldDocument, LayoutHere, SubmissionList } from '@/api/types'
import { useAnswer } from '@/composables/useAnswer'
import { useCatalog } from '@/composables/useCatalog'
import { condition } from '@/logic/definition'
import { lacks, type LayoutDocument } from '@/logic/layout'
import { count, counted as counts, listed } from '@/logic/words'
import { today } from '@/logic/clock'

const SIDES = ofPairs([
  ['practice', 'practice: nothing counts'],
  ['live', 'live'],
] as const)
const router = useRouter()
const catalog = useCatalog()
const found = ref<SubmissionList | null>(null)
const here = ref<LayoutHere | null>(null)
const layout = ref<LayoutDocument>({ fields: [] })
const problem = ref('')
const roster = ref('')
const side = ref<'practice' | 'live'>('practice')
const like = ref(0)
const title = ref('')
const day = ref(today())
const due = ref('')
const isPart = ref(false)
const when = ref<Condition>({})
const working = ref(false)
const instead = ref(false)
const startsFrom = ref(0)
/** Live submissions of the roster: a practice may begin with what they hold. */
const lives = computed(() => models.value.filter((one) => one.side === 'live'))
const said = computed(() => ({
  day: day.value,
  like: like.value || null,
  instead: instead.value,
  chosen: isPart.value ? when.value : null,
}))
/** Whom it would take in, counted before it is begun. */
const {
  answer: counted,
  problem: uncounted,
  waiting: counting,
  again: countAgain,
} = useAnswer(() => (roster.value && day.value ? countRecords(roster.value, said.value) : null))
const models = computed(
  () => found.value?.submissions.filter((one) => one.roster === roster.value) ?? [],
)
const fields = computed<FieldDocument[]>(() =>
  (catalog.roster(roster.value)?.fields ?? []).map((one) => ({ name: one.name, title: one.title })),
)
const missing = computed(() => (here.value && !like.value ? lacks(here.value, layout.value) : []))

async function plan(): Promise<void> {
  here.value = null
  problem.value = ''
  if (!roster.value || like.value) return
  try {
    here.value = await planLayout(roster.value, side.value)
    layout.value = here.value.layout as unknown as LayoutDocument
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}
const rosters = computed(() =>
  (found.value?.may_begin ?? []).map((name) => ({
    value: name,
    label: catalog.roster(name)?.title ?? name,
  })),
)
const whom = computed(() => [
  { value: 'all', label: like.value ? 'whom the earlier one takes in' : 'everybody' },
  { value: 'part', label: 'those of whom this holds' },
])
const beginnings = computed(() => [
  ...lives.value.map((one) => ({
    value: one.id,
    label: `what “${one.title}” holds on the live side`,
  })),
  { value: 0, label: 'nothing: as if none was ever sent' },
])
const written = computed(() => [
  { value: 0, label: 'anew, as proposed below' },
  ...models.value.map((one) => ({ value: one.id, label: `as “${one.title}” was` })),
])
function choosePart(who: string | null): void {
  isPart.value = who === 'part'
  if (isPart.value) when.value = condition(fields.value[0]?.name ?? '', 'is', '')
}
async function begin(): Promise<void> {
  working.value = true
  problem.value = ''
  try {
    const more = {
      title: title.value,
      side: side.value,
      due: due.value || null,
      starts_from: side.value === 'practice' && startsFrom.value ? startsFrom.value : null,
    }
    const made = await beginSubmission(roster.value, {
      ...said.value,
      ...more,
      layout: like.value ? null : layout.value,
    })
    await router.push(`/submissions/${made.submission}/contents`)
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  } finally {
    working.value = false
  }
}
onMounted(async () => {
  if (!catalog.state.rosters.length) await catalog.load().catch(() => undefined)
  found.value = await listSubmissions().catch(() => null)
  roster.value = found.value?.may_begin[0] ?? ''
  like.value = models.value[0]?.id ?? 0
})
watch([roster, side, like], plan)
watch([roster, said], countAgain, { deep: true })
watch([roster, models], () => (startsFrom.value = lives.value[0]?.id ?? 0))
</script>

<template>
  <section class="page">
    <h1>Begin a submission</h1>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <div v-if="found" class="form">
      <label
        >Of the roster <ChooseOne v-model="roster" :options="rosters" label="Of the roster"
      /></label>
      <label
        >Title <input v-model="title" class="box" maxlength="200" placeholder="Spring return"
      /></label>
      <label>Side <ChooseOne v-model="side" :options="SIDES" label="Side" /></label>
      <label>Day of reference <DayField v-model="day" label="Day of reference" needed /></label>
      <label>Due <DayField v-model="due" label="Due" /></label>
      <label
        >Who is in it
        <ChooseOne
          :model-value="isPart ? 'part' : 'all'"
          :options="whom"
          label="Who is in it"
          @update:model-value="choosePart"
      /></label>
      <label v-if="side === 'practice' && lives.length"
        >Begins with <ChooseOne v-model="startsFrom" :options="beginnings" label="Begins with"
      /></label>
      <label>Written <ChooseOne v-model="like" :options="written" label="Written" /></label>
    </div>
    <ConditionEditor v-if="isPart" v-model="when" :fields="fields" :locked="false" />
    <p v-if="isPart && like" class="both">
      <label
        ><input v-model="instead" type="radio" :value="false" /> beside the condition of the earlier
        one: both must hold</label
      ><label><input v-model="instead" type="radio" :value="true" /> in its place</label>
    </p>
    <p v-if="uncounted" class="flag stop" role="alert">{{ uncounted }}</p>
    <p v-else-if="counting" class="whom soft" role="status">Counting whom it would take in …</p>
    <div v-else-if="counted" class="whom" aria-live="polite">
      <p>
        <b>{{ counts(counted.records, 'record') }}</b> would be in it{{
          counted.said ? `, where ${counted.said}` : ''
        }}.
        <span class="soft"
          >Which numbers are decided without asking is said under Numbers; it is taken over from
          nowhere.</span
        >
      </p>
      <p v-for="by in counted.parts.slice(0, 3)" :key="by.title" class="soft">
        {{ by.title }}:
        {{
          listed(
            by.parts
              .slice(0, 12)
              .map((one) => `${String(one.label)} ${count(Number(one.records))}`),
          )
        }}
      </p>
    </div>
    <p class="do">
      <button
        class="btn main"
        :disabled="
          working || !counted?.records || !roster || !day || !!missing.length || (!like && !here)
        "
        @click="begin"
      >
        {{ working ? 'Beginning …' : 'Begin it' }}</button><RouterLink class="btn" to="/submissions"
        >Cancel</RouterLink
      ><span v-if="missing.length" class="bad">still lacking: {{ listed(missing) }}</span>
    </p>
    <LayoutTable v-if="here" v-model="layout" :here="here" :locked="false" />
    <p v-else-if="roster && !like && !problem" class="soft" role="status">
      Asking the authority for its layout …
    </p>
    <p v-if="found && !found.may_begin.length" class="empty">
      Who may prepare a roster begins submissions of it.
    </p>
  </section>
</template>

<style scoped>
.page {
  flex: 1;
  padding: 12px 16px 24px;
  overflow-y: auto;
  background: var(--snow);
}
h1 {
  font-size: 18px;
  line-height: 26px;
  font-weight: 600;
  margin: 0 0 8px;
}
.form {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 420px));
  gap: 8px 24px;
}
.form label {
  display: grid;
  grid-template-columns: 130px 1fr;
  align-items: center;
}
.both {
  display: flex;
  gap: 18px;
  margin: 6px 0;
}
.both label {
  display: inline-flex;
  gap: 6px;
}
.whom {
  margin-top: 12px;
  max-width: 960px;
}
.do {
  display: flex;
  gap: 8px;
  align-items: center;
  margin: 14px 0;
}
</style>
