<script setup lang="ts">
import { computed, onMounted, reactive, ref, shallowRef, watch } from 'vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import { listAccounts } from '@/api/accounts'
import { listLooked } from '@/api/trail'
import type { Account, Looked } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { usePageTitle } from '@/composables/usePageTitle'
import { count, counted, momentInFull } from '@/logic/words'

/** Who saw sensitive fields of whom, hour by hour. */
const PAGE = 100
const catalog = useCatalog()
const asked = reactive({ account: 0, roster: '' })
const found = shallowRef<Looked | null>(null)
const people = shallowRef<Account[]>([])
const problem = ref('')
const busy = ref(false)
const who = computed(() => [
  { value: 0, label: 'everybody' },
  ...people.value.map((one) => ({ value: one.id, label: one.name, also: one.sign_in })),
])
const rosters = computed(() => [
  { value: '', label: 'every roster' },
  ...catalog.state.rosters.map((one) => ({ value: one.name, label: one.title })),
])

async function load(start = 0): Promise<void> {
  busy.value = true
  try {
    const page = await listLooked({
      account: asked.account || undefined,
      roster: asked.roster,
      start,
      limit: PAGE,
    })
    const had = start ? (found.value?.lines ?? []) : []
    found.value = { ...page, lines: [...had, ...page.lines] }
    problem.value = ''
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  } finally {
    busy.value = false
  }
}
watch(asked, () => load())
onMounted(async () => {
  await load()
  people.value = (await listAccounts().catch(() => null))?.people ?? []
  await catalog.load().catch(() => undefined)
})
usePageTitle(() => 'Looked at')
</script>

<template>
  <section class="page">
    <div class="head">
      <h1>Looked at</h1>
      <span class="soft">who saw sensitive fields of whom, once an hour each</span>
      <span class="grow" />
      <RouterLink class="btn" to="/setup/trail?group=taken">What was taken out</RouterLink>
    </div>
    <p class="asked">
      <ChooseOne v-model="asked.account" :options="who" label="Of whom" />
      <ChooseOne v-model="asked.roster" :options="rosters" label="In which roster" />
      <span v-if="found" class="soft" role="status">{{ counted(found.total, 'line') }}</span>
    </p>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <p v-if="found && !found.total" class="soft">
      Nobody has looked at sensitive fields{{ asked.account || asked.roster ? ' so' : ' yet' }}.
    </p>
    <div v-else-if="found" class="wide" role="region" aria-label="Who looked" tabindex="0">
      <table class="list">
        <thead>
          <tr>
            <th>hour</th>
            <th>who</th>
            <th>roster</th>
            <th>whom</th>
            <th>uncovered for</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(line, place) in found.lines" :key="place">
            <td>{{ momentInFull(line.hour) }}</td>
            <td>{{ line.who }}</td>
            <td>{{ line.roster_title }}</td>
            <td>
              <RouterLink
                v-if="line.record"
                :to="{ path: `/rosters/${line.roster}`, query: { record: line.record } }"
                >{{ line.whom }}</RouterLink
              >
              <span v-else class="soft">a list</span>
            </td>
            <td class="reason">{{ line.reason }}</td>
          </tr>
        </tbody>
      </table>
      <button
        v-if="found.lines.length < found.total"
        class="btn"
        :disabled="busy"
        @click="load(found.lines.length)"
      >
        {{ count(found.total - found.lines.length) }} more
      </button>
    </div>
  </section>
</template>

<style scoped src="./page.css"></style>
<style scoped>
.asked {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
  padding-bottom: 10px;
}
.reason {
  overflow-wrap: anywhere;
  white-space: normal;
}
</style>
