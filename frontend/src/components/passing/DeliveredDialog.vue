<script setup lang="ts">
import { onMounted, ref, shallowRef } from 'vue'
import { Modal } from 'ant-design-vue'
import { listDelivered } from '@/api/passing'
import type { Delivered, Destination } from '@/api/types'
import { momentInFull } from '@/logic/words'

/** What was sent to a destination, the newest first: of whom, what it was, what they answered. */
const props = defineProps<{ destination: Destination }>()
const emit = defineEmits<{ close: [] }>()
const PAGE = 100
const acts = shallowRef<Delivered[] | null>(null)
const isAll = ref(false)
const problem = ref('')

async function more(): Promise<void> {
  try {
    const found = await listDelivered(props.destination.name, acts.value?.at(-1)?.number ?? 0)
    acts.value = [...(acts.value ?? []), ...found]
    isAll.value = found.length < PAGE
    problem.value = ''
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}
onMounted(more)
</script>

<template>
  <Modal
    open
    destroy-on-close
    :title="`What was sent to ${destination.title}`"
    :footer="null"
    :width="860"
    style="top: 40px"
    @cancel="emit('close')"
  >
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <p v-if="!acts && !problem" class="soft" role="status">Looking what was sent …</p>
    <p v-else-if="acts && !acts.length" class="empty">Nothing was sent yet.</p>
    <div v-else-if="acts" class="all" tabindex="0" role="region" aria-label="What was sent">
      <table class="list">
        <thead>
          <tr>
            <th>When</th>
            <th>Who</th>
            <th>What</th>
            <th>They answered</th>
            <th class="n">ms</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in acts" :key="one.number">
            <td>{{ momentInFull(one.at) }}</td>
            <td>
              {{ one.name || one.key || 'somebody who has left the roster' }}
              <span class="soft small">{{ one.name && one.key }}</span>
            </td>
            <td class="what">
              {{ one.act }}
              <span v-if="one.act === 'changes'" class="soft small">{{ one.moved }}</span>
            </td>
            <td>{{ one.answer }}</td>
            <td class="n">{{ one.ms ?? '' }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p class="do">
      <button v-if="acts?.length && !isAll" class="btn" @click="more">Earlier ones</button
      ><button class="btn" @click="emit('close')">Close</button>
    </p>
  </Modal>
</template>

<style scoped>
.all {
  max-height: 60vh;
  overflow: auto;
}
.what {
  white-space: normal;
  overflow-wrap: anywhere;
}
.do {
  display: flex;
  gap: 8px;
  margin-top: 14px;
}
</style>
