<script setup lang="ts">
import { computed, onMounted, ref, shallowRef } from 'vue'
import { useRoute } from 'vue-router'
import { Modal, message } from 'ant-design-vue'
import NotHere from '@/components/NotHere.vue'
import { listWaivers, withdrawWaiver } from '@/api/waivers'
import type { Waiver, Waivers } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { PREPARE } from '@/composables/useSession'
import { usePageTitle } from '@/composables/usePageTitle'
import { count, counted, day, momentInFull } from '@/logic/words'

const PAGE = 200
const STATES: Record<Waiver['state'], string> = {
  stands: 'stands',
  changed: 'the value is another by now',
  over: 'its day is over',
  'taken back': 'the load was taken back',
  gone: 'left the roster',
  withdrawn: 'withdrawn',
}
const catalog = useCatalog()
const name = String(useRoute().params.name)
const roster = computed(() => catalog.roster(name))
const found = shallowRef<Waivers | null>(null)
const onlyStanding = ref(false)
const problem = ref('')
const may = computed(() => (roster.value?.level ?? 0) >= PREPARE)
const shown = computed(
  () => found.value?.waivers.filter((one) => !onlyStanding.value || one.state === 'stands') ?? [],
)

async function load(): Promise<void> {
  try {
    found.value = await listWaivers(name, {
      start: 0,
      limit: Math.max(PAGE, found.value?.waivers.length ?? 0),
    })
    problem.value = ''
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}
async function more(): Promise<void> {
  const had = found.value
  if (!had) return
  const next = await listWaivers(name, { start: had.waivers.length, limit: PAGE })
  found.value = { ...next, waivers: [...had.waivers, ...next.waivers] }
}

function withdraw(one: Waiver): void {
  Modal.confirm({
    title: `Withdraw the approval for ${one.name || one.key}`,
    content: `“${one.asked}” is asked again when the next file brings it. Nothing in the roster is altered.`,
    okText: 'Withdraw it',
    cancelText: 'Cancel',
    onOk: async () => {
      await withdrawWaiver(one.id).then(
        load,
        (error: Error) => void message.error(error.message, 6),
      )
    },
  })
}

onMounted(async () => {
  await catalog.load().catch((error: Error) => (problem.value = error.message))
  await load()
})
usePageTitle(() => roster.value && `Waivers of ${roster.value.title}`)
</script>

<template>
  <NotHere
    v-if="!roster && problem"
    title="This roster cannot be opened"
    :problem="problem"
    to="/rosters"
    back="All rosters"
  />
  <section v-else class="page">
    <div class="head">
      <h1>Waivers of {{ roster?.title ?? name }}</h1>
      <span class="soft"
        >what was approved with a reason, and for whom; it is not asked again while the value is the
        same</span
      ><span class="grow" /><RouterLink :to="`/rosters/${name}`">{{
        roster?.title ?? name
      }}</RouterLink>
    </div>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <template v-if="found">
      <p v-if="found.total" class="bar" aria-live="polite">
        <b>{{ counted(found.standing, 'waiver stands', 'waivers stand') }}</b> of
        {{ count(found.total) }} that were given
        <label><input v-model="onlyStanding" type="checkbox" /> only those that stand</label>
      </p>
      <div v-if="!found.total" class="empty">
        <h2>Nothing was approved yet</h2>
        <p>
          When a check asks and somebody approves it with a reason, it stands here once the row is
          applied, and is not asked about again for that person until the value is another.
        </p>
      </div>
      <div v-else class="across">
        <table>
          <thead>
            <tr>
              <th>Who</th>
              <th>What was asked</th>
              <th>Reason</th>
              <th>Said</th>
              <th>Counts</th>
              <th />
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in shown" :key="one.id" :class="{ past: one.state !== 'stands' }">
              <td>
                <RouterLink v-if="one.key" :to="`/rosters/${name}?record=${one.record}`">{{
                  one.name || one.key
                }}</RouterLink><template v-else>record {{ one.record }}</template
                ><span class="soft mono">{{ one.key }}</span>
              </td>
              <td>
                {{ one.asked }}<span class="soft">{{ one.values.join(' · ') }}</span>
              </td>
              <td class="reason">“{{ one.reason }}”</td>
              <td>
                {{ one.by || 'the command line'
                }}<span class="soft"
                  >{{ momentInFull(one.at) }} ·
                  <RouterLink
                    v-if="one.intake"
                    :to="`/intakes/${one.intake}/problems?line=${one.line}`"
                    >line {{ one.line }}</RouterLink
                  >
                  ·
                  <RouterLink :to="`/receipts/${one.receipt}`"
                    >receipt {{ one.receipt }}</RouterLink
                  ></span
                >
              </td>
              <td>
                {{ STATES[one.state]
                }}<span class="soft">{{
                  one.withdrawn ||
                  (one.until
                    ? `until ${day(one.until)}`
                    : one.state === 'stands'
                      ? 'until the value is another'
                      : '')
                }}</span>
              </td>
              <td>
                <button
                  v-if="one.state === 'stands'"
                  class="btn"
                  :disabled="!may"
                  @click="withdraw(one)"
                >
                  Withdraw
                </button>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <p v-if="onlyStanding && !shown.length && found.total" class="soft none">
        None of those shown stands any more.
      </p>
      <button v-if="found.waivers.length < found.total" class="btn" @click="more">
        {{ count(found.total - found.waivers.length) }} earlier ones
      </button>
    </template>
    <p v-else-if="!problem" class="soft" role="status">Looking for what was approved …</p>
  </section>
</template>

<style scoped>
.page {
  flex: 1;
  min-width: 0;
  overflow: auto;
  padding: 12px 16px 24px;
}
.head {
  display: flex;
  align-items: baseline;
  gap: 12px;
  flex-wrap: wrap;
}
h1 {
  font-size: 18px;
  line-height: 26px;
  margin: 0;
}
.bar {
  display: flex;
  gap: 8px;
  align-items: center;
  margin: 8px 0;
}
.bar label {
  margin-left: 16px;
}
table {
  width: 100%;
  border-collapse: collapse;
  background: var(--snow);
  border: 1px solid var(--line);
  table-layout: fixed;
  min-width: 760px;
}
th,
td {
  text-align: left;
  vertical-align: top;
  padding: 6px 10px;
  border-bottom: 1px solid var(--drift);
  font-weight: 400;
  overflow-wrap: anywhere;
  line-height: 19px;
}
th {
  color: var(--ink2);
  font-size: 13px;
}
th:nth-child(1) {
  width: 17%;
}
th:nth-child(2) {
  width: 27%;
}
th:nth-child(4) {
  width: 19%;
}
th:nth-child(5) {
  width: 15%;
}
th:last-child {
  width: 106px;
}
td .soft {
  display: block;
  font-size: 13px;
}
.past td {
  color: var(--ink2);
}
.none {
  margin-top: 8px;
}
</style>
