<script setup lang="ts">
import { ref, watch } from 'vue'
import { Modal } from 'ant-design-vue'
import type { Cause, Field } from '@/api/types'
import { focusSoon } from '@/logic/focus'
import { counted } from '@/logic/words'

const props = defineProps<{ open: boolean; field: Field | undefined; cause: Cause | undefined }>()
const emit = defineEmits<{
  done: [asked: { find: string; put: string; whole: boolean; cause: string }]
  close: []
}>()

const find = ref('')
const put = ref('')
const whole = ref(false)
const inCause = ref(true)
const box = ref<HTMLInputElement>()

function done(): void {
  if (find.value)
    emit('done', {
      find: find.value,
      put: put.value,
      whole: whole.value,
      cause: inCause.value ? (props.cause?.id ?? '') : '',
    })
}

watch(
  () => props.open,
  (open) => open && focusSoon(() => box.value),
)
</script>

<template>
  <Modal
    destroy-on-close
    :open="open && !!field"
    :title="`Find and replace in ${field?.title}`"
    :footer="null"
    :width="440"
    @cancel="emit('close')"
  >
    <form @submit.prevent="done">
      <label>Find <input ref="box" v-model="find" class="box" maxlength="500" /></label>
      <label>Replace with <input v-model="put" class="box" maxlength="500" /></label>
      <p>
        <label class="tick"
          ><input v-model="whole" type="checkbox" /> only cells that are exactly this</label
        >
      </p>
      <p v-if="cause">
        <label class="tick"
          ><input v-model="inCause" type="checkbox" /> only in the
          {{ counted(cause.rows, 'row') }} of “{{ cause.title }}”</label
        >
      </p>
      <p class="do">
        <button class="btn main" :disabled="!find">Replace</button
        ><button type="button" class="btn" @click="emit('close')">Cancel</button>
      </p>
    </form>
  </Modal>
</template>

<style scoped>
label {
  display: grid;
  grid-template-columns: 110px 1fr;
  align-items: center;
  margin-bottom: 8px;
}
.tick {
  display: flex;
  gap: 8px;
}
.do {
  display: flex;
  gap: 8px;
  margin-top: 12px;
}
</style>
