<script setup lang="ts">
import { computed, onMounted, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'
import FileChooser from '@/components/FileChooser.vue'
import Mark from '@/components/Mark.vue'
import RosterHistory from '@/components/RosterHistory.vue'
import { getDesk } from '@/api/session'
import type { Desk } from '@/api/types'
import { useDrop } from '@/composables/useDrop'
import { useKeys } from '@/composables/useKeys'
import { PREPARE, useSession } from '@/composables/useSession'
import { usePageTitle } from '@/composables/usePageTitle'
import { counted, day as dayInWords, moment } from '@/logic/words'

const router = useRouter()
const session = useSession()
const drop = useDrop()
const desk = shallowRef<Desk | null>(null)
const problem = ref('')
const selected = ref(-1)
const mayDrop = computed(
  () => session.state.me?.rosters.some((one) => one.level >= PREPARE) ?? false,
)

async function load(): Promise<void> {
  try {
    desk.value = await getDesk()
    problem.value = ''
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}

async function take(file: File): Promise<void> {
  const intake = await drop.send(file)
  if (intake) await router.push(`/intakes/${intake}/problems`)
}

const left = (days: number) =>
  days < 0 ? `${counted(-days, 'day')} over` : days ? counted(days, 'day') : 'today'
function move(by: number): void {
  const last = (desk.value?.open.length ?? 0) - 1
  selected.value = Math.max(0, Math.min(last, selected.value + by))
}
const open = () =>
  desk.value?.open[selected.value] && void router.push(desk.value.open[selected.value]!.place)

useKeys({
  ArrowDown: () => move(1),
  ArrowUp: () => move(-1),
  '.': () => move(1),
  ',': () => move(-1),
  Enter: () => void open(),
})
onMounted(() => void load())
usePageTitle(() => 'Desk')
</script>

<template>
  <section class="left">
    <h1 class="second">Open on your desk</h1>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <ul v-if="desk?.open.length">
      <li
        v-for="(item, index) in desk.open"
        :key="item.place + item.lead"
        :class="{ on: index === selected }"
      >
        <RouterLink :to="item.place">
          <Mark :weight="item.weight" />
          <span
            ><b>{{ item.lead }}</b> {{ item.rest }}<br /><span class="soft small">{{
              item.detail
            }}</span></span
          >
          <span v-if="item.due" class="small at due" :class="{ over: (item.days ?? 0) < 0 }"
            >due {{ dayInWords(item.due) }}<br /><b>{{ left(item.days ?? 0) }}</b></span
          >
          <span v-else class="soft small at">{{ moment(item.at, new Date()) }}</span>
        </RouterLink>
      </li>
    </ul>
    <p v-else-if="!desk && !problem" class="none soft" role="status">Looking at what is open …</p>
    <p v-else-if="desk" class="none soft">Nothing is open. When a file comes, drop it anywhere.</p>
    <div v-if="mayDrop" class="drop">
      <p>Drop a file anywhere.<br />Nevefield says which roster it looks like.</p>
      <FileChooser @chosen="take" />
    </div>
  </section>
  <section class="right">
    <div class="head">
      <h2>Rosters, with what each file did</h2>
      <span class="grow" /> <span class="key"><i class="l-new" />new</span
      ><span class="key"><i class="l-changed" />changed</span
      ><span class="key"><i class="l-same" />same</span>
      <span class="key"><i class="l-stopped" />not in</span
      ><span class="key"><i class="l-absent" />absent</span>
    </div>
    <RosterHistory v-for="roster in desk?.rosters" :key="roster.name" :roster="roster" />
    <div v-if="desk && !desk.rosters.length" class="empty">
      <h2>There is no roster yet</h2>
      <p>
        Who runs the product opens one with its definition:<br /><span class="mono"
          >nevefield roster open DEFINITION.json --codes CODES.csv</span
        >
      </p>
    </div>
  </section>
</template>

<style scoped>
.left {
  width: 452px;
  flex: none;
  background: var(--snow);
  border-right: 1px solid var(--ink);
  padding: 14px 18px;
  overflow-y: auto;
}
.right {
  flex: 1;
  min-width: 0;
  padding: 14px 18px;
  overflow-y: auto;
}
h2 {
  font-size: 15px;
}
ul {
  margin-top: 8px;
  border-top: 1px solid var(--drift);
}
li a {
  display: grid;
  grid-template-columns: 20px 1fr auto;
  align-items: baseline;
  padding: 7px 0 8px;
  border-bottom: 1px solid var(--drift);
  color: var(--ink);
  text-decoration: none;
}
li a:hover,
li.on a {
  background: var(--row-on);
}
li.on a {
  box-shadow: inset 3px 0 0 var(--fir);
  padding-left: 8px;
}
.at {
  padding-left: 10px;
  white-space: nowrap;
}
.none {
  padding: 14px 0;
}
.drop {
  margin-top: 18px;
  border: 1px dashed var(--ink3);
  padding: 22px 16px;
  text-align: center;
  color: var(--ink2);
}
.drop p {
  margin-bottom: 12px;
}
.head {
  display: flex;
  gap: 12px;
  align-items: baseline;
  border-bottom: 1px solid var(--line);
  padding-bottom: 8px;
}
.key {
  display: inline-flex;
  gap: 5px;
  align-items: center;
  font-size: 13px;
  color: var(--ink2);
}
.key i {
  width: 10px;
  height: 10px;
}
.due {
  text-align: right;
  line-height: 18px;
}
.due.over {
  color: var(--stopped-ink);
}
</style>
