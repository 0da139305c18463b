<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import AddressDialog from './AddressDialog.vue'
import AskedBox from './AskedBox.vue'
import DeliveredDialog from './DeliveredDialog.vue'
import LayoutDialog from './LayoutDialog.vue'
import LayoutVersions from './LayoutVersions.vue'
import TellDialog from './TellDialog.vue'
import TokenDialog from './TokenDialog.vue'
import MoreMenu from '@/components/controls/MoreMenu.vue'
import WorkBar from '@/components/WorkBar.vue'
import { compareWith, switchOn } from '@/api/passing'
import type { Destination } from '@/api/types'
import { useJob } from '@/composables/useJob'
import { usePassing } from '@/composables/usePassing'
import {
  sayAnswer,
  sendable,
  type DestinationDocument,
  type TellAnswer,
  type Way,
} from '@/logic/passing'
import { counted, moment } from '@/logic/words'

/** What a destination is, and what can be done with it. */
const props = defineProps<{ destination: Destination }>()
const passing = usePassing()
const { job, follow } = useJob()
const telling = ref(false)
const laying = ref(false)
const recalling = ref(false)
const taken = ref<DestinationDocument | null>(null)
const keeping = ref(false)
const giving = ref(false)
const looking = ref(false)
const told = ref('')
const now = new Date()

const many = computed(() => sendable(props.destination.counts))
const kind = computed(() => (props.destination.document.way as Way).kind)
const isFile = computed(() => kind.value === 'file')
const isAsked = computed(() => kind.value === 'asked')
const act = computed(() => {
  if (isFile.value)
    return many.value ? `Make a file with ${counted(many.value, 'change')}` : 'Make a file'
  if (isAsked.value)
    return many.value ? `Let them read ${counted(many.value, 'change')}` : 'They read what is so'
  return many.value ? `Send ${counted(many.value, 'change')}` : 'Nothing to send'
})
const menu = computed(() => [
  { title: 'What it gets, how and when …', act: () => lay(null) },
  { title: 'Versions …', act: () => (recalling.value = true) },
  ...(isFile.value || isAsked.value
    ? []
    : [{ title: 'What was sent …', act: () => (looking.value = true) }]),
  ...(isFile.value || isAsked.value
    ? []
    : [
        {
          title: kind.value === 'called' ? 'The secret for signing …' : 'Our token there …',
          act: () => (keeping.value = true),
        },
      ]),
  ...(isAsked.value
    ? [{ title: 'Their token for asking …', act: () => (giving.value = true) }]
    : []),
  ...((props.destination.document.way as { is_fetched?: boolean }).is_fetched
    ? [{ title: 'The address for fetching …', act: () => (giving.value = true) }]
    : []),
  {
    title: props.destination.is_on ? 'Tell it by hand alone' : 'Let it be told by itself',
    act: () => void passing.act(() => switchOn(props.destination.name, !props.destination.is_on)),
  },
])

/** Open what it gets, as it is or as it was in a version. */
function lay(document: DestinationDocument | null, isOpen = true): void {
  recalling.value = false
  taken.value = document
  laying.value = isOpen
}
async function watchJob(number: number): Promise<void> {
  told.value = ''
  const done = await follow(number)
  if (!done) return
  told.value = done.problem || sayAnswer(done.answer as TellAnswer | null)
  await passing.act(() => Promise.resolve())
}
watch(
  () => props.destination.job,
  (number) => {
    if (number && !job.value) void watchJob(number)
  },
  { immediate: true },
)
function begun(number: number): void {
  telling.value = false
  void watchJob(number)
}
</script>

<template>
  <div class="head">
    <h1>{{ destination.title }}</h1>
    <span class="grow" />
    <button
      v-if="destination.may_decide && ['scim', 'gates'].includes(kind)"
      class="btn"
      :disabled="!!job"
      @click="passing.act(async () => void watchJob(await compareWith(destination.name)))"
    >
      Compare with what it holds
    </button>
    <MoreMenu v-if="destination.may_change" label="Destination" :items="menu" />
    <button
      v-if="destination.may_tell"
      class="btn main"
      :disabled="!!job || (!many && !isFile)"
      @click="telling = true"
    >
      {{ job ? 'It is being told …' : act }}
    </button>
  </div>
  <p class="soft">
    {{ destination.way }} · {{ destination.shares.map((one) => one.title).join(' and ') }} ·
    {{ destination.is_on ? destination.told : 'by hand, switched off' }} · version
    {{ destination.version }}
  </p>
  <WorkBar v-if="job" :work="job.doing ? job : null" first="It is about to be told" />
  <p v-else-if="told" class="soft small" role="status">{{ told }}</p>
  <p v-else-if="destination.sent_at" class="soft small">
    told {{ moment(destination.sent_at, now)
    }}{{ destination.next_at ? `, next ${moment(destination.next_at, now)}` : '' }}
  </p>
  <AskedBox v-if="isAsked" :destination="destination" @token="giving = true" />
  <TellDialog v-if="telling" :destination="destination" @close="telling = false" @begun="begun" />
  <LayoutDialog v-if="laying" :destination="destination" :taken="taken" @close="lay(null, false)" />
  <LayoutVersions
    v-if="recalling"
    :destination="destination"
    @close="recalling = false"
    @take="(document) => lay(document)"
  />
  <AddressDialog v-if="giving" :destination="destination" @close="giving = false" />
  <DeliveredDialog v-if="looking" :destination="destination" @close="looking = false" />
  <TokenDialog v-if="keeping" :destination="destination" @close="keeping = false" />
</template>

<style scoped src="../head.css"></style>
<style scoped src="./head.css"></style>
