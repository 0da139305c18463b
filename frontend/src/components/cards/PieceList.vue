<script setup lang="ts">
import { computed } from 'vue'
import PieceRow from './PieceRow.vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import type { FieldDocument } from '@/api/types'
import { CARD_WORDS, moved, type Piece } from '@/logic/design'
import { byTitle } from '@/logic/choices'

/** The pieces of a line: fixed words, fields of the person, things of the card itself. */
const props = defineProps<{ pieces: Piece[]; fields: FieldDocument[]; locked: boolean }>()
const emit = defineEmits<{ put: [pieces: Piece[]] }>()

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
const change = (place: number, next: Piece) =>
  emit(
    'put',
    props.pieces.map((one, at) => (at === place ? next : one)),
  )
function add(kind: string | null): void {
  if (!kind) return
  const name = kind.slice(kind.indexOf(' ') + 1)
  const made: Record<string, Piece> = { text: { text: '…' }, card: { card: name } }
  emit('put', [...props.pieces, made[kind.split(' ')[0]!] ?? { field: name }])
}
const drop = (place: number) =>
  emit(
    'put',
    props.pieces.filter((_, at) => at !== place),
  )
</script>

<template>
  <ul class="pieces">
    <li v-for="(piece, place) in pieces" :key="place">
      <PieceRow
        :piece="piece"
        :number="place + 1"
        :field="fieldOf(piece)"
        :locked="locked"
        @put="(next) => change(place, next)"
      />
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
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
  border-bottom: 1px solid var(--drift);
  min-height: 32px;
  font-size: 13px;
}
.acts {
  display: flex;
}
.acts .link {
  min-width: 24px;
  min-height: 24px;
}
</style>
