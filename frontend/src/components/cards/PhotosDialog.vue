<script setup lang="ts">
import { computed, ref } from 'vue'
import { Modal, Progress } from 'ant-design-vue'
import FileChooser from '@/components/FileChooser.vue'
import { bringPhotos } from '@/api/cards'
import type { PhotosBrought, Work } from '@/api/types'
import { useCards } from '@/composables/useCards'
import { count, counted } from '@/logic/words'

/** Photographs are brought as single pictures or in archives; what became of each is said. */
const emit = defineEmits<{ close: [] }>()

const SHOWN = 12
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
const groups = computed(() => {
  if (!told.value) return []
  const plain = (files: string[]) => files.map((file) => ({ file, why: '' }))
  return [
    { title: 'have no number of anybody in their names', files: plain(told.value.nobody) },
    { title: 'may be of several people', files: told.value.several },
    { title: 'are second files of one person', files: told.value.doubles },
    { title: 'cannot be taken', files: told.value.wrong },
    { title: 'were taken, and print coarsely', files: told.value.coarse },
    { title: 'were there already', files: plain(told.value.same) },
  ].filter((group) => group.files.length)
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
    @cancel="emit('close')"
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
    <div v-if="told" class="told" role="status">
      <p>
        <b>{{ counted(told.taken, 'photograph was', 'photographs were') }} taken</b> of
        {{ counted(told.total, 'file')
        }}<template v-if="told.left"
          >, {{ count(told.left) }} of them no pictures of people</template
        >.
      </p>
      <details v-for="group in groups" :key="group.title">
        <summary>{{ count(group.files.length) }} {{ group.title }}</summary>
        <ul>
          <li v-for="one in group.files.slice(0, SHOWN)" :key="one.file">
            <span class="mono">{{ one.file }}</span> <span class="soft">{{ one.why }}</span>
          </li>
          <li v-if="group.files.length > SHOWN" class="soft">
            and {{ count(group.files.length - SHOWN) }} more
          </li>
        </ul>
      </details>
    </div>
    <p class="do"><button class="btn" :disabled="busy" @click="emit('close')">Close</button></p>
  </Modal>
</template>

<style scoped>
.choose {
  margin: 12px 0;
}
.told {
  margin-top: 10px;
}
details {
  margin-top: 4px;
}
summary {
  cursor: pointer;
}
details ul {
  margin: 2px 0 6px 18px;
}
details li {
  overflow-wrap: anywhere;
}
.do {
  margin-top: 14px;
}
</style>
