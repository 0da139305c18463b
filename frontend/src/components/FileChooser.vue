<script setup lang="ts">
import { ref } from 'vue'

const emit = defineEmits<{ chosen: [file: File] }>()
const input = ref<HTMLInputElement>()

function take(event: Event): void {
  const field = event.target as HTMLInputElement
  const file = field.files?.[0]
  if (file) emit('chosen', file)
  field.value = '' // so that the same file can be chosen again once it was put right
}
</script>

<template>
  <span>
    <input
      ref="input"
      type="file"
      class="unseen"
      tabindex="-1"
      aria-label="Upload file"
      @change="take"
    />
    <button class="btn fir" @click="input?.click()"><slot>Upload file</slot></button>
  </span>
</template>
