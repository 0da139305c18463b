<script setup lang="ts">
import { computed, ref } from 'vue'
import { decideOf } from '@/api/passing'
import type { DestinationCause } from '@/api/types'
import { usePassing } from '@/composables/usePassing'
import { count } from '@/logic/words'

/** Why records are refused there, and what may be done about all of them at once. */
const props = defineProps<{
  destination: string
  cause: DestinationCause
  on: boolean
  mayDecide: boolean
}>()
const emit = defineEmits<{ show: []; hold: [] }>()

const passing = usePassing()
const busy = ref(false)
const anew = computed(
  () => props.cause.anew.slice(0, 2).join(', ') + (props.cause.records.length > 2 ? ' …' : ''),
)
const WORDS = {
  anew: 'Compose anew',
  same: 'It is the same person',
  again: 'Send again',
} as const
async function decide(what: keyof typeof WORDS): Promise<void> {
  busy.value = true
  await passing.act(() => decideOf(props.destination, props.cause.records, what))
  busy.value = false
}
</script>

<template>
  <div class="cause" :class="{ on }">
    <p class="head">
      <i class="sign l-stopped" aria-hidden="true" /><button
        class="link title"
        :aria-pressed="on"
        @click="emit('show')"
      >
        {{ cause.title }}</button
      ><span class="grow" /><b>{{ count(cause.records.length) }}</b>
    </p>
    <p class="soft small">{{ cause.text }}</p>
    <p class="soft small">
      {{ cause.names.filter(Boolean).join(' · ')
      }}{{ cause.records.length > cause.names.length ? ' …' : '' }}
    </p>
    <p v-if="mayDecide" class="do">
      <template v-for="remedy in cause.remedies" :key="remedy">
        <button v-if="remedy === 'hold'" class="btn" :disabled="busy" @click="emit('hold')">
          Hold {{ count(cause.records.length) }}
        </button>
        <button
          v-else
          class="btn"
          :class="{ fir: remedy === cause.remedies[0] }"
          :disabled="busy"
          @click="decide(remedy)"
        >
          {{ WORDS[remedy] }}{{ remedy === 'anew' && anew ? `: ${anew}` : '' }}
        </button>
      </template>
    </p>
  </div>
</template>

<style scoped>
.cause {
  border: 1px solid var(--line);
  padding: 8px 12px;
  margin-top: 8px;
}
.cause.on {
  border-color: var(--ink);
}
.head {
  display: flex;
  gap: 8px;
  align-items: center;
}
.sign {
  width: 11px;
  height: 11px;
  flex: none;
  min-height: 0;
  padding: 0;
}
.title {
  color: var(--ink);
  font-weight: 600;
  min-height: 24px;
}
.cause .small {
  padding-left: 19px;
}
.do {
  display: flex;
  gap: 6px;
  flex-wrap: wrap;
  padding: 6px 0 0 19px;
}
</style>
