<script setup lang="ts">
import { computed } from 'vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import TextBox from '@/components/TextBox.vue'
import type { FieldDocument } from '@/api/types'
import { CARD_WORDS, DAY_FORMS, type Piece } from '@/logic/design'
import { ofPairs } from '@/logic/choices'

/** One piece: fixed words, or what is taken and how it is written. */
const props = defineProps<{
  piece: Piece
  number: number
  field: FieldDocument | undefined
  locked: boolean
}>()
const emit = defineEmits<{ put: [piece: Piece] }>()

const WORDS = ofPairs([
  [0, 'all words'],
  [1, 'first word'],
  [-1, 'last word'],
] as const)
const hasCodes = computed(() => !!props.field?.nevefield?.codeList)
const isDay = computed(
  () => ['until', 'made'].includes(props.piece.card ?? '') || props.field?.type === 'date',
)
const forms = computed(() => {
  if (isDay.value) return ofPairs(DAY_FORMS.map((form) => [form, form] as const))
  const usual: [string, string][] = [
    ['as it is', hasCodes.value ? 'its words' : 'as written'],
    ['capitals', 'in capitals'],
  ]
  return ofPairs(hasCodes.value ? [...usual, ['code', 'its code'] as [string, string]] : usual)
})
const form = computed(() => props.piece.form ?? (isDay.value ? DAY_FORMS[0] : 'as it is'))
const name = computed(() =>
  props.piece.card ? CARD_WORDS[props.piece.card] : props.field?.title || props.piece.field,
)
</script>

<template>
  <TextBox
    v-if="piece.text !== undefined"
    class="box words"
    :model-value="piece.text"
    maxlength="120"
    :disabled="locked"
    :aria-label="`Fixed words ${number}`"
    @update:model-value="(text) => emit('put', { text: String(text) || '…' })"
  />
  <template v-else>
    <span class="words one-line" :title="name">{{ name }}</span>
    <ChooseOne
      plain
      :model-value="form"
      :options="forms"
      :disabled="locked"
      :label="`How ${name} is written`"
      @update:model-value="(next) => emit('put', { ...piece, form: next ?? 'as it is' })"
    />
    <ChooseOne
      v-if="!isDay"
      plain
      :model-value="piece.word ?? 0"
      :options="WORDS"
      :disabled="locked"
      :label="`Which words of ${name}`"
      @update:model-value="(word) => emit('put', { ...piece, word: word ?? 0 })"
    />
  </template>
</template>

<style scoped>
.words {
  flex: 1 0 120px;
  min-width: 0;
}
</style>
