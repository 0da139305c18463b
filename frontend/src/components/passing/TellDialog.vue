<script setup lang="ts">
import { computed, ref } from 'vue'
import { Modal } from 'ant-design-vue'
import { tell } from '@/api/passing'
import type { Destination } from '@/api/types'
import { usePassing } from '@/composables/usePassing'
import { sendable, type Way } from '@/logic/passing'
import { count, counted } from '@/logic/words'

/** What sending does, said before it is done; what takes much away wants its number. */
const props = defineProps<{ destination: Destination }>()
const emit = defineEmits<{ close: []; begun: [job: number] }>()

const passing = usePassing()
const typed = ref('')
const busy = ref(false)
const problem = ref('')
// as it was looked at when this was opened
const shown = props.destination
const kind = (shown.document.way as Way).kind
const isFile = kind === 'file'
const many = computed(() => sendable(shown.counts))
const ends = computed(() => shown.counts['to end'] ?? 0)
const some = (names: string[], all: number) => names.join(' · ') + (all > names.length ? ' …' : '')
const fits = computed(() => !shown.is_guarded || Number(typed.value) === ends.value)

async function send(): Promise<void> {
  if (busy.value || !fits.value) return
  busy.value = true
  problem.value = ''
  try {
    emit('begun', await tell(shown.name, many.value, shown.is_guarded ? Number(typed.value) : null))
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
    await passing.refresh()
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <Modal
    open
    destroy-on-close
    :title="
      isFile
        ? `A file for ${shown.title}`
        : kind === 'asked'
          ? `What ${shown.title} reads`
          : `Tell ${shown.title}`
    "
    :footer="null"
    :width="520"
    @cancel="!busy && emit('close')"
  >
    <form @submit.prevent="send">
      <ul>
        <li>
          <b>{{ count(shown.counts['to send'] ?? 0) }}</b>
          {{ isFile ? 'stand in it anew or otherwise' : 'to be there as the rosters say' }}
        </li>
        <li>
          <b>{{ count(ends) }}</b> {{ isFile ? 'leave it' : 'to be switched off' }}, of
          {{ count(shown.there) }} who are {{ isFile ? 'in it' : 'there' }}
        </li>
        <li v-if="shown.ends_names.length" class="soft">
          {{ some(shown.ends_names, ends) }}
        </li>
        <li v-if="shown.takes">
          <b>{{ count(shown.takes) }}</b> lose a privilege, and stay:
          <span class="soft">{{ some(shown.takes_names, shown.takes) }}</span>
        </li>
        <li v-if="shown.counts.refused || shown.counts.held" class="soft">
          {{ count((shown.counts.refused ?? 0) + (shown.counts.held ?? 0)) }} refused or held back
          stay as they are
        </li>
      </ul>
      <label v-if="shown.is_guarded" class="flag stop guard">
        That is a large part of them. If it is meant, type the number {{ ends }}:
        <input v-model="typed" class="box" inputmode="numeric" autocomplete="off" />
      </label>
      <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
      <p class="do">
        <button class="btn main" :disabled="busy || !fits">
          {{
            busy
              ? 'Beginning …'
              : isFile
                ? 'Make the file'
                : `${kind === 'asked' ? 'Let them read' : 'Send'} ${counted(many, 'change')}`
          }}</button><button type="button" class="btn" :disabled="busy" @click="emit('close')">
          Cancel
        </button>
      </p>
    </form>
  </Modal>
</template>

<style scoped>
ul {
  margin: 0;
  padding-left: 18px;
}
.guard {
  display: block;
  margin-top: 10px;
}
.guard .box {
  width: 90px;
}
.do {
  display: flex;
  gap: 8px;
  margin-top: 14px;
}
</style>
