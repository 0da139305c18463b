<script setup lang="ts">
import type { LetterSent, Roster } from '@/api/types'
import { counted } from '@/logic/words'

/** What became of a letter that was written. */
defineProps<{ sent: LetterSent; roster: Roster }>()
const emit = defineEmits<{ close: [] }>()
</script>

<template>
  <div role="status">
    <p v-if="sent.mails">{{ counted(sent.mails, 'mail waits to go', 'mails wait to go') }}.</p>
    <p v-if="sent.papers">{{ counted(sent.papers, 'letter is', 'letters are') }} to be printed.</p>
  </div>
  <p class="do">
    <RouterLink
      v-if="!roster.within"
      class="btn main"
      :to="`/rosters/${roster.name}/letters/${sent.letter}`"
      @click="emit('close')"
      >{{ sent.papers ? 'Print, and see who answers' : 'See what becomes of it' }}</RouterLink
    >
    <button class="btn" @click="emit('close')">Close</button>
  </p>
</template>

<style scoped src="./dialog.css"></style>
