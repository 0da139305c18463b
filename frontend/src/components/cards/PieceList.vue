<script setup lang="ts">
import { computed } from 'vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import TextBox from '@/components/TextBox.vue'
import type { FieldDocument } from '@/api/types'
import { CARD_WORDS, moved, type Piece } from '@/logic/design'
import { byTitle, ofPairs } from '@/logic/choices'

/** The pieces of a line: fixed words, fields of the person, things of the card itself. */
const props = defineProps<{ pieces: Piece[]; fields: FieldDocument[]; locked: boolean }>()
const emit = defineEmits<{ put: [pieces: Piece[]] }>()

const DAYS = ['1 Sep 2026', '01.09.2026', '2026-09-01', '09/2026', 'Sep 2026', '2026']
const WORDS = ofPairs([
  [0, 'all words'],
  [1, 'first word'],
  [-1, 'last word'],
] as const)
const kinds = computed(() => [
  { value: 'text', label: 'fixed words' },
  ...byTitle(props.fields).map((one) => ({ ...one, value: `field ${one.value}`, group: 'Fields' })),
  ...Object.entries(CARD_WORDS).map(([value, label]) => ({
    value: `card ${value}`,
    label,
    group: 'Of the card',
  })),
])
const fieldOf = (piece: Piece) => props.fields.find((one) => one.name === piece.field)
const isDay = (piece: Piece) =>
  ['until', 'made'].includes(piece.card ?? '') || fieldOf(piece)?.type === 'date'
function forms(piece: Piece) {
  const usual = [
    ['as it is', fieldOf(piece)?.nevefield?.codeList ? 'its words' : 'as written'],
    ['capitals', 'in capitals'],
  ] as [string, string][]
  if (fieldOf(piece)?.nevefield?.codeList) usual.push(['code', 'its code'])
  return ofPairs(isDay(piece) ? DAYS.map((form) => [form, form] as [string, string]) : usual)
}
const formOf = (piece: Piece) => piece.form ?? (isDay(piece) ? DAYS[0]! : 'as it is')
const change = (place: number, next: Piece) =>
  emit(
    'put',
    props.pieces.map((one, at) => (at === place ? next : one)),
  )
function add(kind: string | null): void {
  if (!kind) return
  const [what, name] = [kind.split(' ')[0]!, kind.slice(kind.indexOf(' ') + 1)]
  const piece = what === 'text' ? { text: '…' } : what === 'card' ? { card: name } : { field: name }
  emit('put', [...props.pieces, piece])
}
const drop = (place: number) =>
  emit(
    'put',
    props.pieces.filter((_, at) => at !== place),
  )
const name = (piece: Piece) =>
  piece.card ? CARD_WORDS[piece.card] : fieldOf(piece)?.title || piece.field
</script>

<template>
  <ul class="pieces">
    <li v-for="(piece, place) in pieces" :key="place">
      <TextBox
        v-if="piece.text !== undefined"
        class="box words"
        :model-value="piece.text"
        maxlength="120"
        :disabled="locked"
        :aria-label="`Fixed words ${place + 1}`"
        @update:model-value="(text) => change(place, { text: String(text) || '…' })"
      />
      <template v-else>
        <span class="name one-line" :title="name(piece)">{{ name(piece) }}</span>
        <ChooseOne
          plain
          :model-value="formOf(piece)"
          :options="forms(piece)"
          :disabled="locked"
          :label="`How ${name(piece)} is written`"
          @update:model-value="(form) => change(place, { ...piece, form: form ?? 'as it is' })"
        />
        <ChooseOne
          v-if="!isDay(piece)"
          plain
          :model-value="piece.word ?? 0"
          :options="WORDS"
          :disabled="locked"
          :label="`Which words of ${name(piece)}`"
          @update:model-value="(word) => change(place, { ...piece, word: word ?? 0 })"
        />
      </template>
      <span v-if="!locked" class="acts">
        <button
          v-if="place"
          class="link"
          :aria-label="`Carry piece ${place + 1} to the left`"
          @click="emit('put', moved(pieces, place, place - 1))"
        >
          ←</button
        ><button class="link" :aria-label="`Drop piece ${place + 1}`" @click="drop(place)">
          ×
        </button>
      </span>
    </li>
  </ul>
  <ChooseOne
    v-if="!locked"
    :model-value="''"
    :options="kinds"
    label="Another piece"
    placeholder="+ a field, fixed words, the card’s own"
    @update:model-value="add"
  />
</template>

<style scoped>
.pieces li {
  display: flex;
  gap: 6px;
  align-items: center;
  border-bottom: 1px solid var(--drift);
  min-height: 32px;
  font-size: 13px;
}
.name,
.words {
  flex: 1;
  min-width: 0;
}
.acts {
  display: flex;
  gap: 4px;
}
</style>
