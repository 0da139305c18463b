<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import CauseBox from '@/components/passing/CauseBox.vue'
import DestinationHead from '@/components/passing/DestinationHead.vue'
import DoorList from '@/components/passing/DoorList.vue'
import FilesMade from '@/components/passing/FilesMade.vue'
import NotHere from '@/components/NotHere.vue'
import PassedTable from '@/components/passing/PassedTable.vue'
import PlaceBar from '@/components/passing/PlaceBar.vue'
import ReasonDialog from '@/components/ReasonDialog.vue'
import WentPanel from '@/components/passing/WentPanel.vue'
import { holdBack, listPassed, type Place } from '@/api/passing'
import type { PassedRow, PassedRows } from '@/api/types'
import { usePassing } from '@/composables/usePassing'
import { count, counted } from '@/logic/words'

const PAGE = 200
const passing = usePassing()
const route = useRoute()
const router = useRouter()
const found = ref<PassedRows | null>(null)
const rows = ref<PassedRow[]>([])
const chosen = ref<PassedRow | null>(null)
const text = ref(String(route.query.q ?? ''))
const problem = ref('')
const holding = ref<number[]>([])
const one = computed(() => passing.one.value)
const place = computed(() => String(route.query.place ?? '') as Place)
const code = computed(() => (route.query.code === undefined ? undefined : String(route.query.code)))
let latest = 0

async function load(more = false): Promise<void> {
  if (!one.value) return
  const mine = ++latest
  const start = more ? rows.value.length : 0
  const query = { place: place.value, text: text.value, start, limit: PAGE }
  try {
    const page = await listPassed(one.value.name, {
      ...query,
      ...(code.value === undefined ? {} : { code: code.value }),
    })
    if (mine !== latest) return
    found.value = page
    rows.value = more ? [...rows.value, ...page.rows] : page.rows
    chosen.value =
      rows.value.find((row) => row.record === chosen.value?.record) ?? rows.value[0] ?? null
    problem.value = ''
  } catch (error) {
    if (mine !== latest) return
    problem.value = error instanceof Error ? error.message : String(error)
  }
}
const show = (where: Place, only?: string) =>
  void router.replace({
    query: { place: where || undefined, ...(only === undefined ? {} : { code: only }) },
  })
async function hold(reason: string): Promise<void> {
  const records = holding.value
  holding.value = []
  await passing.act(() => holdBack(one.value!.name, records, reason))
}
watch([place, code, text, () => passing.turn.value, () => one.value?.name], () => void load(), {
  immediate: true,
})
</script>

<template>
  <template v-if="one">
    <section class="mid" :aria-label="one.title">
      <DestinationHead :destination="one" />
      <p v-if="passing.problem.value" class="flag stop" role="alert">{{ passing.problem.value }}</p>
      <p v-else-if="one.problem" class="flag">{{ one.problem }}</p>
      <template v-if="one.causes.length">
        <p class="soft small">
          {{ count(one.counts.refused ?? 0) }} refused, {{ counted(one.causes.length, 'cause') }}
        </p>
        <CauseBox
          v-for="cause in one.causes"
          :key="cause.code"
          :destination="one.name"
          :cause="cause"
          :on="cause.code === code"
          :may-decide="one.may_decide"
          @show="show('refused', cause.code)"
          @hold="holding = cause.records"
        />
      </template>
      <DoorList v-if="one.doors.length" :doors="one.doors" />
      <PlaceBar v-model:text="text" :destination="one" :place="place" @place="show" />
      <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
      <PassedTable
        v-if="rows.length"
        v-model:chosen="chosen"
        :rows="rows"
        :may-decide="one.may_decide"
        @hold="(record) => (holding = [record])"
        @let="(record) => passing.act(() => holdBack(one!.name, [record], ''))"
      />
      <p v-else-if="found" class="empty">
        {{
          text
            ? `Nobody is found by “${text}” here.`
            : place
              ? 'Nobody stands there. ✓'
              : 'The rosters have nobody yet.'
        }}
      </p>
      <button v-if="found && rows.length < found.total" class="btn more" @click="load(true)">
        {{ count(found.total - rows.length) }} more
      </button>
      <FilesMade v-if="one.files.length" :destination="one" />
    </section>
    <WentPanel v-if="chosen" :key="chosen.record" :row="chosen" :destination="one.name" />
    <ReasonDialog
      :open="holding.length > 0"
      :title="`Hold ${counted(holding.length, 'record')} back`"
      said="What they hold of them stays as it is until you let them go again."
      act="Hold"
      @done="hold"
      @close="holding = []"
    />
  </template>
  <NotHere
    v-else-if="passing.problem.value"
    title="This destination cannot be opened"
    :problem="passing.problem.value"
    to="/passing"
    back="All who are told"
  />
  <p v-else class="empty opening" role="status">Opening the destination …</p>
</template>

<style scoped>
.mid {
  flex: 1;
  min-width: 0;
  overflow: auto;
  padding: 12px 18px;
  background: var(--snow);
}
.more {
  margin-top: 8px;
}
</style>
