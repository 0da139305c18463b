<script setup lang="ts">
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { message } from 'ant-design-vue'
import CheckForm from '@/components/definition/CheckForm.vue'
import FieldForm from '@/components/definition/FieldForm.vue'
import ProposalBox from '@/components/ProposalBox.vue'
import {
  definitionAddress,
  getDefinition,
  proposeDefinition,
  putDefinition,
  tryDefinition,
} from '@/api/definitions'
import { getProposal } from '@/api/proposals'
import type {
  CheckDocument,
  Definition,
  DefinitionDocument,
  FieldDocument,
  Proposal,
} from '@/api/types'
import { useAnswer } from '@/composables/useAnswer'
import { useCatalog } from '@/composables/useCatalog'
import { LEVELS } from '@/composables/useSession'
import { nameOf } from '@/logic/definition'
import { counted, count, momentInFull } from '@/logic/words'

const ADMINISTER = 4
const TRY_MS = 500
const route = useRoute()
const router = useRouter()
const name = String(route.params.name)
const proposal = shallowRef<Proposal | null>(null)
const catalog = useCatalog()
const found = shallowRef<Definition | null>(null)
const document = ref<DefinitionDocument | null>(null)
const chosen = ref(0)
const part = ref<'fields' | 'checks' | 'json'>('fields')
const problem = ref('')
const text = ref('')
const title = ref('')

const roster = computed(() => catalog.roster(name))
/** What is proposed is looked at as it is: nobody alters what somebody agrees to. */
const locked = computed(() => (roster.value?.level ?? 0) < ADMINISTER || proposal.value !== null)
const key = computed(() => [document.value?.primaryKey ?? []].flat())
const checks = computed(() => document.value?.nevefield?.checks ?? [])
const altered = computed(
  () => JSON.stringify(document.value) !== JSON.stringify(found.value?.document),
)

async function load(): Promise<void> {
  try {
    if (!catalog.state.rosters.length) await catalog.load()
    found.value = await getDefinition(name)
    proposal.value = route.query.proposal ? await getProposal(Number(route.query.proposal)) : null
    const shown =
      proposal.value?.state === 'agreed'
        ? found.value.document
        : (proposal.value?.document ?? found.value.document)
    document.value = JSON.parse(JSON.stringify(shown)) as DefinitionDocument
    forget()
    problem.value = ''
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}

function put(fields: FieldDocument[]): void {
  if (document.value) document.value = { ...document.value, fields }
}

function putChecks(list: CheckDocument[]): void {
  if (document.value)
    document.value = { ...document.value, nevefield: { ...document.value.nevefield, checks: list } }
}

function addField(): void {
  if (!document.value || !title.value.trim()) return
  const fresh = {
    name: nameOf(
      title.value,
      document.value.fields.map((one) => one.name),
    ),
    title: title.value.trim(),
    type: 'string',
  }
  put([...document.value.fields, fresh])
  chosen.value = document.value.fields.length - 1
  title.value = ''
}

function addCheck(event: Event): void {
  const kind = found.value?.checks.find(
    (one) => one.name === (event.target as HTMLSelectElement).value,
  )
  ;(event.target as HTMLSelectElement).value = ''
  if (kind) putChecks([...checks.value, { check: kind.name, fields: [] }])
}

function takeText(): void {
  try {
    document.value = JSON.parse(text.value) as DefinitionDocument
    problem.value = ''
    part.value = 'fields'
  } catch (error) {
    problem.value = `This is no JSON: ${error instanceof Error ? error.message : String(error)}.`
  }
}

async function bring(event: Event): Promise<void> {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (!file) return
  text.value = await file.text()
  takeText()
}

/** What stands there is tried against the records, a little after the last change. */
const {
  answer: tried,
  problem: wrong,
  again,
  forget,
} = useAnswer(
  () => (document.value && !locked.value ? tryDefinition(name, document.value) : null),
  TRY_MS,
)

async function write(): Promise<void> {
  if (!document.value || !found.value) return
  try {
    if (tried.value?.why) {
      const made = await proposeDefinition(name, document.value, found.value.number)
      await router.replace({ query: { proposal: made.proposal } })
      await load()
      return
    }
    const done = await putDefinition(name, document.value, found.value.number)
    void message.success(
      `Version ${done.number} is in force; every intake is worked out by it from now on.`,
    )
    await catalog.load()
    await load()
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}

async function leave(): Promise<void> {
  await router.replace({ query: {} })
  await load()
}

async function agreed(): Promise<void> {
  void message.success(
    `Agreed: version ${(found.value?.number ?? 0) + 1} is in force; every intake is worked out by it from now on.`,
  )
  await catalog.load()
  await leave()
}

watch(
  document,
  (now) => {
    text.value = JSON.stringify(now, null, 1)
    problem.value = ''
    if (altered.value && !proposal.value) again()
  },
  { deep: true },
)
onMounted(() => void load())

function dropField(): void {
  if (!document.value) return
  put(document.value.fields.filter((_, place) => place !== chosen.value))
  chosen.value = 0
}
</script>

<template>
  <section v-if="document && found" class="page">
    <div class="head">
      <h2>Definition of {{ document.title ?? name }}</h2>
      <span class="soft"
        >version {{ found.number
        }}{{ locked ? ` · you may ${LEVELS[roster?.level ?? 0]}` : '' }}</span
      ><span class="grow" />
      <a class="btn" :href="definitionAddress(name)" download>Take it as JSON</a>
      <label v-if="!locked" class="btn"
        >Bring one<input class="unseen" type="file" accept=".json,application/json" @change="bring"
      /></label>
      <RouterLink class="btn" :to="`/rosters/${name}`">The records</RouterLink>
    </div>
    <nav class="tabs" aria-label="Parts of the definition">
      <button class="plain" :class="{ on: part === 'fields' }" @click="part = 'fields'">
        Fields <i>{{ document.fields.length }}</i>
      </button>
      <button class="plain" :class="{ on: part === 'checks' }" @click="part = 'checks'">
        Checks <i>{{ checks.length }}</i>
      </button>
      <button class="plain" :class="{ on: part === 'json' }" @click="part = 'json'">As JSON</button>
    </nav>
    <section v-if="proposal" class="proposed">
      <ProposalBox
        :proposal="proposal"
        :act="`put version ${found.number + 1} in force`"
        @done="agreed"
        @decided="load"
      />
      <p class="soft">{{ proposal.state === 'agreed' ? 'What changed:' : 'What would change:' }}</p>
      <ul>
        <li v-for="one in proposal.changes" :key="one">{{ one }}</li>
      </ul>
      <button class="btn" @click="leave">Show the definition in force</button>
    </section>
    <div v-else-if="altered || problem || wrong" class="verdict" role="status">
      <p v-if="problem || wrong" class="bad">{{ problem || wrong }}</p>
      <template v-else-if="tried">
        <p v-if="!tried.troubles.length">
          <b>None of the {{ count(tried.records) }} records would break this.</b>
        </p>
        <ul v-else>
          <li v-for="one in tried.troubles.slice(0, 5)" :key="one.check + one.said">
            <b class="bad">{{ counted(one.records, 'record') }}</b>
            {{ one.records === 1 ? 'breaks' : 'break' }} this: {{ one.said }}
            <span class="soft mono"
              >{{ one.keys.join(', ') }}{{ one.records > one.keys.length ? ' …' : '' }}</span
            >
          </li>
        </ul>
      </template>
      <p v-else class="soft">Trying it against the records …</p>
      <p v-if="tried?.why" class="why"><b>Two have to agree:</b> {{ tried.why }}.</p>
      <button class="btn main" :disabled="!tried" @click="write">
        {{
          tried?.why
            ? `Propose version ${found.number + 1}`
            : `Put version ${found.number + 1} in force`
        }}
      </button>
      <button class="btn" @click="load">Let go of the changes</button>
    </div>
    <div v-if="part === 'fields'" class="two">
      <div>
        <ol class="fields">
          <li v-for="(one, place) in document.fields" :key="one.name">
            <button class="plain" :class="{ on: place === chosen }" @click="chosen = place">
              <b>{{ one.title ?? one.name }}</b>
              <span class="soft"
                >{{
                  one.nevefield?.codeList
                    ? `code: ${one.nevefield.codeList}`
                    : (one.type ?? 'string')
                }}{{ one.constraints?.required ? ' · required' : ''
                }}{{ key.includes(one.name) ? ' · key' : '' }}</span
              >
            </button>
          </li>
        </ol>
        <form v-if="!locked" class="add" @submit.prevent="addField">
          <input
            v-model="title"
            class="box"
            placeholder="Title of a new field"
            aria-label="Title of a new field"
            maxlength="120"
          /><button class="btn fir" :disabled="!title.trim()">Add it</button>
        </form>
      </div>
      <FieldForm
        v-if="document.fields[chosen]"
        :key="document.fields[chosen]!.name"
        :model-value="document.fields[chosen]!"
        :lists="found.lists"
        :fields="document.fields"
        :is-key="key.includes(document.fields[chosen]!.name)"
        :locked="locked"
        @update:model-value="
          (now: FieldDocument) =>
            put(document!.fields.map((one, place) => (place === chosen ? now : one)))
        "
        @drop="dropField"
      />
    </div>
    <div v-else-if="part === 'checks'" class="checks">
      <CheckForm
        v-for="(one, place) in checks"
        :key="place"
        :model-value="one"
        :kinds="found.checks"
        :fields="document.fields"
        :locked="locked"
        @update:model-value="
          (now: CheckDocument) => putChecks(checks.map((two, at) => (at === place ? now : two)))
        "
        @drop="putChecks(checks.filter((_, at) => at !== place))"
      />
      <p v-if="!locked">
        <select class="box" aria-label="Add a check" @change="addCheck">
          <option value="">add a check</option>
          <option v-for="one in found.checks" :key="one.name" :value="one.name">
            {{ one.name }}: {{ one.holds }}
          </option>
        </select>
      </p>
    </div>
    <form v-else @submit.prevent="takeText">
      <textarea
        v-model="text"
        class="box mono"
        spellcheck="false"
        :disabled="locked"
        aria-label="The definition as JSON"
      />
      <p v-if="!locked"><button class="btn fir">Take this over</button></p>
    </form>
    <p class="soft versions">
      Versions:
      <template v-for="one in found.versions.slice(0, 6)" :key="one.number"
        >{{ one.number }} ({{ momentInFull(one.at) }}{{ one.by ? `, ${one.by}` : '' }})
      </template>
    </p>
  </section>
  <p v-else-if="problem" class="flag stop" role="alert">{{ problem }}</p>
</template>

<style scoped>
.page {
  flex: 1;
  min-width: 0;
  padding: 14px 18px;
  overflow: auto;
}
.head {
  display: flex;
  gap: 10px;
  align-items: baseline;
  padding-bottom: 8px;
}
.tabs {
  display: flex;
  gap: 18px;
  border-bottom: 1px solid var(--line);
}
.tabs button {
  padding: 5px 2px;
  color: var(--ink2);
}
.tabs button.on {
  color: var(--ink);
  font-weight: 600;
  box-shadow: inset 0 -2px 0 var(--ink);
}
.tabs i {
  font-style: normal;
  font-weight: 400;
  font-size: 12.5px;
  color: var(--ink2);
}
.verdict {
  background: var(--ask-soft);
  border-left: 4px solid var(--waiting);
  padding: 8px 12px;
  margin-top: 10px;
  display: flex;
  gap: 10px;
  align-items: center;
  flex-wrap: wrap;
}
.verdict > :first-child {
  flex: 1 1 60%;
}
.why {
  flex-basis: 100%;
}
.proposed {
  margin-top: 10px;
}
.proposed ul {
  margin: 2px 0 10px;
  padding-left: 20px;
}
.proposed > .soft {
  margin-top: 10px;
}
.two {
  display: grid;
  grid-template-columns: 290px 1fr;
  gap: 18px;
  margin-top: 12px;
  align-items: start;
}
.two > *,
.checks {
  background: var(--snow);
  border: 1px solid var(--line);
  padding: 12px;
}
.checks {
  margin-top: 12px;
}
.fields {
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: 520px;
  overflow: auto;
}
.fields button {
  display: block;
  width: 100%;
  padding: 4px 8px;
}
.fields button.on {
  background: var(--row-on);
  box-shadow: inset 3px 0 0 var(--ink);
}
.add {
  display: flex;
  gap: 8px;
  margin-top: 10px;
}
.add .box {
  flex: 1;
  min-width: 0;
}
textarea {
  width: 100%;
  height: 460px;
  margin-top: 12px;
  line-height: 18px;
}
.versions {
  margin-top: 12px;
  font-size: 13px;
}
</style>
