<script setup lang="ts">
import { computed, onMounted, reactive, ref, shallowRef, watch } from 'vue'
import { useRoute } from 'vue-router'
import { watchDebounced } from '@vueuse/core'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import DayField from '@/components/controls/DayField.vue'
import { checkTrail, listTrail, trailAddress } from '@/api/trail'
import { listAccounts } from '@/api/accounts'
import type { Account, Trail, TrailChecked } from '@/api/types'
import { usePageTitle } from '@/composables/usePageTitle'
import { count, counted, momentInFull } from '@/logic/words'

/** Who did what, when and from where; filtered, taken out, checked whether it is what it was. */
const PAGE = 100
const asked = reactive({
  group: String(useRoute().query.group ?? ''),
  account: 0,
  q: '',
  first: '',
  last: '',
})
const found = shallowRef<Trail | null>(null)
const people = shallowRef<Account[]>([])
const checked = shallowRef<TrailChecked | null>(null)
const problem = ref('')
const busy = ref(false)
const wanted = computed(() => ({
  group: asked.group,
  account: asked.account || undefined,
  q: asked.q.trim(),
  first: asked.first || undefined,
  last: asked.last || undefined,
}))
const groups = computed(() => [
  { value: '', label: 'everything' },
  ...(found.value?.groups ?? []).map((one) => ({ value: one.name, label: one.words })),
])
const who = computed(() => [
  { value: 0, label: 'everybody' },
  ...people.value.map((one) => ({ value: one.id, label: one.name, also: one.sign_in })),
])
async function take<T>(act: () => Promise<T>): Promise<T | null> {
  busy.value = true
  try {
    const got = await act()
    problem.value = ''
    return got
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
    return null
  } finally {
    busy.value = false
  }
}
async function load(): Promise<void> {
  found.value =
    (await take(() => listTrail({ ...wanted.value, start: 0, limit: PAGE }))) ?? found.value
}
async function more(): Promise<void> {
  const had = found.value
  if (!had) return
  const next = await take(() =>
    listTrail({ ...wanted.value, start: had.lines.length, limit: PAGE }),
  )
  if (next) found.value = { ...next, lines: [...had.lines, ...next.lines] }
}
async function check(): Promise<void> {
  checked.value = await take(checkTrail)
}
watch(() => [asked.group, asked.account, asked.first, asked.last], load)
watchDebounced(() => asked.q, load, { debounce: 250 })
onMounted(async () => {
  await load()
  people.value = (await listAccounts().catch(() => null))?.people ?? []
})
usePageTitle(() => 'Trail')
</script>

<template>
  <section class="page">
    <div class="head">
      <h1>Trail</h1>
      <span v-if="found" class="soft" role="status">{{ counted(found.total, 'line') }}</span>
      <span class="grow" />
      <button class="btn" :disabled="busy" @click="check">Check the chain</button>
      <a class="btn" :href="trailAddress(wanted)" download>Download CSV</a>
    </div>
    <div v-if="checked" class="flag" :class="{ stop: checked.broken.length }" role="status">
      <p v-if="!checked.broken.length">
        {{ counted(checked.lines, 'line') }}, each as it was written. The last seal is
        <span class="mono">{{ checked.head.slice(0, 16) }}…</span>: who notes it can tell later
        whether the whole was written anew.
      </p>
      <template v-else>
        <p><b>The trail is not what it was.</b> Somebody wrote into the database past Nevefield.</p>
        <ul>
          <li v-for="one in checked.broken" :key="one.line + one.said">{{ one.said }}</li>
        </ul>
      </template>
    </div>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <div class="asked">
      <ChooseOne v-model="asked.group" :options="groups" label="Which acts" />
      <ChooseOne v-model="asked.account" :options="who" label="By whom" />
      <label>from <DayField v-model="asked.first" label="From" placeholder="any day" /></label>
      <label>to <DayField v-model="asked.last" label="To" placeholder="any day" /></label>
      <input
        v-model="asked.q"
        class="box"
        type="search"
        placeholder="Words in it"
        aria-label="Words in it"
      />
    </div>
    <table v-if="found?.lines.length" class="list">
      <thead>
        <tr>
          <th>When</th>
          <th>Who</th>
          <th>What</th>
          <th>About</th>
          <th>Detail</th>
          <th>From</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="line in found.lines" :key="line.id">
          <td>{{ momentInFull(line.at) }}</td>
          <td>{{ line.who || 'Nevefield' }}</td>
          <td>{{ line.words }}</td>
          <td class="about">{{ line.subject }}</td>
          <td class="soft about">{{ line.detail }}</td>
          <td class="mono">{{ line.address }}</td>
        </tr>
      </tbody>
    </table>
    <div v-else-if="found" class="empty">
      <h2>Nothing like that was done</h2>
      <p>Look at everything, or at more days.</p>
    </div>
    <p v-if="found && found.lines.length < found.total" class="more">
      <button class="btn" :disabled="busy" @click="more">
        {{ count(Math.min(PAGE, found.total - found.lines.length)) }} more
      </button>
    </p>
  </section>
</template>

<style scoped src="./page.css"></style>
<style scoped>
.asked {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
  padding-bottom: 8px;
}
.asked :deep(.choose) {
  min-width: 190px;
}
label {
  display: flex;
  gap: 6px;
  align-items: center;
}
.about {
  max-width: 340px;
  overflow: hidden;
  text-overflow: ellipsis;
}
.more {
  padding-top: 10px;
}
</style>
