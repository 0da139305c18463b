<script setup lang="ts">
import { computed, onMounted, ref, shallowRef } from 'vue'
import EraseDialog from './EraseDialog.vue'
import ReasonDialog from '@/components/ReasonDialog.vue'
import MoreMenu, { type MenuItem } from '@/components/controls/MoreMenu.vue'
import { erasePerson, getKeeping, heldAddress, holdBack, release } from '@/api/keeping'
import type { Keeping } from '@/api/types'
import { useJob } from '@/composables/useJob'
import { day } from '@/logic/words'

/** One person's data: taken out for them, kept from being erased, erased. */
const props = defineProps<{ record: number; name: string; number: string; mayErase: boolean }>()
const emit = defineEmits<{ erased: [] }>()

const keeping = shallowRef<Keeping | null>(null)
const asking = ref<'' | 'erase' | 'hold'>('')
const problem = ref('')
const busy = ref(false)
const items = computed<MenuItem[]>(() => [
  { title: 'Download all that is held, to read', href: heldAddress(props.record, 'html') },
  { title: 'Download the same as JSON', href: heldAddress(props.record, 'json') },
  keeping.value?.kept_for
    ? { title: 'Let it be erased again', act: () => void act(() => release(props.record)) }
    : { title: 'Keep it from being erased …', act: () => (asking.value = 'hold') },
  {
    title: 'Erase this person …',
    act: () => (asking.value = 'erase'),
    disabled: !!keeping.value?.kept_for,
  },
])

async function load(): Promise<void> {
  keeping.value = await getKeeping(props.record).catch(() => null)
}
async function act(what: () => Promise<unknown>): Promise<boolean> {
  problem.value = ''
  busy.value = true
  try {
    await what()
    asking.value = ''
    await load()
    return true
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
    return false
  } finally {
    busy.value = false
  }
}
const { job, follow } = useJob()
async function eraseThem(askedBy: string, reason: string): Promise<void> {
  const done = await follow(await erasePerson(props.record, askedBy, reason))
  if (done?.state === 'failed') throw new Error(done.problem)
}
async function erase(askedBy: string, reason: string): Promise<void> {
  if (await act(() => eraseThem(askedBy, reason))) emit('erased')
}
onMounted(load)
</script>

<template>
  <p v-if="keeping?.erased" class="flag">
    Erased on {{ day(keeping.erased.at.slice(0, 10)) }} by {{ keeping.erased.by || 'somebody'
    }}<template v-if="keeping.erased.reason"
      >, asked for by {{ keeping.erased.asked_by }}: {{ keeping.erased.reason }}</template
    >
  </p>
  <template v-else>
    <p v-if="keeping?.kept_for" class="flag">
      Kept from being erased{{ keeping.kept_by ? ` by ${keeping.kept_by}` : '' }}:
      {{ keeping.kept_for }}
    </p>
    <p v-if="problem && asking !== 'erase'" class="flag stop" role="alert">{{ problem }}</p>
    <p v-if="mayErase && keeping" class="more">
      <MoreMenu label="This person’s data" :items="items" />
    </p>
    <EraseDialog
      :open="asking === 'erase'"
      :name="name"
      :number="number"
      :problem="problem"
      :busy="busy"
      :job="job"
      @done="erase"
      @close="asking = ''"
    />
    <ReasonDialog
      :open="asking === 'hold'"
      title="Keep it from being erased"
      said="Who wants to erase this person reads the reason, and has to release it first."
      act="Keep it"
      @done="(reason: string) => act(() => holdBack(record, reason))"
      @close="asking = ''"
    />
  </template>
</template>

<style scoped>
.more {
  margin: 14px 0 6px;
}
</style>
