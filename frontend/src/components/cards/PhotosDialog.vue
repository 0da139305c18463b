<script setup lang="ts">
import { computed, ref } from 'vue'
import { Modal, Progress } from 'ant-design-vue'
import PhotosTold from './PhotosTold.vue'
import FileChooser from '@/components/FileChooser.vue'
import { bringPhotos } from '@/api/cards'
import type { PhotosBrought, Work } from '@/api/types'
import { useCards } from '@/composables/useCards'
import { count } from '@/logic/words'

/** Photographs are brought as single pictures or in archives; what became of each is said. */
const emit = defineEmits<{ close: [] }>()

const cards = useCards()
const busy = ref(false)
const part = ref(0)
const work = ref<Work | null>(null)
const problem = ref('')
const told = ref<PhotosBrought | null>(null)
const percent = computed(() => {
  if (work.value?.total) return Math.round((100 * work.value.done) / work.value.total)
  return Math.round(100 * part.value)
})
async function bring(file: File): Promise<void> {
  busy.value = true
  problem.value = ''
  told.value = null
  try {
    told.value = await bringPhotos(
      cards.name,
      file,
      (sent) => (part.value = sent),
      (doing) => (work.value = doing),
    )
    await cards.refresh()
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  } finally {
    busy.value = false
    work.value = null
  }
}
</script>

<template>
  <Modal
    open
    destroy-on-close
    title="Bring photographs"
    :footer="null"
    :width="620"
    @cancel="!busy && emit('close')"
  >
    <p>
      A picture (JPEG, PNG, HEIC), or a zip archive of many. Each is found by a number in its name,
      such as <span class="mono">TQ197000X.jpg</span>, spelt in any usual way.
    </p>
    <p v-if="!busy" class="choose">
      <FileChooser @chosen="bring">Choose a picture or an archive</FileChooser>
    </p>
    <div v-if="busy" role="status">
      {{ work ? `${work.doing}: ${count(work.done)} of ${count(work.total)}` : 'Sending it …' }}
      <Progress :percent="percent" :show-info="false" size="small" />
    </div>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <PhotosTold v-if="told" :told="told" />
    <p class="do"><button class="btn" :disabled="busy" @click="emit('close')">Close</button></p>
  </Modal>
</template>

<style scoped>
.choose {
  margin: 12px 0;
}
.do {
  margin-top: 14px;
}
</style>
