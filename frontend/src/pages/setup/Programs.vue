<script setup lang="ts">
import { computed, onMounted, ref, shallowRef } from 'vue'
import LevelBars from '@/components/setup/LevelBars.vue'
import ProgramPanel from '@/components/setup/ProgramPanel.vue'
import { listPrograms } from '@/api/accounts'
import type { Program } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { useKeys } from '@/composables/useKeys'
import { usePageTitle } from '@/composables/usePageTitle'
import { levelIn } from '@/logic/accounts'
import { counted, moment } from '@/logic/words'

/** Programs that ask by tokens, and what each may do. */
const catalog = useCatalog()
const found = shallowRef<Program[] | null>(null)
const problem = ref('')
const shown = ref<number | 'new' | null>(null)
const now = new Date()
const chosen = computed(() => found.value?.find((one) => one.account.id === shown.value) ?? null)

async function load(): Promise<void> {
  try {
    found.value = await listPrograms()
    problem.value = ''
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}
async function again(id: number): Promise<void> {
  await load()
  if (id) shown.value = id
}
const counting = (one: Program) => one.tokens.filter((token) => token.counts).length
useKeys({ Escape: () => (shown.value = null) })
onMounted(async () => {
  await catalog.load().catch((error: Error) => (problem.value = error.message))
  await load()
})
usePageTitle(() => 'Programs')
</script>

<template>
  <section class="page">
    <div class="head">
      <h1>Programs</h1>
      <span class="soft">what asks by itself, with a token, through the API</span>
      <span class="grow" />
      <button class="btn main" @click="shown = 'new'">Add a program</button>
    </div>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <p v-if="found && !found.length" class="soft none">
      No program asks yet. One that reads a roster, or brings files each night, gets a token of its
      own: it may do what you say, nothing else, and can be closed at any time.
    </p>
    <div v-else-if="found" class="wide" role="region" aria-label="The programs" tabindex="0">
      <table class="list">
        <thead>
          <tr>
            <th>name</th>
            <th v-for="roster in catalog.state.rosters" :key="roster.name">{{ roster.title }}</th>
            <th>tokens</th>
            <th>last asked</th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="one in found"
            :key="one.account.id"
            class="click"
            :class="{ on: one.account.id === shown, closed: one.account.is_closed }"
            @click="shown = one.account.id"
          >
            <td>
              <button class="plain name" :aria-pressed="one.account.id === shown">
                {{ one.account.name }}
              </button>
            </td>
            <td v-for="roster in catalog.state.rosters" :key="roster.name">
              <LevelBars :level="levelIn(one.account, roster.name)" />
              <span v-if="one.account.parts[roster.name]" class="soft part">{{
                one.account.parts[roster.name]!.words
              }}</span>
            </td>
            <td>{{ one.account.is_closed ? 'closed' : counted(counting(one), 'token') }}</td>
            <td>{{ one.account.seen_at ? moment(one.account.seen_at, now) : 'never' }}</td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
  <ProgramPanel
    v-if="shown"
    :program="chosen"
    :rosters="catalog.state.rosters"
    @close="shown = null"
    @done="again"
  />
</template>

<style scoped src="./page.css"></style>
<style scoped>
.name {
  font-weight: 600;
}
.part {
  margin-left: 8px;
  font-size: 13px;
}
.closed td {
  color: var(--ink2);
}
.none {
  max-width: 560px;
}
</style>
