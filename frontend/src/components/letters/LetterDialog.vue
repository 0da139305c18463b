<script setup lang="ts">
import { computed } from 'vue'
import { Modal } from 'ant-design-vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import LetterAsks from './LetterAsks.vue'
import LetterGone from './LetterGone.vue'
import LetterSamples from './LetterSamples.vue'
import LetterWords from './LetterWords.vue'
import type { Roster } from '@/api/types'
import { useLetter, type LetterTo } from '@/composables/useLetter'
import { byTitle, ofPairs } from '@/logic/choices'
import { count, counted } from '@/logic/words'

/** Write to people, by mail or on paper: a text with fields, shown filled before it goes. */
const props = defineProps<{ roster: Roster; to: LetterTo }>()
const emit = defineEmits<{ close: [] }>()
const letter = useLetter(props.roster, props.to)
const WAYS = ofPairs([
  ['nobody', 'by mail'],
  ['the rest', 'by mail, on paper to who has no address'],
  ['all', 'on paper'],
] as const)
// whoever has a part follows no letters
const ways = props.roster.within ? WAYS.slice(0, 1) : letter.mayMail ? WAYS : WAYS.slice(2)
const title = letter.isReminder
  ? `Remind ${counted(props.to.number, 'person', 'people')}`
  : `Write to ${counted(props.to.number, 'record')}`
const act = computed(() => {
  const { looked, many, busy } = letter
  if (busy) return 'Queueing them …'
  if (!looked) return 'Send'
  if (!looked.papers) return `Send ${counted(looked.mails, 'mail')}`
  return looked.mails
    ? `Write ${count(many)}: ${counted(looked.mails, 'mail')}, ${count(looked.papers)} on paper`
    : `Write ${counted(looked.papers, 'letter')}`
})
</script>

<template>
  <Modal
    open
    destroy-on-close
    :title="title"
    :footer="null"
    :width="900"
    style="top: 40px"
    @cancel="!letter.busy && emit('close')"
  >
    <LetterGone v-if="letter.sent" :sent="letter.sent" :roster="roster" @close="emit('close')" />
    <form v-else class="both" @submit.prevent="letter.send">
      <div class="write">
        <ChooseOne v-model="letter.paper" :options="ways" label="How" />
        <p v-if="!letter.isReminder && letter.paper !== 'all' && letter.addresses.length > 1">
          To the address in
          <ChooseOne
            v-model="letter.field"
            :options="byTitle(letter.addresses)"
            label="To the address in"
          />
        </p>
        <LetterAsks
          v-if="!letter.isReminder && !roster.within"
          :model-value="letter.asks"
          :roster="roster"
          @ask="letter.ask"
          @update:model-value="(asks) => (letter.asks = asks)"
        />
        <LetterWords
          v-model="letter.written"
          :roster="roster"
          :has-link="!!letter.asks || letter.isReminder"
          :on-paper="letter.paper !== 'nobody'"
        />
      </div>
      <div class="seen">
        <p v-if="letter.problem" class="flag stop" role="alert">{{ letter.problem }}</p>
        <LetterSamples v-else-if="letter.looked" :looked="letter.looked" :roster="roster" />
        <p v-else class="soft">
          {{
            letter.isWritten
              ? letter.lacksFields
                ? 'Choose what they are to look at.'
                : 'Being filled …'
              : 'What three of them would get is shown here as you write.'
          }}
        </p>
      </div>
      <p class="do">
        <button class="btn main" :disabled="letter.busy || !letter.many">
          {{ act }}</button><button
          type="button"
          class="btn"
          :disabled="letter.busy"
          @click="emit('close')"
        >
          Cancel
        </button>
      </p>
    </form>
  </Modal>
</template>

<style scoped src="./dialog.css"></style>
