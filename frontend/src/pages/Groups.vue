<script setup lang="ts">
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import TextBox from '@/components/TextBox.vue'
import GroupPanel from '@/components/groups/GroupPanel.vue'
import RulesList from '@/components/groups/RulesList.vue'
import Vessel from '@/components/groups/Vessel.vue'
import { getGroups, listKinds, place } from '@/api/groups'
import { listShortlists } from '@/api/shortlists'
import type { Group, GroupKind, Groups, Member, Shortlist } from '@/api/types'
import { useKeys } from '@/composables/useKeys'
import { PREPARE } from '@/composables/useSession'
import { count, counted, day as inWords } from '@/logic/words'

const FEW = 14 // groups that are drawn large

const route = useRoute()
const router = useRouter()
const kinds = ref<GroupKind[]>([])
const shortlists = ref<(Shortlist & { roster: string })[]>([])
const groups = shallowRef<Groups | null>(null)
const moves = ref(new Map<number, string>())
const from = ref(new Map<number, string>())
const problem = ref('')
const loaded = ref(false)
const onlyTroubles = ref(false)
const asking = ref(false)
const over = ref('')
const roster = computed(() => String(route.params.roster ?? ''))
const kind = computed(() => String(route.params.kind ?? ''))
const day = computed(() => String(route.query.day ?? ''))
const part = computed(() => String(route.query.part ?? ''))
const chosen = computed(() => String(route.query.group ?? ''))
/** Of the parts of a key; no code has it in it. */
const BETWEEN = '\u001f'
const keyOf = (one: Group) => one.key.join(BETWEEN)
const parts = computed(() => [...new Set(groups.value?.groups.map((one) => one.part) ?? [])])
const shown = computed(() =>
  (groups.value?.groups ?? []).filter(
    (one) =>
      (!part.value || one.part === part.value) && (!onlyTroubles.value || one.troubles.length),
  ),
)
const sections = computed(() =>
  parts.value
    .map((name) => ({ name, groups: shown.value.filter((one) => one.part === name) }))
    .filter((one) => one.groups.length),
)
const isTall = computed(() => shown.value.length <= FEW)
const scale = computed(
  () =>
    Math.max(
      (groups.value?.most ?? 0) * 1.25,
      ...(groups.value?.groups ?? []).map((one) => one.size + (gets.value.get(keyOf(one)) ?? 0)),
      1,
    ) * 1.05,
)
const current = computed(
  () => groups.value?.groups.find((one) => keyOf(one) === chosen.value) ?? null,
)
const troubled = computed(
  () => (groups.value?.groups ?? []).filter((one) => one.troubles.length).length,
)
const may = computed(() => !!groups.value && groups.value.level >= PREPARE && !day.value)
let latest = 0 // of the askings for groups: an answer to an earlier one, come later, is none
const byRoster = computed(() =>
  [...new Set(kinds.value.map((one) => one.roster))].map((name) => ({
    name,
    title: kinds.value.find((one) => one.roster === name)!.roster_title,
    kinds: kinds.value.filter((one) => one.roster === name),
  })),
)
const gets = computed(() => tally((record, to) => target(record, to)))
const loses = computed(() => tally((record) => from.value.get(record) ?? ''))

function tally(of: (record: number, to: string) => string): Map<string, number> {
  const found = new Map<string, number>()
  for (const [record, to] of moves.value) {
    const key = of(record, to)
    if (key) found.set(key, (found.get(key) ?? 0) + 1)
  }
  return found
}
/** The own name of the group that somebody leaves; '' for one who has none. */
const nameOf = (own: number) =>
  (from.value.get(own) ?? '').split(BETWEEN).at(-1)!.replace(/^-$/, '')
const target = (record: number, to: string) =>
  [...(from.value.get(record) ?? '').split(BETWEEN).slice(0, -1), to].join(BETWEEN)
const said = (one: Group) =>
  [
    one.weight === null ? '' : `weight ${one.weight}`,
    one.leads.length ? `lead ${one.leads.join(' and ')}` : '',
    one.ages,
  ].filter(Boolean)
const go = (query: Record<string, string | undefined>) =>
  void router.replace({ query: { ...route.query, ...query } })
const setPart = (event: Event) =>
  go({ part: (event.target as HTMLSelectElement).value || undefined, group: undefined })
const setDay = (event: Event) => go({ day: (event.target as HTMLInputElement).value || undefined })

async function load(): Promise<void> {
  problem.value = ''
  const mine = ++latest
  try {
    const found = kind.value ? await getGroups(roster.value, kind.value, day.value) : null
    if (mine === latest) groups.value = found
  } catch (error) {
    if (mine === latest) problem.value = error instanceof Error ? error.message : String(error)
  }
}
function move(people: Member[], to: string): void {
  const now = new Map(moves.value)
  for (const one of people) {
    if (one.record === null) continue
    if (one.name || one.key) seen.value.set(one.own, one)
    if (!from.value.has(one.own)) from.value.set(one.own, chosen.value)
    if (nameOf(one.own) === to) now.delete(one.own)
    else now.set(one.own, to)
  }
  moves.value = now
}
function drop(event: DragEvent, one: Group): void {
  over.value = ''
  const text = event.dataTransfer?.getData('application/x-nevefield-people')
  if (!text || !may.value) return
  if (current.value && one.part !== current.value.part) {
    problem.value =
      `${one.label} is of another part, ${one.part}. Who changes that too is ` +
      `changed on the roster’s page.`
    return
  }
  move(JSON.parse(text) as Member[], one.key.at(-1) ?? '')
}
/** Who is noted, from where to where, and what is lost by it. */
const seen = ref(new Map<number, Member>())
const noted = computed(() =>
  [...moves.value].slice(0, 6).map(([own, to]) => {
    const member = seen.value.get(own)
    const leaves = groups.value?.groups.find((one) => keyOf(one) === from.value.get(own))
    const lost = leaves && member?.is_lead ? [`${leaves.label} is without its lead`] : []
    if (
      leaves &&
      groups.value &&
      groups.value.least &&
      leaves.size - (loses.value.get(keyOf(leaves)) ?? 0) < groups.value.least
    )
      lost.push(`${leaves.label} is under its least`)
    const joins = groups.value?.groups.find(
      (one) => one.key.at(-1) === to && (!leaves || one.part === leaves.part),
    )
    if (leaves?.may.length && leaves.may.some((may) => !joins?.may.includes(may)))
      lost.push(`may no more ${leaves.may.filter((may) => !joins?.may.includes(may)).join(', ')}`)
    return {
      own,
      name: member?.name || member?.key || `record ${own}`,
      from: leaves?.label ?? '',
      to: joins?.label ?? to,
      lost,
      since: leaves ? (member?.since ?? '') : '',
    }
  }),
)

async function review(): Promise<void> {
  problem.value = ''
  try {
    const noted = [...moves.value]
    const leaving = Object.fromEntries(
      noted.map(([own]) => [String(own), nameOf(own)]).filter(([, name]) => name),
    )
    const made = await place(
      roster.value,
      kind.value,
      Object.fromEntries(noted.map(([own, to]) => [String(own), to])),
      false,
      leaving,
    )
    await router.push(`/intakes/${made.intake}/changes`)
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}
function step(by: number): void {
  const list = shown.value
  const now = list.findIndex((one) => keyOf(one) === chosen.value)
  const next = list[Math.max(0, Math.min(list.length - 1, now + by))]
  if (next) go({ group: keyOf(next) })
}

useKeys({
  ArrowRight: () => step(1),
  ArrowLeft: () => step(-1),
  '.': () => step(1),
  ',': () => step(-1),
  Escape: () => go({ group: undefined }),
})
watch([roster, kind, day], () => {
  moves.value = new Map()
  from.value = new Map()
  void load()
})
onMounted(async () => {
  try {
    kinds.value = await listKinds()
    const first = kinds.value[0]
    if (!kind.value && first) await router.replace(`/groups/${first.roster}/${first.kind}`)
    else await load()
    const rosters = [...new Set(kinds.value.map((one) => one.roster))]
    shortlists.value = (
      await Promise.all(
        rosters.map(async (name) =>
          (await listShortlists(name)).map((one) => ({ ...one, roster: name })),
        ),
      )
    ).flat()
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  } finally {
    loaded.value = true
  }
})

function goToday(): void {
  asking.value = false
  void go({ day: undefined })
}
</script>

<template>
  <nav class="kinds no-print" aria-label="Kinds of group">
    <template v-for="one in byRoster" :key="one.name">
      <h3>{{ one.title }}</h3>
      <RouterLink
        v-for="each in one.kinds"
        :key="each.kind"
        :to="`/groups/${each.roster}/${each.kind}`"
        :class="{ on: each.kind === kind && each.roster === roster }"
        ><span>{{ each.title }}</span
        ><b>{{ count(each.groups) }}</b></RouterLink
      >
    </template>
    <template v-if="shortlists.length">
      <h3>Shortlists</h3>
      <RouterLink
        v-for="one in shortlists"
        :key="one.id"
        :to="`/rosters/${one.roster}?shortlist=${one.id}`"
        :title="one.said || `kept by ${one.by}`"
        ><span>{{ one.title }}</span
        ><b>{{ count(one.count) }}</b></RouterLink
      >
    </template>
  </nav>
  <section class="page">
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <template v-if="groups">
      <div class="head no-print">
        <h1>{{ groups.title }}</h1>
        <span class="soft"
          >{{ counted(groups.groups.length, 'group')
          }}{{ groups.least || groups.most ? ` of ${groups.least} to ${groups.most}` : ''
          }}{{ groups.has_lead ? ', one lead' : '' }}{{ groups.has_ages ? ', one age band' : ''
          }}{{ day ? ` · on ${inWords(day)}` : '' }}</span
        >
        <span class="grow" />
        <button
          v-if="troubled"
          class="btn"
          :aria-pressed="onlyTroubles"
          @click="onlyTroubles = !onlyTroubles"
        >
          {{ onlyTroubles ? 'Show all' : `${counted(troubled, 'group')} with trouble` }}
        </button>
        <select
          v-if="parts.length > 1"
          class="box"
          :value="part"
          aria-label="Which part"
          @change="setPart"
        >
          <option value="">every part</option>
          <option v-for="one in parts" :key="one" :value="one">{{ one }}</option>
        </select>
        <label v-if="day || asking" class="soft"
          >on
          <TextBox
            type="date"
            class="box"
            :model-value="day"
            aria-label="The groups on another day"
            @change="setDay"
        /></label>
        <button v-if="day || asking" class="btn" @click="goToday">Today</button>
        <button v-else class="btn" @click="asking = true">Another day</button>
        <RouterLink
          v-if="may && groups.code_list"
          class="btn"
          :to="`/codes/${groups.code_list}`"
          title="The list of names, with their days of use"
          >Make another</RouterLink
        >
        <RouterLink
          v-if="may && groups.field"
          class="btn main"
          :to="`/groups/${roster}/${kind}/spread`"
          >Spread people …</RouterLink
        >
      </div>
      <div class="body no-print">
        <p v-if="groups.without" class="flag">
          <button class="link" @click="go({ group: '-' })">
            {{ counted(groups.without, 'person is', 'people are') }} without a
            {{ groups.title.toLowerCase() }}
          </button>
        </p>
        <section v-for="one in sections" :key="one.name">
          <h3 v-if="parts.length > 1">
            {{ one.name }}
            <span class="soft"
              >{{ counted(one.groups.length, 'group') }} ·
              {{
                counted(
                  one.groups.reduce((sum, each) => sum + each.size, 0),
                  'person',
                  'people',
                )
              }}</span
            >
          </h3>
          <div class="vessels" :class="{ tall: isTall }">
            <button
              v-for="each in one.groups"
              :key="keyOf(each)"
              class="plain"
              :class="{ on: keyOf(each) === chosen, over: over === keyOf(each) }"
              :aria-pressed="keyOf(each) === chosen"
              @click="go({ group: keyOf(each) })"
              @dragover.prevent="over = keyOf(each)"
              @dragleave="over = ''"
              @drop.prevent.stop="(event) => drop(event, each)"
            >
              <Vessel
                :label="each.label"
                :size="each.size"
                :least="groups.least"
                :most="groups.most"
                :scale="scale"
                :gets="gets.get(keyOf(each))"
                :loses="loses.get(keyOf(each))"
                :troubles="each.troubles"
                :said="said(each)"
                :tall="isTall"
              />
            </button>
          </div>
        </section>
        <RulesList v-if="groups.field" :roster="groups.roster" :field="groups.field" />
        <div v-if="!shown.length" class="empty">
          <h2>
            {{
              groups.groups.length
                ? 'Nothing is wrong with any of them'
                : `On that day there is no ${groups.title.toLowerCase()}`
            }}
          </h2>
          <p v-if="!groups.groups.length">
            Drop a file that says who is in which, or put somebody in by hand on the roster’s page.
          </p>
        </div>
      </div>
      <div v-if="moves.size" class="waiting no-print" role="status">
        <ul v-if="noted.length" class="noted">
          <li v-for="one in noted" :key="one.own">
            <b>{{ one.name }}</b> {{ one.from ? `leaves ${one.from}` : 'had none'
            }}{{ one.to ? `, joins ${one.to}` : ''
            }}<span v-for="lost in one.lost" :key="lost" class="bad"> · {{ lost }}</span
            ><span v-if="one.since" class="soft"> · was in it since {{ inWords(one.since) }}</span>
          </li>
        </ul>
        <span
          ><b>{{ counted(moves.size, 'move') }} noted</b>, nothing is changed yet.</span
        >
        <button class="btn main" @click="review">
          See what {{ moves.size === 1 ? 'it' : 'they' }} would do</button
        ><button class="btn" @click="moves = new Map()">
          Forget {{ moves.size === 1 ? 'it' : 'them' }}
        </button>
      </div>
    </template>
    <div v-else-if="loaded && !kinds.length" class="empty">
      <h2>No roster has groups yet</h2>
      <p>
        A roster’s definition says which of its fields are a group:
        <span class="mono">nevefield.groups</span>.
      </p>
    </div>
    <p v-else-if="!problem" class="soft" role="status">Opening the groups …</p>
  </section>
  <GroupPanel
    v-if="groups && (current || chosen === '-')"
    :groups="groups"
    :group="current"
    :day="day"
    :moves="moves"
    @move="move"
    @close="go({ group: undefined })"
  />
</template>

<style scoped>
.kinds {
  width: 196px;
  flex: none;
  padding: 12px 12px 20px;
  border-right: 1px solid var(--line);
  overflow-y: auto;
}
.kinds h3 {
  font-weight: 400;
  font-size: 13px;
  color: var(--ink2);
  margin: 14px 8px 6px;
}
.kinds h3:first-child {
  margin-top: 0;
}
.kinds a {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  padding: 5px 8px;
  color: var(--ink);
  text-decoration: none;
  border-left: 3px solid transparent;
}
.kinds a span {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.kinds a b {
  font-weight: 400;
}
.kinds a:hover {
  background: var(--row-on);
}
.kinds a.on {
  background: var(--snow);
  border-left-color: var(--ink);
  font-weight: 600;
}
.kinds a.on b {
  font-weight: 600;
}
.page {
  flex: 1;
  min-width: 0;
  display: flex;
  flex-direction: column;
  padding: 12px 0 0 15px;
  background: var(--snow);
}
.head {
  display: flex;
  gap: 10px;
  align-items: center;
  padding: 0 16px 0 3px;
  flex-wrap: wrap;
}
h1 {
  font-size: 18px;
  line-height: 26px;
  font-weight: 600;
  margin: 0;
}
.body {
  flex: 1;
  min-height: 0;
  overflow-y: auto;
  padding: 10px 16px 20px 3px;
}
.body section {
  margin-top: 14px;
}
.body h3 {
  margin-bottom: 8px;
}
.body h3 .soft {
  font-weight: 400;
  margin-left: 8px;
}
.vessels {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(92px, 1fr));
  gap: 12px;
  align-items: start;
}
.vessels.tall {
  grid-template-columns: repeat(auto-fill, minmax(118px, 1fr));
  gap: 14px;
}
.vessels .plain {
  padding: 3px;
  min-width: 0;
}
.vessels .plain.on {
  box-shadow: 0 0 0 2px var(--fir);
  background: var(--row-on);
}
.vessels .plain.over {
  background: var(--new-soft);
}
.flag {
  margin: 0 16px 8px 0;
}
.noted {
  flex: 1 0 100%;
  list-style: none;
  margin: 0;
  padding: 0;
  font-size: 13.5px;
  line-height: 21px;
}
.waiting {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
  padding: 10px 16px 10px 0;
  border-top: 1px solid var(--ink);
}
</style>
