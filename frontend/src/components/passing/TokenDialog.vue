<script setup lang="ts">
import { ref } from 'vue'
import { Modal } from 'ant-design-vue'
import { keepToken } from '@/api/passing'
import type { Destination } from '@/api/types'
import type { Way } from '@/logic/passing'
import { usePassing } from '@/composables/usePassing'

/** The token by which we are known there: taken, kept encrypted, and never shown again. */
const props = defineProps<{ destination: Destination }>()
const emit = defineEmits<{ close: [] }>()
const passing = usePassing()
const isSecret = (props.destination.document.way as Way).kind === 'called'
const token = ref('')
const problem = ref('')
async function keep(text: string): Promise<void> {
  problem.value = ''
  try {
    await keepToken(props.destination.name, text)
    await passing.refresh()
    emit('close')
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}
</script>

<template>
  <Modal
    open
    destroy-on-close
    :title="isSecret ? 'The secret for signing' : 'Our token there'"
    :footer="null"
    :width="480"
    @cancel="emit('close')"
  >
    <form @submit.prevent="keep(token)">
      <p class="soft">
        {{
          isSecret
            ? `You and whoever keeps ${destination.title} know it: by it they see that a call is ` +
              'ours. At least 16 letters.'
            : `Whoever keeps ${destination.title} gives it to you.`
        }}
        It is kept encrypted and is never shown.
        {{
          destination.has_token ? 'There is one; another takes its place.' : 'There is none yet.'
        }}
      </p>
      <input
        v-model="token"
        class="box wide"
        type="password"
        autocomplete="off"
        :aria-label="isSecret ? 'The secret' : 'The token'"
        maxlength="1500"
      />
      <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
      <p class="do">
        <button class="btn main" :disabled="!token.trim()">Keep it</button
        ><button v-if="destination.has_token" type="button" class="btn" @click="keep('')">
          Take it away</button
        ><button type="button" class="btn" @click="emit('close')">Cancel</button>
      </p>
    </form>
  </Modal>
</template>

<style scoped>
.wide {
  width: 100%;
  margin-top: 8px;
}
.do {
  display: flex;
  gap: 8px;
  margin-top: 14px;
}
</style>
