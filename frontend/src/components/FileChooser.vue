<script setup lang="ts">
import { ref } from 'vue'

defineProps<{ several?: boolean }>()
const emit = defineEmits<{ chosen: [file: File, all: File[]] }>()
const input = ref<HTMLInputElement>()

function take(event: Event): void {
  const field = event.target as HTMLInputElement
  const [file, ...more] = field.files ?? []
  if (file) emit('chosen', file, [file, ...more])
  field.value = '' // so that the same file can be chosen again once it was put right
}
</script>

<template>
  <span>
    <input
      ref="input"
      type="file"
      :multiple="several"
      class="unseen"
      tabindex="-1"
      aria-label="Upload file"
      @change="take"
    />
    <button class="btn fir" @click="input?.click()"><slot>Upload file</slot></button>
  </span>
</template>
