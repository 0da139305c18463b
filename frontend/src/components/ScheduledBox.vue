<script setup lang="ts">
import { computed, ref } from 'vue'
import ReasonDialog from './ReasonDialog.vue'
import { callOff } from '@/api/scheduled'
import type { Scheduled } from '@/api/types'
import { counted, day, momentInFull } from '@/logic/words'

const props = defineProps<{ scheduled: Scheduled; may: boolean }>()
const emit = defineEmits<{ decided: [] }>()

const asking = ref(false)
const problem = ref('')
const does = computed(() =>
  counted(
    Object.values(props.scheduled.counts).reduce((sum, one) => sum + one, 0),
    'change',
  ),
)
const said = computed(() => {
  const one = props.scheduled
  if (one.state === 'stopped') return one.reason
  if (one.is_stale)
    return (
      'The file was worked on after it was put off, so this would not be done on its day. ' +
      'Put it off again, or call it off.'
    )
  return (
    'It is worked out again on its day, on the roster as it stands then. Were it to do ' +
    'anything else, nothing is done and it comes back to the desk.'
  )
})

async function off(reason: string): Promise<void> {
  asking.value = false
  problem.value = ''
  try {
    await callOff(props.scheduled.id, reason)
    emit('decided')
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}
</script>

<template>
  <section
    class="flag put-off"
    :class="{ stop: scheduled.state === 'stopped' || scheduled.is_stale }"
    aria-label="Put off to a day"
  >
    <p>
      <b>{{
        scheduled.state === 'stopped'
          ? `Not done on ${day(scheduled.day)}`
          : `${does} wait${does.startsWith('1 ') ? 's' : ''} for ${day(scheduled.day)}`
      }}</b>
      · put off by {{ scheduled.by || 'somebody' }}, {{ momentInFull(scheduled.at) }}
    </p>
    <p>{{ said }}</p>
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
    <p v-if="may && scheduled.state !== 'due'" class="do">
      <button class="btn" @click="asking = true">Call it off …</button>
    </p>
    <ReasonDialog
      :open="asking"
      title="Call it off"
      said="Nothing is done on that day. The file stays open and can be applied or put off again."
      act="Call it off"
      :usual="['the day has changed', 'put off by mistake']"
      @done="off"
      @close="asking = false"
    />
  </section>
</template>

<style scoped>
.put-off {
  max-width: 780px;
  margin-top: 16px;
}
.do {
  display: flex;
  gap: 8px;
  margin-top: 8px;
}
</style>
