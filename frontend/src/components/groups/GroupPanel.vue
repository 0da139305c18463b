<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import { confirmMembers, getMembers } from '@/api/groups'
import { keepShortlist } from '@/api/shortlists'
import type { Group, Groups, Member, Members } from '@/api/types'
import { PREPARE } from '@/composables/useSession'
import { count, counted, day as inWords, listed, momentInFull } from '@/logic/words'

/** Who is in a group, or in none; with no group, those who have none. */
const props = defineProps<{
  groups: Groups
  group: Group | null
  day: string
  moves: Map<number, string>
}>()
const emit = defineEmits<{ move: [records: Member[], group: string]; close: [] }>()

const members = ref<Members | null>(null)
const ticked = ref(new Set<number>())
const problem = ref('')
const said = ref('')
const may = computed(() => props.groups.level >= PREPARE && !props.day)
const others = computed(() =>
  props.groups.groups.filter(
    (one) =>
      one.key.join('\u001f') !== props.group?.key.join('\u001f') &&
      (!props.group || one.part === props.group.part),
  ),
)
const people = computed(() => members.value?.members ?? [])
const chosen = computed(() =>
  people.value.filter((one) => one.record !== null && ticked.value.has(one.own)),
)
const highest = computed(
  () => 1.1 * Math.max(props.groups.most || 0, ...(members.value?.sizes ?? [0]), 1),
)
const line = computed(() => {
  const sizes = members.value?.sizes ?? []
  return sizes
    .map(
      (size, place) =>
        `${(place * 236) / Math.max(sizes.length - 1, 1)},${52 - (48 * size) / highest.value}`,
    )
    .join(' ')
})

function tick(one: Member): void {
  if (one.record === null) return
  const now = new Set(ticked.value)
  if (!now.delete(one.own)) now.add(one.own)
  ticked.value = now
}
function moveTo(group: string | null): void {
  if (group) emit('move', chosen.value, group)
  ticked.value = new Set()
}
function drag(event: DragEvent, one: Member): void {
  if (one.record === null || !may.value) return
  const all = ticked.value.has(one.own) ? chosen.value : [one]
  event.dataTransfer?.setData('application/x-nevefield-people', JSON.stringify(all))
  event.dataTransfer?.setData('text/plain', all.map((each) => each.name).join('\n'))
}
async function keep(): Promise<void> {
  said.value = ''
  try {
    const label = props.group?.label ?? `without a ${props.groups.title.toLowerCase()}`
    const title = props.group?.part ? `${props.group.part} · ${label}` : label
    const made = await keepShortlist(props.groups.roster, {
      title,
      records: people.value.flatMap((one) => (one.record === null ? [] : [one.record])),
    })
    said.value = `Kept as the shortlist “${made.title}”.`
  } catch (error) {
    said.value = error instanceof Error ? error.message : String(error)
  }
}
const print = () => window.print()

/** A review: each is looked at and ticked off as rightly there. */
const reviewing = ref(false)
const mayReview = computed(() => !!props.group && props.groups.level >= PREPARE && !props.day)
const confirmed = computed(() => people.value.filter((one) => one.confirmed).length)
async function confirm(one: Member): Promise<void> {
  if (!props.group || !members.value) return
  said.value = ''
  try {
    await confirmMembers(props.groups.roster, props.groups.kind, props.group.key, [one.own])
    members.value = await getMembers(
      props.groups.roster,
      props.groups.kind,
      props.group.key,
      props.day,
    )
  } catch (error) {
    said.value = error instanceof Error ? error.message : String(error)
  }
}

watch(
  () => [props.groups, props.group?.key.join('\u001f'), props.day],
  async () => {
    ticked.value = new Set()
    said.value = problem.value = ''
    try {
      members.value = await getMembers(
        props.groups.roster,
        props.groups.kind,
        props.group?.key ?? [],
        props.day,
      )
    } catch (error) {
      problem.value = error instanceof Error ? error.message : String(error)
    }
  },
  { immediate: true },
)
</script>

<template>
  <aside :aria-label="group ? group.label : 'Without a group'">
    <div class="head">
      <h2>{{ group ? group.label : `Without a ${groups.title.toLowerCase()}` }}</h2>
      <span class="grow" /><button class="btn no-print" @click="emit('close')">
        Close <kbd>Esc</kbd>
      </button>
    </div>
    <p class="soft">
      {{ group?.part }}{{ group?.part ? ' · ' : '' }}{{ counted(people.length, 'person', 'people')
      }}{{ day ? ` on ${inWords(day)}` : '' }}
    </p>
    <p v-if="group?.may.length">
      <b>May</b> {{ listed(group.may) }} <span class="soft">(weight {{ group.weight }})</span>
    </p>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <p v-if="group?.troubles.length" class="flag stop no-print">
      <b>{{ group.troubles.join(', ') }}.</b>
      <template v-if="group.troubles.includes('no lead')"
        >Edit one of them to lead: open the record.</template
      >
    </p>
    <div v-if="members?.sizes.length" class="year no-print">
      <h3>Over the year</h3>
      <svg
        viewBox="0 0 240 56"
        width="240"
        height="56"
        role="img"
        :aria-label="`From ${members.sizes[0]} to ${members.sizes.at(-1)} people over the year`"
      >
        <line
          v-if="groups.most"
          x1="0"
          x2="236"
          :y1="52 - (48 * groups.most) / highest"
          :y2="52 - (48 * groups.most) / highest"
          class="dash"
        />
        <line
          v-if="groups.least"
          x1="0"
          x2="236"
          :y1="52 - (48 * groups.least) / highest"
          :y2="52 - (48 * groups.least) / highest"
          class="dash"
        />
        <polyline :points="line" />
      </svg>
    </div>
    <p v-if="may && people.length" class="acts no-print">
      <ChooseOne
        :model-value="null"
        :options="
          others.map((one) => ({
            value: one.key.at(-1) ?? '',
            label: `${one.label} · ${count(one.size)}`,
          }))
        "
        label="Move the ticked people to"
        :placeholder="chosen.length ? `move ${chosen.length} to …` : 'tick, and move to …'"
        :disabled="!chosen.length"
        @update:model-value="moveTo"
      />
    </p>
    <ul class="people">
      <li
        v-for="one in people"
        :key="one.key + one.since"
        :draggable="may && one.record !== null"
        :class="{ moving: one.record !== null && moves.has(one.own) }"
        @dragstart="(event) => drag(event, one)"
      >
        <input
          v-if="may"
          type="checkbox"
          class="no-print"
          :checked="one.record !== null && ticked.has(one.own)"
          :disabled="one.record === null"
          :aria-label="`Tick ${one.name}`"
          @change="tick(one)"
        />
        <span class="print-only" aria-hidden="true">☐</span>
        <span class="name"
          >{{ one.name || 'not in the roster of people'
          }}<b v-if="one.is_lead" class="lead">lead</b></span
        >
        <span class="soft mono">{{ one.key }}</span>
        <span v-if="reviewing" class="since no-print"
          ><template v-if="one.confirmed"
            ><span class="right"
              >✓ right, {{ momentInFull(one.confirmed) }} {{ one.confirmer }}</span
            >
            · <button class="link" @click="confirm(one)">again</button></template
          ><button v-else class="btn" @click="confirm(one)">Right</button></span
        >
        <span v-if="one.since" class="soft since no-print"
          >since {{ inWords(one.since)
          }}<template v-if="one.why">
            ·
            <RouterLink v-if="one.change_set" :to="`/receipts/${one.change_set}`">{{
              one.why
            }}</RouterLink></template
          ></span
        >
      </li>
    </ul>
    <p v-if="members && !people.length" class="soft">Nobody.</p>
    <p class="acts no-print">
      <button
        v-if="mayReview"
        class="btn"
        :aria-pressed="reviewing"
        :disabled="!people.length"
        @click="reviewing = !reviewing"
      >
        {{ reviewing ? `Reviewed ${confirmed} of ${people.length}` : 'Review them' }}
      </button>
      <button class="btn" :disabled="!people.length" @click="print">Print the muster list</button>
      <button
        v-if="groups.field && groups.level >= PREPARE"
        class="btn"
        :disabled="!people.length || !!day"
        @click="keep"
      >
        Make a shortlist
      </button>
    </p>
    <p v-if="said" class="soft" role="status">{{ said }}</p>
    <p class="print-only soft">
      {{ groups.title }} · {{ groups.roster_title }} · {{ momentInFull(new Date().toISOString()) }}
    </p>
  </aside>
</template>

<style scoped>
aside {
  width: 300px;
  flex: none;
  border-left: 1px solid var(--ink);
  padding: 12px 14px 20px;
  overflow-y: auto;
  background: var(--snow);
  font-size: 13.5px;
}
.head {
  display: flex;
  align-items: flex-start;
  gap: 8px;
}
.flag {
  margin: 8px 0;
}
.year {
  margin: 10px 0;
}
svg {
  display: block;
  margin-top: 6px;
}
polyline {
  fill: none;
  stroke: var(--fir);
  stroke-width: 2;
}
.dash {
  stroke: var(--ink3);
  stroke-dasharray: 4 3;
}
.people {
  margin: 8px 0;
  border-top: 1px solid var(--drift);
}
.people li {
  display: flex;
  flex-wrap: wrap;
  gap: 0 8px;
  align-items: center;
  padding: 4px 0;
  border-bottom: 1px solid var(--drift);
}
.people li[draggable='true'] {
  cursor: grab;
}
.people .moving {
  opacity: 0.55;
  text-decoration: line-through;
}
.name {
  flex: 1;
  overflow-wrap: anywhere;
  line-height: 18px;
}
.lead {
  margin-left: 6px;
  color: var(--fir);
  font-size: 12px;
}
.since {
  flex: 1 0 100%;
  font-size: 12.5px;
  line-height: 16px;
}
.right {
  color: var(--fir);
}
.acts {
  display: flex;
  gap: 8px;
  margin: 10px 0 0;
  flex-wrap: wrap;
}
.print-only {
  display: none;
}
@media print {
  aside {
    width: 100%;
    border: 0;
    padding: 0;
    overflow: visible;
  }
  .people li {
    break-inside: avoid;
  }
  .print-only {
    display: inline;
  }
  p.print-only {
    display: block;
    margin-top: 12px;
  }
}
</style>
