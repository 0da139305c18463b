<script setup lang="ts">
import { computed, ref } from 'vue'
import { Modal, message } from 'ant-design-vue'
import PrintDialog from './PrintDialog.vue'
import { endLetter, takeIn, type Silent } from '@/api/letters'
import type { LetterOpen } from '@/api/types'
import { APPROVE, PREPARE } from '@/composables/useSession'
import { drawn } from '@/logic/letters'
import { count, counted, day } from '@/logic/words'

/** A letter: where those stand to whom it was written, and what can be done about it. */
const props = defineProps<{ open: LetterOpen; part: string }>()
const emit = defineEmits<{ part: [part: string]; remind: []; done: [] }>()

const printing = ref<Silent | null>(null)
const busy = ref(false)
const letter = computed(() => props.open.letter)
const isAsked = computed(() => !!letter.value.asks && !letter.value.over)
const may = computed(() => props.open.level >= APPROVE)
const toPrint = computed(() => letter.value.counts['to print'] ?? 0)
const all = computed(() => Object.values(letter.value.counts).reduce((sum, one) => sum + one, 0))

async function run(doing: () => Promise<unknown>): Promise<void> {
  busy.value = true
  try {
    await doing()
  } catch (error) {
    void message.error(error instanceof Error ? error.message : String(error), 6)
  } finally {
    busy.value = false
    emit('done')
  }
}
const end = () =>
  Modal.confirm({
    title: 'Withdraw the links of this letter?',
    content:
      'Whoever has not answered cannot any more, and mails that wait do not go. What was answered stays.',
    okText: 'Withdraw them',
    cancelText: 'Cancel',
    onOk: () => run(() => endLetter(letter.value.id)),
  })
</script>

<template>
  <header>
    <h1>{{ letter.title }}</h1>
    <p v-if="letter.over" class="flag">{{ letter.over }}</p>
    <p v-else-if="letter.asks" class="soft small">
      answers are taken until {{ day(letter.asks.last_day) }}
    </p>
    <div class="parts" role="group" aria-label="Where they stand">
      <button class="part" :aria-pressed="!part" @click="emit('part', '')">
        <b>{{ count(all) }}</b> {{ all === 1 ? 'letter' : 'letters' }}
      </button>
      <button
        v-for="one in drawn(letter.counts)"
        :key="one.key"
        class="part"
        :class="one.look"
        :aria-pressed="part === one.key"
        @click="emit('part', one.key)"
      >
        <b>{{ count(one.count) }}</b> {{ one.word }}
      </button>
    </div>
    <p class="do">
      <button v-if="may && toPrint" class="btn fir" @click="printing = 'paper'">
        Print {{ counted(toPrint, 'letter') }} …
      </button>
      <template v-if="may && isAsked && open.silent">
        <button class="btn" @click="emit('remind')">
          Remind {{ open.silent === 1 ? 'the one' : `the ${count(open.silent)}` }} who
          {{ open.silent === 1 ? 'has' : 'have' }} not answered …
        </button>
        <button class="btn" @click="printing = 'silent'">Print for them …</button>
      </template>
      <button
        v-if="open.level >= PREPARE && letter.untaken"
        class="btn"
        :disabled="busy"
        title="They come by themselves once nobody answers any more and earlier ones are decided"
        @click="run(() => takeIn(letter.id))"
      >
        Take {{ counted(letter.untaken, 'correction') }} in now
      </button>
      <button v-if="may && isAsked" class="btn" :disabled="busy" @click="end">
        Withdraw the links …
      </button>
    </p>
    <PrintDialog
      v-if="printing"
      :letter="letter.id"
      :who="printing"
      @close="
        () => {
          printing = null
          emit('done')
        }
      "
    />
  </header>
</template>

<style scoped src="./head.css"></style>
