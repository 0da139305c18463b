<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { Modal, Progress } from 'ant-design-vue'
import type { Job } from '@/api/types'
import { focusSoon } from '@/logic/focus'

/** Somebody is erased: who asked for it, why, and their number typed, for it cannot be taken back. */
const props = defineProps<{
  open: boolean
  name: string
  number: string
  problem: string
  busy: boolean
  /** What takes them out, while it does. */
  job: Job | null
}>()
const emit = defineEmits<{ done: [askedBy: string, reason: string]; close: [] }>()

const askedBy = ref('')
const reason = ref('')
const typed = ref('')
const box = ref<HTMLInputElement>()
const fits = computed(
  () =>
    !!askedBy.value.trim() &&
    !!reason.value.trim() &&
    typed.value.trim().toLowerCase() === props.number.toLowerCase(),
)
const share = computed(() =>
  props.job?.total ? Math.round((100 * props.job.done) / props.job.total) : 0,
)
watch(
  () => props.open,
  (open) => {
    if (!open) return
    askedBy.value = reason.value = typed.value = ''
    focusSoon(() => box.value)
  },
)
</script>

<template>
  <Modal
    destroy-on-close
    :open="open"
    :title="`Erase ${name}`"
    :footer="null"
    :width="500"
    @cancel="emit('close')"
  >
    <p>
      Their values go from the roster and its history, from files, steps, receipts and what was
      sent. That there was somebody stays, so that all counts stay true. It cannot be taken back.
    </p>
    <p class="soft">
      Copies made before hold them until these are deleted by their time, and the trail is not
      altered. Records of other rosters are erased by themselves.
    </p>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <div v-if="busy" role="status">
      <Progress :percent="share" :show-info="false" />
      <p class="soft">
        {{ job?.doing || 'It begins in a moment' }} … All files of the roster are looked through. It
        goes on when this is closed.
      </p>
    </div>
    <form @submit.prevent="fits && !busy && emit('done', askedBy.trim(), reason.trim())">
      <label
        >Who asked for it
        <input
          ref="box"
          v-model="askedBy"
          class="box"
          maxlength="120"
          placeholder="such as: the person, by letter"
      /></label>
      <label>Why <input v-model="reason" class="box" maxlength="500" /></label>
      <label
        >Type <b class="mono">{{ number }}</b> to erase them
        <input v-model="typed" class="box mono" autocomplete="off"
      /></label>
      <p class="do">
        <button class="btn main" :disabled="!fits || busy">
          {{ busy ? 'Erasing …' : 'Erase them' }}
        </button>
        <button type="button" class="btn" @click="emit('close')">Cancel</button>
      </p>
    </form>
  </Modal>
</template>

<style scoped>
label {
  display: block;
  margin-top: 10px;
}
.box {
  display: block;
  width: 100%;
  margin-top: 4px;
}
.do {
  display: flex;
  gap: 8px;
  margin-top: 14px;
}
</style>
