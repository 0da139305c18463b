<script setup lang="ts">
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import KeyCap from '@/components/controls/KeyCap.vue'
import { getRecord } from '@/api/rosters'
import CardsOfRecord from '@/components/cards/CardsOfRecord.vue'
import LettersOfRecord from '@/components/LettersOfRecord.vue'
import PassedOfRecord from '@/components/PassedOfRecord.vue'
import PersonData from '@/components/people/PersonData.vue'
import EditDialog from './EditDialog.vue'
import type { Edited, Life, LifeEntry, Roster } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { hasDraft } from '@/composables/useDraft'
import { useKeys } from '@/composables/useKeys'
import { ADMINISTER, PREPARE } from '@/composables/useSession'
import { counted, day, momentInFull, show } from '@/logic/words'

const props = defineProps<{ record: number; roster: Roster }>()
const emit = defineEmits<{ close: []; edited: [] }>()

const catalog = useCatalog()
const life = shallowRef<Life | null>(null)
const problem = ref('')
const filled = computed(() =>
  props.roster.fields.filter((one) => life.value?.values[one.name] != null),
)
const key = computed(() =>
  props.roster.fields
    .filter((one) => one.is_key)
    .map((one) => show(life.value?.values[one.name] ?? null))
    .join(' '),
)
const label = (name: string, value: unknown) => {
  const list = props.roster.fields.find((one) => one.name === name)?.code_list
  return typeof value === 'string' && list ? catalog.label(list, value) : ''
}
const began = (one: LifeEntry) =>
  one.kind !== 'left' && one.changes.every((change) => change.old === null)
const said = (one: LifeEntry) =>
  one.kind === 'left'
    ? 'Left the roster'
    : one.kind === 'undo'
      ? 'Taken back'
      : one.kind === 'hand'
        ? 'Edited by hand'
        : began(one)
          ? 'Joined'
          : counted(one.changes.length, 'field changed', 'fields changed')

const editing = ref(false)
const unsaved = ref(hasDraft(`edit.${props.record}`))
watch(editing, () => (unsaved.value = hasDraft(`edit.${props.record}`)))
const done = shallowRef<Edited | null>(null)

async function load(): Promise<void> {
  try {
    life.value = await getRecord(props.record)
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}
async function edited(what: Edited): Promise<void> {
  editing.value = false
  done.value = what
  await load()
  void catalog.load().catch(() => undefined)
  emit('edited')
}

async function erased(): Promise<void> {
  await load()
  emit('edited')
}
useKeys({
  e: () => {
    if (life.value?.is_current && props.roster.level >= PREPARE) editing.value = true
  },
})
/** In a narrow window the record comes under the table: it is gone to, not looked for. */
const panel = ref<HTMLElement>()
onMounted(() => {
  void load()
  if (window.matchMedia('(width < 1000px)').matches) panel.value?.scrollIntoView()
})
</script>

<template>
  <aside ref="panel" aria-label="The record’s life">
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <template v-if="life">
      <div class="head">
        <h2>{{ life.name || key }}</h2>
        <span class="grow" /><button
          v-if="life.is_current && roster.level >= PREPARE"
          class="btn"
          @click="editing = true"
        >
          Edit <KeyCap of="E" /></button
        ><button class="btn" @click="emit('close')">Close <kbd>Esc</kbd></button>
      </div>
      <p v-if="unsaved && !editing" class="flag" role="status">
        An edit of yours is not saved yet.
        <button class="link" @click="editing = true">Go on with it</button>
      </p>
      <p v-if="done" class="flag" role="status">
        <template v-if="done.proposal"
          >Proposed: it needs the approval of somebody else.
          <RouterLink :to="`/intakes/${done.intake}/apply`">Look at it</RouterLink></template
        ><template v-else-if="done.scheduled"
          >It waits for its day.
          <RouterLink :to="`/intakes/${done.intake}/apply`">Look at it</RouterLink></template
        ><template v-else
          >Done:
          <RouterLink :to="`/receipts/${done.change_set}`">receipt {{ done.change_set }}</RouterLink
          >, which can be taken back.</template
        >
      </p>
      <p class="soft">
        <span class="mono">{{ key }}</span> · record {{ life.id }}
      </p>
      <p v-if="!life.is_current" class="flag">
        Not in the roster any more; its life stays readable.
      </p>
      <template v-if="life.ahead.length">
        <h3>Ahead</h3>
        <ol class="ahead">
          <li v-for="(one, place) in life.ahead" :key="place">
            <i /><b>{{ day(one.day) }}</b>
            <span class="soft"
              >put off by {{ one.by || 'somebody' }} ·
              <RouterLink :to="`/intakes/${one.intake}/apply`">{{ one.title }}</RouterLink></span
            >
            <p v-if="one.leaves">Leaves the roster</p>
            <p v-for="change in one.changes" :key="change.field">
              {{ change.title }}: <span class="was">{{ show(change.old) || 'empty' }}</span><span
                class="arrow"
                >→</span
              ><b class="will">{{ show(change.new) || 'empty' }}</b>
            </p>
          </li>
        </ol>
      </template>
      <dl>
        <template v-for="one in filled" :key="one.name">
          <dt>{{ one.title }}</dt>
          <dd>
            <span :class="{ mono: one.mono }">{{
              show(life.values[one.name] ?? null, one.type)
            }}</span>
            <span class="soft">{{ label(one.name, life.values[one.name]) }}</span>
          </dd>
        </template>
      </dl>
      <PersonData
        :record="life.id"
        :name="life.name || key"
        :number="key || String(life.id)"
        :may-erase="roster.level >= ADMINISTER"
        @erased="erased"
      />
      <CardsOfRecord :record="life.id" />
      <PassedOfRecord :record="life.id" />
      <LettersOfRecord :record="life.id" :roster="roster" />
      <h3>Its life</h3>
      <ol>
        <li v-for="one in life.life" :key="one.version">
          <i /><b>{{ said(one) }}</b>
          <span class="soft">{{ momentInFull(one.at) }} {{ one.by }}</span>
          <p class="soft">
            <RouterLink :to="`/receipts/${one.change_set}`"
              >receipt {{ one.change_set }}</RouterLink
            >
            <template v-if="one.intake && one.line">
              ·
              <RouterLink :to="`/intakes/${one.intake}/problems?line=${one.line}`"
                >{{ one.file }}, line {{ one.line }}</RouterLink
              ></template
            >
            <template v-else> · {{ one.title }}</template>
          </p>
          <p v-for="change in began(one) ? [] : one.changes" :key="change.field">
            {{ change.title }}: <span class="was">{{ show(change.old) || 'empty' }}</span><span
              class="arrow"
              >→</span
            ><b class="will">{{ show(change.new) || 'empty' }}</b>
          </p>
        </li>
      </ol>
    </template>
    <EditDialog
      v-if="life"
      :open="editing"
      :life="life"
      :roster="roster"
      @done="edited"
      @close="editing = false"
    />
    <p v-if="!life && !problem" class="soft" role="status">Opening the record …</p>
  </aside>
</template>

<style scoped>
aside {
  width: 380px;
  flex: none;
  border-left: 1px solid var(--ink);
  padding: 10px 16px 20px;
  overflow-y: auto;
  font-size: 13px;
  background: var(--snow);
}
.head {
  display: flex;
  align-items: flex-start;
  gap: 8px;
}
h2 {
  line-height: 24px;
  overflow-wrap: anywhere;
  min-width: 0;
}
dl {
  display: grid;
  grid-template-columns: 120px 1fr;
  margin: 10px 0 18px;
}
dt,
dd {
  padding: 3px 0;
  border-top: 1px solid var(--drift);
  line-height: 18px;
  overflow-wrap: anywhere;
}
dt {
  color: var(--ink2);
}
.flag {
  margin: 8px 0;
}
ol {
  list-style: none;
  margin: 8px 0 0 5px;
  padding: 0;
  border-left: 2px solid var(--line);
}
li {
  position: relative;
  padding: 2px 0 10px 14px;
}
i {
  position: absolute;
  left: -6px;
  top: 7px;
  width: 10px;
  height: 10px;
  border-radius: 50%;
  border: 2px solid var(--ink3);
  background: var(--snow);
}
li:first-child i {
  background: var(--fir);
  border-color: var(--fir);
}
h3 + .ahead {
  margin-bottom: 14px;
  border-left-style: dashed;
}
.ahead i,
.ahead li:first-child i {
  background: var(--snow);
  border-color: var(--fir);
}
li a {
  text-decoration: none;
  font-weight: 600;
}
</style>
