<script setup lang="ts">
import { computed, ref } from 'vue'
import { Modal } from 'ant-design-vue'
import { takeBack } from '@/api/rosters'
import type { ChangeSet } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { counted, listed } from '@/logic/words'

const props = defineProps<{ receipt: ChangeSet; open: boolean }>()
const emit = defineEmits<{ ask: []; close: []; done: [] }>()

const catalog = useCatalog()
const working = ref(false)
const problem = ref('')
const consequence = computed(() => {
  const { joined = 0, changed = 0 } = props.receipt.found
  const parts = [joined ? `${counted(joined, 'person', 'people')} who joined ${joined === 1 ? 'leaves' : 'leave'} the roster again` : '', changed ? `${counted(changed, 'record')} ${changed === 1 ? 'gets its' : 'get their'} earlier values back` : '']
  return `${listed(parts.filter(Boolean))}. The file and every step stay, so that it can be applied again.`
})

async function act(): Promise<void> {
  working.value = true
  problem.value = ''
  try {
    await takeBack(props.receipt.id)
    void catalog.load().catch(() => undefined)
    emit('close')
    emit('done')
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  } finally {
    working.value = false
  }
}
</script>

<template>
  <button class="btn fir" @click="emit('ask')">Take back …</button>
  <Modal destroy-on-close :open="open" :title="`Take receipt ${receipt.id} back`" :footer="null" :width="460" @cancel="emit('close')">
    <p>{{ consequence }}</p>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <p class="do">
      <button class="btn main" :disabled="working" @click="act">{{ working ? 'Taking back …' : `Take back ${counted((receipt.found.joined ?? 0) + (receipt.found.changed ?? 0), 'record')}` }}</button>
      <button class="btn" @click="emit('close')">Leave it</button>
    </p>
  </Modal>
</template>

<style scoped>
.do { display: flex; gap: 8px; margin-top: 16px; }
.flag { margin-top: 10px; }
</style>
