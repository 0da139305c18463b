<script setup lang="ts">
import { ref } from 'vue'
import { Modal } from 'ant-design-vue'
import CopyLine from '@/components/setup/CopyLine.vue'
import { makeAddress } from '@/api/passing'
import type { Destination } from '@/api/types'
import type { Way } from '@/logic/passing'

/** The address from which they fetch its files: made anew, shown once. */
const props = defineProps<{ destination: Destination }>()
const emit = defineEmits<{ close: [] }>()
const address = ref('')
const token = ref('')
const isAsked = (props.destination.document.way as Way).kind === 'asked'
const problem = ref('')
const busy = ref(false)
async function make(): Promise<void> {
  if (busy.value) return // of several, the one that is shown would not be the one that counts
  busy.value = true
  problem.value = ''
  try {
    const made = await makeAddress(props.destination.name)
    token.value = made.token
    address.value = location.origin + made.path
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <Modal
    open
    destroy-on-close
    :title="isAsked ? 'Their token for asking' : 'The address for fetching'"
    :footer="null"
    :width="560"
    @cancel="emit('close')"
  >
    <template v-if="address">
      <p v-if="isAsked">
        Give both to {{ destination.title }} alone: whoever has them reads what is held for it.
      </p>
      <p v-else>Give it to {{ destination.title }} alone: whoever has it gets the newest file.</p>
      <p v-if="isAsked" class="soft small">Where they ask (SCIM 2.0)</p>
      <CopyLine :text="address" :label="isAsked ? 'Where they ask' : 'The address'" />
      <template v-if="token">
        <p class="soft small">Their token</p>
        <CopyLine :text="token" label="Their token" />
      </template>
      <p class="soft">It is not shown again; another can be made, and then this one ends.</p>
    </template>
    <template v-else>
      <p v-if="isAsked">
        {{ destination.title }} asks here with a token of its own.
        {{ destination.has_address ? 'The one that it has ends when another is made.' : '' }}
      </p>
      <p v-else>
        {{ destination.title }} fetches its newest file there, without signing in. An address that
        was made before ends.
      </p>
      <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
      <p class="do">
        <button class="btn main" :disabled="busy" @click="make">
          {{ isAsked ? 'Make a token' : 'Make an address' }}</button><button
          class="btn"
          @click="emit('close')"
        >
          Cancel
        </button>
      </p>
    </template>
  </Modal>
</template>

<style scoped>
.do {
  display: flex;
  gap: 8px;
  margin-top: 14px;
}
</style>
