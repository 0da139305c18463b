<script setup lang="ts">
import ChooseOne from '@/components/controls/ChooseOne.vue'
import type { Piece } from '@/api/types'
import { ofPairs, type Choice } from '@/logic/choices'
import { sourceOf, takeFrom } from '@/logic/pattern'

/** One piece of a value that is put together. */
defineProps<{ offered: Choice<string>[]; number: number }>()
const piece = defineModel<Piece>({ required: true })
const emit = defineEmits<{ remove: [] }>()

const WORDS = ofPairs([
  [0, 'all of it'],
  [1, 'first word'],
  [2, 'second word'],
  [-1, 'last word'],
])
const put = (next: Partial<Piece>) => (piece.value = { ...piece.value, ...next })
const typed = (event: Event) => (event.target as HTMLInputElement).value
</script>

<template>
  <li>
    <template v-if="piece.field || piece.heading || !piece.text">
      <ChooseOne
        class="from"
        :model-value="sourceOf(piece)"
        :options="offered"
        :label="`Field of piece ${number}`"
        @update:model-value="(source) => put(takeFrom(source ?? ''))"
      />
      <ChooseOne
        :model-value="piece.word ?? 0"
        :options="WORDS"
        :label="`Word of piece ${number}`"
        @update:model-value="(word) => put({ word: word ?? 0 })"
      />
      <label
        >letters
        <input
          :value="piece.letters ?? 0"
          class="box few"
          type="number"
          min="0"
          max="100"
          title="0 takes all"
          @input="(event) => put({ letters: Number(typed(event)) })"
      /></label>
    </template>
    <label v-else
      >text
      <input
        :value="piece.text"
        class="box few"
        maxlength="40"
        @input="(event) => put({ text: typed(event) })"
    /></label>
    <span class="grow" />
    <button
      type="button"
      class="btn"
      :aria-label="`Remove piece ${number}`"
      @click="emit('remove')"
    >
      Remove
    </button>
  </li>
</template>

<style scoped>
li {
  display: flex;
  gap: 8px;
  align-items: center;
  padding: 5px 0;
  border-bottom: 1px solid var(--drift);
}
.few {
  width: 64px;
}
.from {
  max-width: 220px;
}
</style>
