<script setup lang="ts">
import { computed, ref } from 'vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import ChangeManyDialog from './ChangeManyDialog.vue'
import LetterDialog from './letters/LetterDialog.vue'
import ShortlistDialog from './ShortlistDialog.vue'
import { changeShortlist, dropShortlist } from '@/api/shortlists'
import type { Roster, Shortlist } from '@/api/types'
import { APPROVE, PREPARE } from '@/composables/useSession'
import type { UseRosterView } from '@/composables/useRosterView'
import { counted } from '@/logic/words'

/** What can be done with the records that are ticked, or with all that are shown. */
const props = defineProps<{
  roster: Roster
  view: UseRosterView
  total: number
  of: number
  ticked: Set<number>
  shortlists: Shortlist[]
}>()
const emit = defineEmits<{ untick: []; kept: [shortlist: Shortlist | null]; forgotten: [] }>()

const changing = ref(false)
const keeping = ref(false)
const writing = ref(false)
const problem = ref('')
const may = computed(() => props.roster.level >= PREPARE)
const number = computed(() => props.ticked.size || props.total)
const isPart = computed(() => props.total !== props.of)
const current = computed(
  () => props.shortlists.find((one) => one.id === props.view.shortlist.value) ?? null,
)
const byHand = computed(() =>
  props.shortlists.filter((one) => !one.live && one.id !== current.value?.id),
)
const records = computed(() => [...props.ticked])
const meant = computed(() => {
  if (props.ticked.size)
    return { records: records.value, shortlist: null, q: '', filter: [], everybody: false }
  return {
    records: null,
    shortlist: current.value?.id ?? null,
    q: props.view.text.value,
    filter: props.view.filters.value,
    everybody: !isPart.value,
  }
})
/** A shortlist that is narrowed further cannot be named without its records. */
const narrowed = computed(
  () =>
    !!current.value &&
    (!!props.view.text.value || props.view.filters.value.length > 0) &&
    !props.ticked.size,
)

async function put(wanted: number | null): Promise<void> {
  if (wanted) await run(() => changeShortlist(wanted, records.value, []))
}
async function run(send: () => Promise<unknown>): Promise<void> {
  problem.value = ''
  try {
    await send()
    emit('untick')
    emit('kept', null)
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}
async function forget(): Promise<void> {
  if (!current.value) return
  await run(() => dropShortlist(current.value!.id))
  emit('forgotten')
}
</script>

<template>
  <div
    v-if="may"
    class="chosen"
    :class="{ on: ticked.size }"
    role="group"
    aria-label="With these records"
  >
    <template v-if="ticked.size"
      ><b>{{ counted(ticked.size, 'record') }} ticked</b>
      <button class="link" @click="emit('untick')">none</button></template
    >
    <button
      class="btn"
      :class="{ fir: ticked.size }"
      :disabled="!number || !!view.day.value || narrowed"
      :title="narrowed ? 'Tick the records that are meant' : 'See what it would do first'"
      @click="changing = true"
    >
      Change
      {{ ticked.size ? 'them' : isPart ? `these ${total.toLocaleString('en-GB')}` : 'many' }} …
    </button>
    <button
      v-if="roster.level >= APPROVE"
      class="btn"
      :disabled="!number || !!view.day.value || narrowed"
      @click="writing = true"
    >
      Write to them …
    </button>
    <button class="btn" :disabled="!number || !!view.day.value || narrowed" @click="keeping = true">
      Keep as a shortlist …
    </button>
    <ChooseOne
      v-if="ticked.size && byHand.length"
      :model-value="null"
      :options="byHand.map((one) => ({ value: one.id, label: one.title }))"
      label="Put the ticked records on a shortlist"
      placeholder="put on …"
      @update:model-value="put"
    />
    <button
      v-if="ticked.size && current && !current.live"
      class="btn"
      @click="run(() => changeShortlist(current!.id, [], records))"
    >
      Take off “{{ current.title }}”
    </button>
    <button v-if="current && !ticked.size" class="btn" @click="forget">
      Forget this shortlist
    </button>
    <span v-if="problem" class="bad" role="alert">{{ problem }}</span>
    <ChangeManyDialog
      :open="changing"
      :roster="roster"
      :meant="meant"
      :number="number"
      @close="changing = false"
    />
    <LetterDialog
      v-if="writing"
      :roster="roster"
      :to="{ meant, number }"
      @close="writing = false"
    />
    <ShortlistDialog
      :open="keeping"
      :roster="roster"
      :records="records"
      :filters="view.filters.value"
      :text="view.text.value"
      :number="number"
      @kept="
        (one) => {
          keeping = false
          emit('untick')
          emit('kept', one)
        }
      "
      @close="keeping = false"
    />
  </div>
</template>

<style scoped>
.chosen {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
  margin-left: auto;
}
</style>
