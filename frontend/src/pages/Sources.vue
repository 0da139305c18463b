<script setup lang="ts">
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { message } from 'ant-design-vue'
import { getSource, listSources, putRecipe, recipeAddress } from '@/api/sources'
import type { Source, SourceBrief } from '@/api/types'
import { PREPARE } from '@/composables/useSession'
import { usePageTitle } from '@/composables/usePageTitle'
import { count, day, momentInFull } from '@/logic/words'

const route = useRoute()
const router = useRouter()
const sources = shallowRef<SourceBrief[] | null>(null)
const source = shallowRef<Source | null>(null)
const text = ref('')
const editing = ref(false)
const problem = ref('')
const chosen = computed(() => Number(route.params.id) || 0)

async function load(): Promise<void> {
  try {
    sources.value = await listSources()
    const first = sources.value[0]
    if (!chosen.value && first) await router.replace(`/sources/${first.id}`)
    source.value = chosen.value ? await getSource(chosen.value) : null
    text.value = JSON.stringify(source.value?.recipe ?? {}, null, 1)
    problem.value = ''
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}

async function write(recipe: string): Promise<void> {
  if (!source.value) return
  let document: Record<string, unknown>
  try {
    document = JSON.parse(recipe) as Record<string, unknown>
  } catch (error) {
    problem.value = `This is no JSON: ${error instanceof Error ? error.message : String(error)}. Nothing was written.`
    return
  }
  try {
    await putRecipe(source.value.id, document)
    editing.value = false
    void message.success('The recipe is written; the next file of this source is read by it.')
    await load()
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}

async function bring(event: Event): Promise<void> {
  const box = event.target as HTMLInputElement
  const file = box.files?.[0]
  box.value = ''
  if (file) await write(await file.text())
}

watch(chosen, () => void load())
onMounted(() => void load())
usePageTitle(() => source.value && `Source: ${source.value.name}`)
</script>

<template>
  <section class="page">
    <div class="head">
      <h1>Sources</h1>
      <span class="soft"
        >what was learnt from each office’s files, used for its next one without asking</span
      ><span class="grow" /><RouterLink to="/intakes">Intakes</RouterLink>
    </div>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <div v-if="sources?.length" class="two">
      <ul class="names" aria-label="Sources">
        <li v-for="one in sources" :key="one.id">
          <RouterLink :to="`/sources/${one.id}`" :class="{ on: one.id === chosen }"
            ><b>{{ one.name }}</b
            ><span class="soft"
              >{{ one.roster_title }} ·
              {{ one.learnt ? `learnt ${day(one.learnt)}` : 'nothing learnt yet' }}</span
            ></RouterLink
          >
        </li>
      </ul>
      <div v-if="source" class="one">
        <div class="bar">
          <h2>{{ source.name }} → {{ source.roster_title }}</h2>
          <span class="grow" />
          <a v-if="source.recipe" class="btn" :href="recipeAddress(source.id)" download
            >Download the recipe as JSON</a
          >
          <template v-if="source.level >= PREPARE">
            <label class="btn"
              >Bring a recipe<input
                class="unseen"
                type="file"
                accept=".json,application/json"
                @change="bring"
            /></label>
            <button v-if="source.recipe" class="btn" @click="editing = !editing">
              {{ editing ? 'Back to the words' : 'Edit' }}
            </button>
          </template>
        </div>
        <p v-if="source.file" class="soft">
          Last from {{ source.file }}; its files had {{ source.rows.map(count).join(', ') }} rows,
          the latest first.
        </p>
        <form v-if="editing" @submit.prevent="write(text)">
          <textarea
            v-model="text"
            class="box mono"
            spellcheck="false"
            aria-label="The recipe as JSON"
          />
          <p class="do">
            <button class="btn main">Write version {{ source.version + 1 }}</button
            ><button type="button" class="btn" @click="editing = false">Cancel</button>
          </p>
        </form>
        <template v-else>
          <p v-if="!source.said.length" class="empty">
            Nothing is learnt yet. It is when a file of this source is applied.
          </p>
          <ul v-else class="said">
            <li v-for="(one, place) in source.said" :key="place">{{ one }}</li>
          </ul>
          <h3>Versions</h3>
          <ul class="versions">
            <li v-for="one in source.versions" :key="one.version">
              <b>{{ one.version }}</b> {{ momentInFull(one.at) }} {{ one.by }} ·
              <RouterLink v-if="one.intake" :to="`/intakes/${one.intake}/columns`"
                >learnt from an intake</RouterLink
              ><template v-else>written by hand</template>
            </li>
          </ul>
        </template>
      </div>
    </div>
    <div v-else-if="sources" class="empty">
      <h2>No source yet</h2>
      <p>
        On the File page of an intake, say where the file comes from. When it is applied, what was
        decided is remembered here.
      </p>
    </div>
  </section>
</template>

<style scoped>
.page {
  flex: 1;
  min-width: 0;
  padding: 14px 18px;
  overflow: auto;
}
.head,
.bar {
  display: flex;
  gap: 12px;
  align-items: baseline;
  padding-bottom: 10px;
}
.two {
  display: grid;
  grid-template-columns: 250px 1fr;
  gap: 18px;
  align-items: start;
}
.names a {
  display: block;
  padding: 6px 10px;
  text-decoration: none;
  color: var(--ink);
  border-left: 3px solid transparent;
}
.names a.on {
  background: var(--snow);
  border-color: var(--ink);
}
.names span {
  display: block;
  font-size: 13px;
}
.one {
  background: var(--snow);
  padding: 14px 16px;
  border: 1px solid var(--line);
  min-width: 0;
}
.said {
  columns: 2 340px;
  column-gap: 24px;
  margin: 10px 0 14px;
}
.said li {
  border-bottom: 1px solid var(--drift);
  padding: 4px 0;
  break-inside: avoid;
  overflow-wrap: anywhere;
}
.versions li {
  line-height: 24px;
}
textarea {
  width: 100%;
  height: 420px;
  resize: vertical;
  line-height: 18px;
}
.do {
  display: flex;
  gap: 8px;
  margin-top: 8px;
}
</style>
