<script setup lang="ts">
import { onMounted, ref, shallowRef } from 'vue'
import { Modal } from 'ant-design-vue'
import WorkBar from '@/components/WorkBar.vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import { lookAtPrinting, printLetter, type Silent } from '@/api/letters'
import type { LetterPrintLook } from '@/api/types'
import { useWork } from '@/composables/useWork'
import { ofPairs } from '@/logic/choices'
import { counted } from '@/logic/words'

/** Letters are printed: how many, on what, and in whose letters stand that cannot be set. */
const props = defineProps<{ letter: number; who: Silent }>()
const emit = defineEmits<{ close: [] }>()
const PAPERS = ofPairs([
  ['A4', 'A4, for envelopes with a window at the left (DIN 5008)'],
  ['Letter', 'US Letter'],
] as const)
const paper = ref<'A4' | 'Letter'>('A4')
const looked = shallowRef<LetterPrintLook | null>(null)
const problem = ref('')
const busy = ref(false)
const { work, during } = useWork()
const tell = (error: unknown) =>
  (problem.value = error instanceof Error ? error.message : String(error))

async function print(): Promise<void> {
  if (busy.value) return
  busy.value = true
  problem.value = ''
  try {
    await during((token) => printLetter(props.letter, props.who, paper.value, token))
    emit('close')
  } catch (error) {
    tell(error)
  } finally {
    busy.value = false
  }
}
onMounted(() =>
  lookAtPrinting(props.letter, props.who).then((found) => (looked.value = found), tell),
)
</script>

<template>
  <Modal
    open
    destroy-on-close
    title="Print letters"
    :footer="null"
    :width="520"
    @cancel="!busy && emit('close')"
  >
    <form @submit.prevent="print">
      <p v-if="looked">
        <b>{{ counted(looked.papers, 'letter') }}</b>, as one PDF. Each has a link of its own where
        something is asked; letters that were printed or mailed before still count.
      </p>
      <p v-else-if="!problem" class="soft" role="status">Looking who gets one …</p>
      <ChooseOne v-model="paper" :options="PAPERS" label="Paper" />
      <p v-if="looked?.odd.length" class="flag">
        Some letters have no shape here, and are left out:
        {{ looked.odd.join(' · ') }}
      </p>
      <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
      <WorkBar v-if="busy" :work="work" first="Setting the letters" />
      <p class="do">
        <button class="btn main" :disabled="busy || !looked?.papers">Print</button
        ><button type="button" class="btn" :disabled="busy" @click="emit('close')">Cancel</button>
      </p>
    </form>
  </Modal>
</template>

<style scoped>
form {
  display: grid;
  gap: 10px;
}
.do {
  display: flex;
  gap: 8px;
}
</style>
