<script setup lang="ts">
import { ref, watch } from 'vue'
import { Modal } from 'ant-design-vue'
import KeyCap from '@/components/controls/KeyCap.vue'
import FieldEditor from './FieldEditor.vue'
import type { Cause, Field } from '@/api/types'
import { focusSoon } from '@/logic/focus'
import { counted } from '@/logic/words'

const props = defineProps<{ cause: Cause | null; field: Field | undefined }>()
const emit = defineEmits<{ done: [value: string]; close: [] }>()
const value = ref('')
const editor = ref<InstanceType<typeof FieldEditor>>()

watch(
  () => props.cause,
  (cause) => {
    value.value = ''
    if (cause) focusSoon(() => editor.value)
  },
)
</script>

<template>
  <Modal
    destroy-on-close
    :open="!!cause && !!field"
    :title="`${field?.title} in ${counted(cause?.rows ?? 0, 'row')}`"
    :footer="null"
    :width="420"
    @cancel="emit('close')"
  >
    <p class="soft">
      The same value goes into every row of “{{ cause?.title }}”. One step; <KeyCap of="Z" /> takes
      it back.
    </p>
    <FieldEditor
      v-if="field"
      ref="editor"
      v-model="value"
      :field="field"
      class="editor"
      @done="emit('done', value)"
    />
    <p class="do">
      <button class="btn main" :disabled="!value" @click="emit('done', value)">
        Set in {{ counted(cause?.rows ?? 0, 'row') }}
      </button>
      <button class="btn" @click="emit('close')">Cancel</button>
    </p>
  </Modal>
</template>

<style scoped>
.editor {
  margin: 12px 0;
}
.do {
  display: flex;
  gap: 8px;
}
</style>
