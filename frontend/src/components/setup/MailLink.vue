<script setup lang="ts">
import { ref } from 'vue'
import { mailLink } from '@/api/mail'

/** The link by mail instead: another one is made, and the one that is shown counts no more. */
const props = defineProps<{ account: number; name: string }>()
const address = ref('')
const sent = ref('')
const problem = ref('')
const busy = ref(false)
async function send(): Promise<void> {
  if (busy.value || !address.value.trim()) return
  busy.value = true
  problem.value = ''
  try {
    await mailLink(props.account, address.value.trim())
    sent.value = address.value.trim()
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <p v-if="sent" role="status">
    A link of its own is on its way to {{ sent }}; the one above counts no more.
  </p>
  <form v-else class="line" @submit.prevent="send">
    <label
      >or by mail to
      <input
        v-model="address"
        class="box"
        type="email"
        maxlength="254"
        :aria-label="`Mail address of ${name}`"
    /></label>
    <button class="btn" :disabled="busy || !address.trim()">Send it</button>
  </form>
  <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
</template>

<style scoped>
.line {
  display: flex;
  gap: 8px;
  align-items: end;
  padding-top: 8px;
}
label {
  flex: 1;
}
.box {
  width: 100%;
}
</style>
