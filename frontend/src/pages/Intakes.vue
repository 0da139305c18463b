<script setup lang="ts">
import { computed, onMounted, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'
import FileChooser from '@/components/FileChooser.vue'
import TallyBar from '@/components/TallyBar.vue'
import { listIntakes, throwAway } from '@/api/intakes'
import type { IntakeBrief } from '@/api/types'
import { useDrop } from '@/composables/useDrop'
import { useKeys } from '@/composables/useKeys'
import { PREPARE, useSession } from '@/composables/useSession'
import { usePageTitle } from '@/composables/usePageTitle'
import { count, momentInFull } from '@/logic/words'

const router = useRouter()
const session = useSession()
const drop = useDrop()
const PAGE = 200
const intakes = shallowRef<IntakeBrief[] | null>(null)
const total = ref(0)
const thrown = ref(0)
/** Those that were thrown away are looked at, in place of the others. */
const away = ref(false)
const problem = ref('')
const selected = ref(0)
const mayDrop = computed(
  () => session.state.me?.rosters.some((one) => one.level >= PREPARE) ?? false,
)

async function take(file: File): Promise<void> {
  const intake = await drop.send(file)
  if (intake) await router.push(`/intakes/${intake}/problems`)
}

function state(one: IntakeBrief): string {
  const open = one.tally ? one.tally.stopped + one.tally.waiting + one.tally.held : 0
  const ready = one.ready
  if (one.applied)
    return ['applied', ready && `${count(ready)} more ready`, open && `${count(open)} rows open`]
      .filter(Boolean)
      .join(', ')
  if (one.taken_back) return `taken back${ready ? `, ${count(ready)} ready again` : ''}`
  return ready
    ? `${count(ready)} ready to apply`
    : open
      ? `${count(open)} rows open`
      : 'nothing to apply'
}

const open = (one: IntakeBrief | undefined) =>
  one && void router.push(`/intakes/${one.id}/problems`)
const move = (by: number) =>
  (selected.value = Math.max(0, Math.min((intakes.value?.length ?? 1) - 1, selected.value + by)))
useKeys({
  ArrowDown: () => move(1),
  ArrowUp: () => move(-1),
  Enter: () => open(intakes.value?.[selected.value]),
})
async function load(more = false): Promise<void> {
  try {
    const known = more ? (intakes.value ?? []) : []
    const found = await listIntakes({ start: known.length, limit: PAGE, thrown: away.value })
    intakes.value = [...known, ...found.intakes]
    total.value = found.total
    thrown.value = found.thrown
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}

function look(): void {
  away.value = !away.value
  selected.value = 0
  void load()
}

async function takeBack(one: IntakeBrief): Promise<void> {
  await throwAway(one.id, true).catch(
    (error: unknown) => (problem.value = error instanceof Error ? error.message : String(error)),
  )
  await load()
}
onMounted(() => void load())
usePageTitle(() => 'Intakes')
</script>

<template>
  <section class="page">
    <div class="head">
      <h1>Intakes</h1>
      <span class="soft">{{
        away ? 'files that were thrown away' : 'each file on its way into a roster, the last first'
      }}</span><span class="grow" /><button v-if="thrown || away" class="link" @click="look">
        {{ away ? 'All others' : `Thrown away: ${count(thrown)}` }}</button
      ><RouterLink to="/sources">Sources and what was learnt from them</RouterLink
      ><FileChooser v-if="mayDrop" @chosen="take">Upload file</FileChooser>
    </div>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <table v-if="intakes?.length" class="list">
      <thead>
        <tr>
          <th>intake</th>
          <th>file</th>
          <th>roster</th>
          <th class="n">rows</th>
          <th>outcomes</th>
          <th>state</th>
          <th>dropped</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="(one, index) in intakes"
          :key="one.id"
          class="click"
          :class="{ on: index === selected }"
          @click="open(one)"
        >
          <td>
            <RouterLink :to="`/intakes/${one.id}/problems`" @click.stop>{{ one.title }}</RouterLink>
          </td>
          <td class="soft">{{ one.file_name }}</td>
          <td>{{ one.roster_title }}</td>
          <td class="n">{{ one.tally ? count(one.tally.read) : '' }}</td>
          <td><TallyBar v-if="one.tally" :tally="one.tally" /></td>
          <td>
            <template v-if="away"
              ><button class="link" @click.stop="takeBack(one)">Take it back</button></template
            ><template v-else>{{ state(one) }}</template>
          </td>
          <td class="soft">{{ momentInFull(one.at) }} {{ one.by }}</td>
        </tr>
      </tbody>
    </table>
    <p v-if="intakes && intakes.length < total" class="more">
      <button class="btn" @click="load(true)">
        Show {{ count(Math.min(PAGE, total - intakes.length)) }} earlier ones
      </button>
      <span class="soft">{{ count(intakes.length) }} of {{ count(total) }}</span>
    </p>
    <div v-if="intakes && !intakes.length && away" class="empty">
      <h2>Nothing was thrown away</h2>
    </div>
    <div v-else-if="intakes && !intakes.length" class="empty">
      <h2>No file has come yet</h2>
      <p>Drop one anywhere in the product; Nevefield says which roster it looks like.</p>
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
.more {
  padding: 10px 0;
}
.head {
  display: flex;
  gap: 12px;
  align-items: baseline;
  padding-bottom: 10px;
}
td a {
  font-weight: 600;
  color: var(--ink);
  text-decoration: none;
}
td {
  max-width: 260px;
  overflow: hidden;
  text-overflow: ellipsis;
}
</style>
