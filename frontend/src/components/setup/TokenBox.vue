<script setup lang="ts">
import { ref } from 'vue'

/** A program's token: shown this once, to be put where the program reads it. */
const props = defineProps<{ token: string; name: string }>()
const copied = ref(false)
const box = ref<HTMLInputElement>()
async function copy(): Promise<void> {
  box.value?.select()
  await navigator.clipboard.writeText(props.token).then(
    () => (copied.value = true),
    () => undefined, // it stays selected, to be copied by hand
  )
}
</script>

<template>
  <div class="flag token" role="status">
    <p>
      Give this token to {{ name }} now: it is shown this once. It goes with each request, as
      <code class="mono">Authorization: Bearer …</code>
    </p>
    <p class="line">
      <input ref="box" class="box mono" readonly :value="token" aria-label="The token" />
      <button class="btn fir" @click="copy">{{ copied ? 'Copied' : 'Copy' }}</button>
    </p>
  </div>
</template>

<style scoped>
.token {
  margin: 10px 0;
}
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
