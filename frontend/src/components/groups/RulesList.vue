<script setup lang="ts">
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import RuleDialog from './RuleDialog.vue'
import { getDefinition, putDefinition } from '@/api/definitions'
import { getRules, runRules } from '@/api/groups'
import type { DefinitionDocument, Rule, RuleIn, Rules } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { ADMINISTER, PREPARE } from '@/composables/useSession'
import { count, counted, listed } from '@/logic/words'

const props = defineProps<{ roster: string; field: string }>()

const router = useRouter()
const catalog = useCatalog()
const rules = shallowRef<Rules | null>(null)
const editing = ref(-1)
const problem = ref('')
const roster = computed(() => catalog.roster(props.roster))
const may = computed(() => (roster.value?.level ?? 0) >= ADMINISTER)
const written = computed<RuleIn[]>(() =>
  (rules.value?.rules ?? []).map((one) => ({
    when: one.when,
    field: one.field,
    value: one.value,
    off: !one.is_on,
  })),
)
const moves = computed(() =>
  (rules.value?.rules ?? []).filter((one) => one.is_on).reduce((sum, one) => sum + one.moves, 0),
)
const told = (one: Rule) =>
  [
    one.moves
      ? `would move ${listed(one.people)}${one.moves > one.people.length ? ' and others' : ''}`
      : '',
    one.by_hand ? `by hand: ${listed(one.kept)}` : '',
    one.against ? `an earlier rule puts elsewhere: ${listed(one.contested)}` : '',
  ]
    .filter(Boolean)
    .join('\n')

async function load(): Promise<void> {
  try {
    rules.value = await getRules(props.roster)
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}
/** Rules are a part of the definition: each change of them is a version of it. */
async function put(list: RuleIn[]): Promise<void> {
  problem.value = ''
  editing.value = -1
  try {
    const { document, number } = await getDefinition(props.roster)
    if (rules.value && number !== rules.value.number)
      throw new Error('Somebody else altered the definition meanwhile. Look at the rules again.')
    const own = { ...((document as { nevefield?: Record<string, unknown> }).nevefield ?? {}) }
    own.placement = list.map(({ off, ...one }) => (off ? { ...one, off } : one))
    await putDefinition(
      props.roster,
      { ...(document as unknown as DefinitionDocument), nevefield: own },
      number,
    )
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
  await load()
}
const keep = (rule: RuleIn) =>
  put(
    written.value
      .map((one, place) => (place === editing.value ? rule : one))
      .concat(editing.value >= written.value.length ? [rule] : []),
  )
const drop = (place: number) => put(written.value.filter((_, at) => at !== place))
const turn = (place: number) =>
  put(written.value.map((one, at) => (at === place ? { ...one, off: !one.off } : one)))
function up(place: number): void {
  const list = [...written.value]
  list.splice(place - 1, 0, ...list.splice(place, 1))
  void put(list)
}
async function run(): Promise<void> {
  problem.value = ''
  try {
    const made = await runRules(props.roster)
    await router.push(`/intakes/${made.intake}/changes`)
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}

watch(
  () => props.roster,
  () => void load(),
)
onMounted(async () => {
  await Promise.all([load(), catalog.load().catch(() => undefined)])
})
</script>

<template>
  <section v-if="rules && (rules.rules.length || may)" class="rules" aria-label="Placement rules">
    <div class="head">
      <h3>
        Placement rules
        <span class="soft"
          >from the top; the first that fits decides; what a file says and what a hand did
          stays</span
        >
      </h3>
      <span class="grow" /><button
        v-if="moves && roster && roster.level >= PREPARE"
        class="btn fir"
        @click="run"
      >
        See what moving {{ count(moves) }} would do
      </button>
    </div>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <ol>
      <li
        v-for="(one, place) in rules.rules"
        :key="place"
        :class="{ off: !one.is_on }"
        :title="told(one)"
      >
        <span class="soft">{{ place + 1 }}</span>
        <span
          >Where {{ one.said }}, <b>{{ one.title }}</b> is <b>{{ one.label }}</b></span
        >
        <span>{{ counted(one.fits, 'person', 'people') }}</span>
        <span class="small"
          ><template v-if="!one.is_on">off</template
          ><template v-else-if="!one.moves && !one.by_hand && !one.against"
            >all there already</template
          ><template v-else>{{
            [
              one.moves ? `${one.moves} would move` : '',
              one.by_hand ? `${one.by_hand} by hand stay` : '',
              one.against ? `${one.against} go by an earlier rule` : '',
            ]
              .filter(Boolean)
              .join(' · ')
          }}</template></span
        >
        <span v-if="may" class="acts">
          <button
            class="btn"
            :disabled="!place"
            :aria-label="`Rule ${place + 1} one up`"
            title="One up"
            @click="up(place)"
          >
            ↑
          </button>
          <button class="btn" @click="turn(place)">{{ one.is_on ? 'Off' : 'On' }}</button>
          <button class="btn" @click="editing = place">Alter …</button>
          <button
            class="btn"
            :aria-label="`Drop rule ${place + 1}`"
            title="Drop the rule"
            @click="drop(place)"
          >
            ×
          </button>
        </span>
      </li>
    </ol>
    <button v-if="may" class="link" @click="editing = written.length">+ Another rule</button>
    <RuleDialog
      v-if="roster"
      :open="editing >= 0"
      :roster="roster"
      :rules="written"
      :place="editing"
      :usual="field"
      @done="keep"
      @close="editing = -1"
    />
  </section>
</template>

<style scoped>
.rules {
  margin-top: 26px;
}
.head {
  display: flex;
  align-items: center;
  gap: 10px;
}
h3 .soft {
  font-weight: 400;
  margin-left: 8px;
}
ol {
  list-style: none;
  margin: 6px 0 8px;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 22px 1fr 90px minmax(120px, auto) auto;
  gap: 10px;
  align-items: center;
  padding: 6px 0;
  border-bottom: 1px solid var(--drift);
}
li.off {
  color: var(--ink3);
}
.acts {
  display: flex;
  gap: 4px;
}
.acts .btn {
  padding: 1px 7px;
}
</style>
