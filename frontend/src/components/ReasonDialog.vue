<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useSessionStorage } from '@vueuse/core'
import { Modal } from 'ant-design-vue'
import KeyCap from '@/components/controls/KeyCap.vue'
import DayField from '@/components/controls/DayField.vue'
import { focusSoon } from '@/logic/focus'
import { today } from '@/logic/clock'
import { ask } from '@/composables/useAsk'
import { useSession } from '@/composables/useSession'

const props = defineProps<{
  open: boolean
  title: string
  said: string
  act: string
  usual?: string[]
  only?: string[]
  ends?: '' | 'may' | 'must' | 'again'
}>()
const emit = defineEmits<{ done: [reason: string, until: string]; close: [] }>()

const reason = ref('')
const until = ref('')
const offered = computed(() => (props.only?.length ? props.only : (props.usual ?? [])))
const fits = computed(
  () =>
    !!reason.value.trim() &&
    (props.ends !== 'must' || !!until.value) &&
    (!props.only?.length ||
      props.only.some((one) => reason.value.trim().toLowerCase().startsWith(one.toLowerCase()))),
)
const box = ref<HTMLTextAreaElement>()

/** What was being typed when a session ended or the page was loaded anew is there again. */
const session = useSession()
const typed = useSessionStorage(
  'nevefield.draft.reason',
  { whose: '', title: '', text: '' },
  { flush: 'sync' },
)
const whose = () => session.state.me?.sign_in ?? ''
const forget = () => (typed.value = { whose: '', title: '', text: '' })
watch(reason, (text) => {
  if (props.open && whose()) typed.value = { whose: whose(), title: props.title, text }
})
watch(
  () => props.open,
  (open) => {
    if (!open) return
    const kept = typed.value
    reason.value = kept.whose === whose() && kept.title === props.title ? kept.text : ''
    until.value = ''
    focusSoon(() => box.value)
  },
)
async function leave(): Promise<void> {
  const isOwn = !!reason.value.trim() && !offered.value.includes(reason.value)
  const lost = 'The reason that you typed is lost.'
  if (isOwn && !(await ask({ title: props.title, said: lost, act: 'Discard', not: 'Go on' })))
    return focusSoon(() => box.value)
  forget()
  emit('close')
}

/** A digit in the empty box takes one of the usual reasons. */
function usualByNumber(event: KeyboardEvent): void {
  const one = offered.value[Number(event.key) - 1]
  if (reason.value || !one || event.repeat || session.state.me?.keys.single === false) return
  event.preventDefault()
  reason.value = one
}

function done(): void {
  if (!fits.value) return
  forget()
  emit('done', reason.value.trim(), until.value)
}
</script>

<template>
  <Modal destroy-on-close :open="open" :title="title" :footer="null" :width="440" @cancel="leave">
    <p class="soft">{{ said }}</p>
    <label class="ask"
      >Reason
      <textarea
        ref="box"
        v-model="reason"
        class="box"
        rows="2"
        maxlength="1000"
        @keydown.enter.exact.prevent="done"
        @keydown="usualByNumber"
      />
    </label>
    <p v-if="only?.length" class="soft">Choose one of these; a note of your own may follow it.</p>
    <p v-if="offered.length" class="usual">
      <button v-for="(one, place) in offered" :key="one" class="btn" @click="reason = one">
        {{ one }} <KeyCap :of="place + 1" />
      </button>
    </p>
    <p v-if="ends" class="until">
      <label>Until <DayField v-model="until" :min="today()" label="Until" /></label>
      <span class="soft">{{
        ends === 'again'
          ? 'the last day of this approval, after which it is asked again; empty: until the value is another'
          : ends === 'must'
            ? 'the last day; it is taken out again by itself'
            : 'the last day, after which it is taken out by itself; empty for good'
      }}</span>
    </p>
    <p class="do">
      <button class="btn main" :disabled="!fits" @click="done">{{ act }}</button>
      <button class="btn" @click="leave">Cancel</button>
    </p>
  </Modal>
</template>

<style scoped>
.ask {
  display: block;
  margin: 10px 0 8px;
  font-weight: 600;
}
.ask .box {
  display: block;
  width: 100%;
  height: auto;
  margin-top: 4px;
  font-weight: 400;
  resize: vertical;
}
.until {
  display: flex;
  gap: 8px;
  align-items: center;
}
.until label {
  display: inline-flex;
  gap: 6px;
  align-items: center;
  flex: none;
}
.usual,
.do {
  display: flex;
  gap: 8px;
  flex-wrap: wrap;
  margin-top: 8px;
}
.do {
  margin-top: 14px;
}
</style>
