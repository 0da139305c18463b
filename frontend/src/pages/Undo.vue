<script setup lang="ts">
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import ChangeMark from '@/components/intake/ChangeMark.vue'
import ProposalBox from '@/components/ProposalBox.vue'
import VirtualTable, { type TableColumn } from '@/components/VirtualTable.vue'
import { getProposal, getUndo, proposeTakeBack, takeBack } from '@/api/proposals'
import { getChangeSet } from '@/api/rosters'
import type { ChangeSet, Proposal, ProposalDone, Undo, UndoPerson, Value } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { useKeys } from '@/composables/useKeys'
import { usePages } from '@/composables/usePages'
import { APPROVE, PREPARE, useSession } from '@/composables/useSession'
import { count, counted, listed, momentInFull, show } from '@/logic/words'

const route = useRoute()
const router = useRouter()
const catalog = useCatalog()
const session = useSession()
const id = Number(route.params.id)
const receipt = shallowRef<ChangeSet | null>(null)
const undo = shallowRef<Undo | null>(null)
const proposal = shallowRef<Proposal | null>(null)
const problem = ref('')
const working = ref(false)
const selected = ref(0)
/** Fields that stay as they are, and people who do. */
const fieldsKept = ref(new Set<string>())
const kept = ref(new Set<number>())
const whole = shallowRef<Undo | null>(null)
const level = computed(
  () =>
    session.state.me?.rosters.find((one) => one.name === receipt.value?.roster)?.level ??
    session.state.me?.level ??
    0,
)
const chosenFields = computed(() =>
  fieldsKept.value.size
    ? (whole.value?.families ?? [])
        .map((one) => one.field)
        .filter((one) => !fieldsKept.value.has(one))
    : null,
)
const goes = computed(() =>
  undo.value ? undo.value.leaves + undo.value.returns + undo.value.values - kept.value.size : 0,
)
const isPart = computed(
  () => !!undo.value && (kept.value.size > 0 || fieldsKept.value.size > 0 || undo.value.kept > 0),
)
const proposes = computed(() => !!undo.value?.why || level.value < APPROVE)
const pages = usePages<UndoPerson>(async (start, limit) => {
  const found = await getUndo(id, chosenFields.value, start, limit)
  if (start === 0) {
    undo.value = found
    whole.value ??= found
  }
  return { total: found.total, rows: found.people }
})
const columns: TableColumn[] = [
  { key: 'tick', title: '', width: '46px' },
  { key: 'key', title: 'Key', width: '120px', mono: true },
  { key: 'name', title: 'Name', width: 'minmax(160px, 1fr)' },
  { key: 'does', title: 'What would be', width: 'minmax(320px, 3fr)' },
]
/** The chosen person in full: a long value does not fit into its line of the list. */
const person = computed(() => pages.at(selected.value))
const sentence = computed(() => {
  if (!undo.value) return ''
  const { leaves, returns, values } = undo.value
  const parts = [
    leaves
      ? `${counted(leaves, 'person who joined leaves', 'people who joined leave')} the roster again`
      : '',
    returns ? `${counted(returns, 'person who left returns', 'people who left return')}` : '',
    values ? `${counted(values, 'record gets its', 'records get their')} earlier values back` : '',
  ]
  return parts.some(Boolean)
    ? `${listed(parts.filter(Boolean))}.`
    : 'There is nothing left of this to take back.'
})
const label = (value: Value) => show(value) || 'empty'
const asked = () => ({ fields: chosenFields.value, but: [...kept.value], as_far: isPart.value })

async function load(): Promise<void> {
  try {
    receipt.value = await getChangeSet(id)
    proposal.value = route.query.proposal ? await getProposal(Number(route.query.proposal)) : null
    await pages.restart()
    problem.value = pages.problem.value
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}

function toggle(person: UndoPerson | undefined): void {
  if (!person?.does || proposal.value) return
  const next = new Set(kept.value)
  if (!next.delete(person.record)) next.add(person.record)
  kept.value = next
}
function toggleField(name: string): void {
  const next = new Set(fieldsKept.value)
  if (!next.delete(name)) next.add(name)
  fieldsKept.value = next
}

async function act(): Promise<void> {
  working.value = true
  problem.value = ''
  try {
    if (proposes.value) {
      const done = await proposeTakeBack(id, asked())
      await router.replace({ query: { proposal: done.proposal } })
      await load()
    } else {
      const done = await takeBack(id, asked())
      await shown(done.id)
    }
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  } finally {
    working.value = false
  }
}
async function shown(number: number): Promise<void> {
  void catalog.load().catch(() => undefined)
  await router.push(`/receipts/${number}`)
}
const agreed = (done: ProposalDone) => void (done.change_set ? shown(done.change_set) : load())
const step = (by: number) =>
  (selected.value = Math.max(0, Math.min(pages.total.value - 1, selected.value + by)))

useKeys({
  ArrowDown: () => step(1),
  ArrowUp: () => step(-1),
  x: () => toggle(pages.at(selected.value)),
})
watch(fieldsKept, () => void pages.restart())
onMounted(() => void load())
</script>

<template>
  <div class="page">
    <section v-if="receipt" class="sheet">
      <h2>
        {{
          undo ? `Taking back “${receipt.title}” would do this` : `Taking back “${receipt.title}”`
        }}
      </h2>
      <p class="soft">
        Receipt {{ receipt.id }} of {{ momentInFull(receipt.at)
        }}{{ receipt.by ? ` by ${receipt.by}` : '' }} ·
        <RouterLink :to="`/receipts/${receipt.id}`">look at it</RouterLink>
      </p>
      <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
      <template v-if="undo">
        <p class="said">
          {{ sentence }}
          <template v-if="receipt.kind === 'intake'"
            >The file and every step stay, so that it can be applied again.</template
          >
        </p>
        <p v-if="undo.kept" class="flag">
          <b>{{ counted(undo.kept, 'record was', 'records were') }} changed again later</b>, so
          {{ undo.kept === 1 ? 'it keeps' : 'they keep' }} what rests on that; they stand at the end
          of the list, each with the later file. Take that back first if it is to go.
        </p>
        <fieldset v-if="whole && whole.families.length" :disabled="!!proposal">
          <legend>Fields that go back</legend>
          <label v-for="one in whole.families" :key="one.field"
            ><input
              type="checkbox"
              :checked="!fieldsKept.has(one.field)"
              @change="toggleField(one.field)"
            />
            {{ one.title }} <span class="soft">{{ count(one.count) }}</span></label
          >
        </fieldset>
        <VirtualTable
          v-if="pages.total.value"
          label="Who would be taken back"
          :columns="columns"
          :pages="pages"
          :selected="selected"
          class="people"
          @choose="(index) => (selected = index)"
          @open="(index) => toggle(pages.at(index))"
        >
          <template #cell="{ row, column }">
            <input
              v-if="column.key === 'tick' && row.does"
              type="checkbox"
              :checked="!kept.has(row.record)"
              :disabled="!!proposal"
              :aria-label="`Take ${row.name} back`"
              @click.stop
              @change="toggle(row)"
            />
            <template v-else-if="column.key === 'key'">{{ row.key }}</template>
            <template v-else-if="column.key === 'name'"
              ><RouterLink :to="`/rosters/${receipt.roster}?record=${row.record}`" @click.stop>{{
                row.name
              }}</RouterLink></template
            >
            <template v-else-if="column.key === 'does'">
              <template v-if="row.does === 'leaves'"
                ><ChangeMark kind="absent" /> leaves the roster</template
              >
              <template v-else-if="row.does === 'returns'"
                ><ChangeMark kind="join" /> returns as it was</template
              >
              <template v-for="move in row.moves" :key="move.field"
                ><span class="soft">{{ move.title }}</span>
                <span class="was">{{ label(move.now) }}</span><span class="arrow">→</span
                ><b class="will">{{ label(move.then) }}</b
                >&ensp;</template
              >
              <span v-if="row.rests.length" class="rests"
                ><b>stays</b>: {{ row.rests[0] ? listed(row.rests) : 'the whole record'
                }}<template v-if="row.later.length"
                  >, changed by
                  <RouterLink
                    v-for="one in row.later.slice(-1)"
                    :key="one.change_set"
                    :to="`/receipts/${one.change_set}`"
                    @click.stop
                    >{{ one.title }}</RouterLink
                  ></template
                ></span
              >
            </template>
          </template>
        </VirtualTable>
        <p v-if="person?.moves.length" class="full" aria-live="polite">
          <b>{{ person.name }}</b>:
          <template v-for="move in person.moves" :key="move.field"
            ><span class="soft">{{ move.title }}</span>
            <span class="was">{{ label(move.now) }}</span><span class="arrow">→</span
            ><b class="will">{{ label(move.then) }}</b
            >&ensp;</template
          >
        </p>
        <ProposalBox
          v-if="proposal"
          :proposal="proposal"
          :act="`take back ${counted(proposal.counts.taken_back ?? 0, 'record')}`"
          @done="agreed"
          @decided="load"
        />
        <div class="do">
          <button
            v-if="goes > 0 && !proposal"
            class="btn main"
            :disabled="working || level < PREPARE"
            @click="act"
          >
            {{
              working
                ? 'Working …'
                : `${proposes ? 'Propose to take back' : 'Take back'} ${counted(goes, 'record')}`
            }}
          </button>
          <RouterLink class="btn" :to="`/receipts/${receipt.id}`">Leave it</RouterLink>
          <p v-if="undo.why && !proposal" class="soft">Here {{ undo.why }}.</p>
          <p v-else-if="isPart && goes > 0" class="soft">
            Only a part of the receipt: the rest of it stands, and can be taken back later.
          </p>
          <p v-if="pages.total.value && !proposal" class="soft keys">
            <kbd>X</kbd> leave this person as it is
          </p>
        </div>
      </template>
    </section>
    <p v-else-if="problem" class="flag stop" role="alert">{{ problem }}</p>
  </div>
</template>

<style scoped>
.page {
  flex: 1;
  min-width: 0;
  display: flex;
  padding: 14px 0 0 14px;
}
.sheet {
  flex: 1;
  min-width: 0;
  background: var(--snow);
  border: 1px solid var(--ink);
  border-width: 1px 0 0 1px;
  padding: 20px 26px 14px;
  display: flex;
  flex-direction: column;
  gap: 8px;
}
h2 {
  font-size: 19px;
  line-height: 26px;
}
.said {
  font-size: 15px;
}
fieldset {
  border: 0;
  padding: 0;
  margin: 4px 0 0;
  display: flex;
  gap: 6px 18px;
  flex-wrap: wrap;
}
legend {
  float: left;
  margin-right: 18px;
  color: var(--ink2);
  padding: 0;
}
.people {
  margin: 4px -26px 0;
  flex: 1;
  min-height: 120px;
}
.full {
  overflow-wrap: anywhere;
  border-top: 1px solid var(--line);
  padding-top: 8px;
}
.rests {
  color: var(--ink2);
}
.do {
  display: flex;
  gap: 12px;
  align-items: center;
  padding-top: 8px;
  flex-wrap: wrap;
}
.keys {
  margin-left: auto;
}
</style>
