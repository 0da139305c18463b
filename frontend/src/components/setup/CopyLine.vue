<script setup lang="ts">
import { ref } from 'vue'

/** A text that is shown once, with a button that copies it. */
const props = defineProps<{ text: string; label: string }>()
const copied = ref(false)
const box = ref<HTMLInputElement>()
async function copy(): Promise<void> {
  box.value?.select()
  await navigator.clipboard.writeText(props.text).then(
    () => (copied.value = true),
    () => undefined, // it stays selected, to be copied by hand
  )
}
</script>

<template>
  <p class="line">
    <input ref="box" class="box mono" readonly :value="text" :aria-label="label" />
    <button class="btn fir" @click="copy">{{ copied ? 'Copied' : 'Copy' }}</button>
  </p>
</template>

<style scoped>
.line {
  display: flex;
  gap: 8px;
  padding-top: 6px;
}
.box {
  flex: 1;
  min-width: 0;
}
</style>
