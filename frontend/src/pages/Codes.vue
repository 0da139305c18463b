<script setup lang="ts">
import { computed, onMounted, ref, shallowRef } from 'vue'
import { useRoute } from 'vue-router'
import { message } from 'ant-design-vue'
import BeginList from '@/components/BeginList.vue'
import CodeMerge from '@/components/CodeMerge.vue'
import CodeTable from '@/components/CodeTable.vue'
import { ApiError } from '@/api/client'
import { codesAddress, compareCodes, getCodeList, listCodeLists, putCodeList } from '@/api/rosters'
import type { Code, CodeList, CodeListBrief } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { ADMINISTER, useSession } from '@/composables/useSession'
import { useDraft } from '@/composables/useDraft'
import { usePageTitle } from '@/composables/usePageTitle'
import { writtenMeanwhile } from '@/logic/newcode'
import { counted, listed } from '@/logic/words'

const PROBLEMS_SHOWN = 5
const route = useRoute()
const session = useSession()
const catalog = useCatalog()
const lists = shallowRef<CodeListBrief[]>([])
const list = shallowRef<CodeList | null>(null)
const draft = ref<Code[]>([])
const problem = ref('')
const saving = ref(false)
const may = computed(() => (session.state.me?.everywhere ?? 0) >= ADMINISTER)
const isChanged = computed(
  () => !!list.value && JSON.stringify(draft.value) !== JSON.stringify(list.value.codes),
)
const { recall, forget } = useDraft(
  `codes.${String(route.params.name ?? '(first)')}`,
  draft,
  () => isChanged.value,
  () => list.value,
)
const recalled = ref('')
/** What was being written before a reload, or before the session ended, is there again. */
function sayRecalled(): void {
  const [now, over] = [list.value, recall()]
  if (!now || !over) return
  list.value = over // what somebody else wrote since is met when these are kept
  recalled.value =
    'Your changes from before are here again, and not kept yet.' +
    (over.version === now.version ? '' : ' Somebody has changed the list meanwhile.')
}
const name = computed(() => String(route.params.name ?? '') || lists.value[0]?.name)

function show(found: CodeList): void {
  list.value = found
  draft.value = found.codes.map((one) => ({ ...one, aliases: [...one.aliases] }))
}

/** A code as it is sent: without the count of records that use it. */
const written = ({ code, label, parent, aliases, first_day, last_day }: Code) => ({
  code,
  label,
  parent,
  aliases,
  first_day,
  last_day,
})

async function save(): Promise<void> {
  if (!list.value) return
  saving.value = true
  problem.value = ''
  try {
    show(await putCodeList(list.value.name, draft.value.map(written), list.value.version))
    recalled.value = ''
    forget()
    delete catalog.state.lists[list.value.name]
    void message.success(`${list.value.title}: ${counted(draft.value.length, 'code')} kept.`)
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
    if (error instanceof ApiError && error.status === 409) await joinTheirs().catch(() => undefined)
  } finally {
    saving.value = false
  }
}

/**
 * Somebody wrote the list meanwhile: what they added is taken beside what was altered here, and it
 * is kept when one has looked.
 */
async function joinTheirs(): Promise<void> {
  if (!list.value) return
  const theirs = await getCodeList(list.value.name)
  const { added, altered } = writtenMeanwhile(list.value.codes, theirs.codes, draft.value)
  list.value = theirs
  draft.value.push(...added.map((one) => ({ ...one, aliases: [...one.aliases] })))
  const said = [
    added.length && `${listed(added.map((one) => one.code))} added, at the end here`,
    altered.length && `${listed(altered)} altered, here as you have it`,
  ].filter(Boolean)
  problem.value =
    `Somebody has changed the list ` +
    `meanwhile${said.length ? `: ${said.join('; ')}` : ''}. Nothing was written; look, and keep ` +
    `your changes again.`
}

function discard(): void {
  if (!list.value) return
  show(list.value)
  forget()
}

const merging = ref(false)
const brought = ref('')

async function merged(): Promise<void> {
  merging.value = false
  if (!list.value) return
  delete catalog.state.lists[list.value.name]
  show(await getCodeList(list.value.name))
}

/**
 * A list from a file is only laid over the one that there is, with what differs said; it is kept by
 * the same button as any change.
 */
async function bring(event: Event): Promise<void> {
  const box = event.target as HTMLInputElement
  const file = box.files?.[0]
  box.value = ''
  if (!file || !list.value) return
  try {
    const found = await compareCodes(list.value.name, file)
    if (found.problems.length) {
      const more = found.problems.length - PROBLEMS_SHOWN
      problem.value =
        `${file.name} stays out: ${found.problems.slice(0, PROBLEMS_SHOWN).join(' ')}` +
        (more > 0 ? ` And ${more} more.` : '')
      return
    }
    const used = Object.entries(found.used).map(
      ([code, records]) => `${code} (${counted(records, 'record')})`,
    )
    const parts = [
      found.added.length && `${listed(found.added)} new`,
      found.altered.length && `${listed(found.altered)} altered`,
      found.gone.length && `${listed(found.gone)} gone`,
    ].filter(Boolean)
    brought.value =
      `${file.name}: ${parts.join('; ') || 'the same as here'}.` +
      (used.length ? ` Records still have ${listed(used)}: merge or retire these first.` : '')
    const counts = new Map(list.value.codes.map((one) => [one.code, one.used]))
    draft.value = found.codes.map((one) => ({
      ...one,
      label: one.label ?? '',
      parent: one.parent ?? '',
      aliases: [...(one.aliases ?? [])],
      first_day: one.first_day ?? null,
      last_day: one.last_day ?? null,
      used: counts.get(one.code) ?? 0,
    }))
    problem.value = ''
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}

const add = () =>
  draft.value.push({
    code: '',
    label: '',
    parent: '',
    aliases: [],
    first_day: null,
    last_day: null,
    used: 0,
  })
onMounted(async () => {
  try {
    lists.value = await listCodeLists()
    if (name.value) show(await getCodeList(name.value))
    sayRecalled()
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
})
usePageTitle(() => list.value?.title)
</script>

<template>
  <nav class="lists" aria-label="Code lists">
    <h1>Code lists</h1>
    <RouterLink
      v-for="one in lists"
      :key="one.name"
      :to="`/codes/${one.name}`"
      :class="{ on: one.name === list?.name }"
      :aria-current="one.name === list?.name ? 'page' : undefined"
      ><span>{{ one.title }}</span
      ><b>{{ one.codes }}</b></RouterLink
    >
    <p v-if="!lists.length && !problem" class="soft">There is no code list yet.</p>
    <p v-if="may"><BeginList /></p>
  </nav>
  <section class="page">
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <p v-if="recalled && isChanged" class="flag" role="status">{{ recalled }}</p>
    <template v-if="list">
      <div class="head">
        <h2>{{ list.title }}</h2>
        <span class="soft"
          >{{ counted(draft.length, 'code') }} ·
          {{ list.used_in.length ? `used in ${listed(list.used_in)}` : 'used nowhere' }}</span
        ><span class="grow" />
        <a class="btn" :href="codesAddress(list.name)" download>Download CSV</a>
        <template v-if="may">
          <label class="btn"
            >Bring a file<input
              class="unseen"
              type="file"
              aria-label="Bring a file"
              @change="bring"
          /></label>
          <button class="btn" :disabled="isChanged" @click="merging = true">Merge or retire</button>
          <button class="btn" @click="add">Add a code</button>
          <button v-if="isChanged" class="btn" @click="discard">Discard</button>
          <button class="btn main" :disabled="!isChanged || saving" @click="save">
            Keep changes
          </button>
        </template>
        <span v-else class="soft">Who administers all rosters may change it.</span>
      </div>
      <p v-if="brought && isChanged" class="flag" role="status">{{ brought }}</p>
      <CodeTable v-model="draft" :may="may" />
      <CodeMerge :open="merging" :list="list" @done="merged" @close="merging = false" />
    </template>
  </section>
</template>

<style scoped>
.lists {
  width: 220px;
  flex: none;
  background: var(--snow);
  border-right: 1px solid var(--ink);
  padding: 14px 0;
  overflow-y: auto;
}
.lists h1 {
  padding: 0 16px 8px;
  font-size: 15px;
}
.lists a {
  display: flex;
  justify-content: space-between;
  padding: 5px 16px;
  color: var(--ink2);
  text-decoration: none;
}
.lists a:hover {
  color: var(--ink);
}
.lists a.on {
  background: var(--shade);
  color: var(--ink);
  font-weight: 600;
  box-shadow: inset 3px 0 0 var(--fir);
}
.lists b {
  font-weight: 400;
}
.lists p {
  padding: 0 16px;
}
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
  padding-bottom: 10px;
}
.flag {
  margin-bottom: 10px;
}
</style>
