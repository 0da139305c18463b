<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import ChecksPart from '@/components/definition/ChecksPart.vue'
import FieldsPart from '@/components/definition/FieldsPart.vue'
import KeysPart from '@/components/definition/KeysPart.vue'
import VersionList from '@/components/definition/VersionList.vue'
import Verdict from '@/components/definition/Verdict.vue'
import ProposalBox from '@/components/ProposalBox.vue'
import NotHere from '@/components/NotHere.vue'
import { definitionAddress } from '@/api/definitions'
import type { DefinitionDocument } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { useDefinition } from '@/composables/useDefinition'
import { LEVELS } from '@/composables/useSession'
import { usePageTitle } from '@/composables/usePageTitle'

const name = String(useRoute().params.name)
const catalog = useCatalog()
const edited = useDefinition(name)
const { inForce, document, proposal, locked, altered, recalled, checks, tried } = edited
const { problem, wrong, load, write, putFields, putChecks, leave, letGo, approved } = edited
const part = ref<'fields' | 'checks' | 'keys' | 'json'>('fields')
const text = ref('')
const primaryKey = computed(() => [document.value?.primaryKey ?? []].flat())
const next = computed(() => (inForce.value?.number ?? 0) + 1)
const mayOnly = computed(() => {
  const level = LEVELS[catalog.roster(name)?.level ?? 0]
  return locked.value ? ` · you may ${level}` : ''
})

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

watch(document, (now) => (text.value = JSON.stringify(now, null, 1)), { deep: true })
onMounted(() => void load())
usePageTitle(() => document.value && `Definition of ${document.value.title ?? name}`)
</script>

<template>
  <section v-if="document && inForce" class="page">
    <div class="head">
      <h1>Definition of {{ document.title ?? name }}</h1>
      <span class="soft">version {{ inForce.number }}{{ mayOnly }}</span
      ><span class="grow" />
      <a class="btn" :href="definitionAddress(name)" download>Download JSON</a>
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
      <button class="plain" :class="{ on: part === 'keys' }" @click="part = 'keys'">
        Known by, and approval
      </button>
      <button class="plain" :class="{ on: part === 'json' }" @click="part = 'json'">As JSON</button>
    </nav>
    <section v-if="proposal" class="proposed">
      <ProposalBox
        :proposal="proposal"
        :act="`put version ${next} in force`"
        @done="approved"
        @decided="load"
      />
      <p class="soft">
        {{ proposal.state === 'approved' ? 'What changed:' : 'What would change:' }}
      </p>
      <ul>
        <li v-for="one in proposal.changes" :key="one">{{ one }}</li>
      </ul>
      <button class="btn" @click="leave">Show the definition in force</button>
    </section>
    <Verdict
      v-else-if="altered || problem || wrong"
      :tried="tried"
      :problem="problem || wrong"
      :next="next"
      @write="write"
      @let-go="letGo"
    />
    <p v-if="recalled && altered" class="flag" role="status">{{ recalled }}</p>
    <FieldsPart
      v-if="part === 'fields'"
      :roster="name"
      :fields="document.fields"
      :primary-key="primaryKey"
      :lists="inForce.lists"
      :locked="locked"
      @put="putFields"
    />
    <ChecksPart
      v-else-if="part === 'checks'"
      :checks="checks"
      :kinds="inForce.checks"
      :fields="document.fields"
      :locked="locked"
      @put="putChecks"
    />
    <KeysPart
      v-else-if="part === 'keys'"
      :document="document"
      :locked="locked"
      @put="(altered) => (document = altered)"
    />
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
    <VersionList
      :name="name"
      :in-force="inForce"
      :locked="locked"
      @back="(older) => (document = older)"
    />
  </section>
  <NotHere
    v-else-if="problem"
    title="This definition cannot be opened"
    :problem="problem"
    to="/rosters"
    back="All rosters"
  />
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
textarea {
  width: 100%;
  height: 460px;
  margin-top: 12px;
  line-height: 18px;
}
</style>
