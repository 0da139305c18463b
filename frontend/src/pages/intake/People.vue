<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Step } from '@/api/types'
import KnownByDialog from '@/components/intake/KnownByDialog.vue'
import LimitsDialog from '@/components/intake/LimitsDialog.vue'
import PeopleQueue from '@/components/people/PeopleQueue.vue'
import PeopleSettled from '@/components/people/PeopleSettled.vue'
import PersonPane from '@/components/people/PersonPane.vue'
import ReasonDialog from '@/components/ReasonDialog.vue'
import { useCatalog } from '@/composables/useCatalog'
import { useIntake } from '@/composables/useIntake'
import { useKeys } from '@/composables/useKeys'
import { usePeople } from '@/composables/usePeople'
import { focusMarked } from '@/logic/focus'
import { keysOf, tellingApart, type Marked } from '@/logic/people'

const open = useIntake()
const catalog = useCatalog()
const { intake, id } = open
const { people, person, groups, line, isShown, rivals, may, problem, ...acts } = usePeople()
const all = ref(false)
const limiting = ref(false)
const knowing = ref(false)
const asking = ref<'hold' | 'leave_out' | null>(null)
const fields = computed(() => catalog.roster(intake.value?.roster ?? '')?.fields ?? [])
const keys = computed(() => keysOf(people.value))

function reason(text: string): void {
  const kind = asking.value
  asking.value = null
  if (kind) acts.setAside(kind, text)
}
async function know(steps: Step[]): Promise<void> {
  knowing.value = false
  for (const step of steps) if (!(await open.add(step))) return
}
function limit(limits: { certain: number; nobody: number }): void {
  limiting.value = false
  void open.add({ kind: 'limits', ...limits })
}
/**
 * Where several come into question a key only marks one of them, and Enter decides: between two
 * people nothing is decided without a second look.
 */
const marked = ref<Marked>(null)
function mark(place: number | 'new'): void {
  const candidates = person.value?.candidates ?? []
  if (!isShown.value || (place !== 'new' && !candidates[place])) return
  marked.value = place
  if (candidates.length < 2) decide()
  else focusMarked()
}
function decide(): void {
  const place = marked.value
  marked.value = null
  if (place === null) return
  if (place === 'new') acts.choose(null)
  else acts.choose(person.value?.candidates[place]?.record ?? null)
}
watch(line, () => (marked.value = null))
useKeys({
  1: () => mark(0),
  2: () => mark(1),
  3: () => mark(2),
  4: () => mark(3),
  n: () => mark('new'),
  Enter: decide,
  h: () => may.value && (asking.value = 'hold'),
  l: () => may.value && (asking.value = 'leave_out'),
  '.': () => acts.move(1),
  ',': () => acts.move(-1),
  ArrowDown: () => acts.move(1),
  ArrowUp: () => acts.move(-1),
  d: () => (all.value = !all.value),
})
</script>

<template>
  <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
  <div v-if="intake && people" class="bar">
    <p aria-live="polite">{{ tellingApart(people, intake.takes) }}</p>
    <span class="grow" />
    <button v-if="people.total > 1" class="btn" :disabled="!may" @click="acts.allNew">
      All {{ people.total }} are new people
    </button>
    <button class="btn" :disabled="!may || !people.keys.length" @click="knowing = true">
      Known by {{ keys || 'likeness alone' }}
    </button>
    <button class="btn" :disabled="!may" @click="limiting = true">
      When to match automatically
    </button>
  </div>
  <div v-if="intake && people" class="cols">
    <PeopleQueue :groups="groups" :line="line" @pick="acts.pick">
      Every row is known by its {{ keys || 'key' }}, or like nobody in {{ intake.roster_title }}.
    </PeopleQueue>
    <section v-if="person && person.candidates.length" class="pane" aria-label="Who is it">
      <PersonPane
        v-model:all="all"
        :person="person"
        :fields="fields"
        :keys="keys"
        :rivals="rivals"
        :may="may && isShown"
        :marked="marked"
        @choose="acts.choose"
        @keep="acts.keepOne"
        @ask="asking = $event"
        @leave="acts.leave"
      />
    </section>
    <section v-else class="pane"><PeopleSettled :people="people" :intake="intake" /></section>
  </div>
  <p v-else class="empty" role="status">Comparing people …</p>
  <KnownByDialog
    v-if="people && intake"
    :open="knowing"
    :roster="intake.roster_title"
    :source="intake.source_by === 'guess' ? '' : intake.source"
    :keys="people.keys"
    :own="people.own_keys"
    :takes="intake.takes"
    @done="know"
    @close="knowing = false"
  />
  <LimitsDialog
    v-if="people"
    :open="limiting"
    :intake="id"
    :certain="people.certain"
    :nobody="people.nobody"
    @done="limit"
    @close="limiting = false"
  />
  <ReasonDialog
    :open="!!asking"
    :title="asking === 'hold' ? 'Hold 1 row' : 'Leave 1 row out'"
    said="The reason is kept with the row."
    :act="asking === 'hold' ? 'Hold 1 row' : 'Leave 1 row out'"
    :usual="asking === 'hold' ? ['asked the office', 'letter due'] : ['withdrew', 'not ours']"
    @done="reason"
    @close="asking = null"
  />
</template>

<style scoped>
.bar {
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 8px 16px 0 12px;
  min-height: 36px;
}
.cols {
  flex: 1;
  display: flex;
  min-height: 0;
}
.pane {
  flex: 1;
  min-width: 0;
  background: var(--snow);
  border: 1px solid var(--ink);
  border-right: 0;
  margin-top: 8px;
  padding: 10px 16px;
  overflow: auto;
}
</style>
