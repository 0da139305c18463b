<script setup lang="ts">
import { computed } from 'vue'
import PatternPiece from './PatternPiece.vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import type { Pattern, Piece } from '@/api/types'
import { ofPairs, type Choice } from '@/logic/choices'
import { addPiece, COLUMN } from '@/logic/pattern'

/** The pieces that a value is put together from, in their order. */
const props = defineProps<{
  fields: Choice<string>[]
  /** Columns of a file, of which pieces may be too. */
  headings?: string[]
}>()
const pattern = defineModel<Pattern>({ required: true })

const CASES = ofPairs([
  ['lower', 'small letters'],
  ['upper', 'capitals'],
  ['as it is', 'as it is'],
] as const)
const columns = computed(() => props.headings ?? [])
const offered = computed(() =>
  columns.value.length
    ? [
        ...props.fields.map((one) => ({ ...one, group: 'fields' })),
        ...columns.value.map((heading) => ({
          value: COLUMN + heading,
          label: `“${heading}”`,
          group: 'columns of the file',
        })),
      ]
    : props.fields,
)
const set = (next: Partial<Pattern>) => (pattern.value = { ...pattern.value, ...next })
const put = (place: number, next: Piece) =>
  set({ pieces: pattern.value.pieces.map((one, at) => (at === place ? next : one)) })
const drop = (place: number) =>
  set({ pieces: pattern.value.pieces.filter((_, at) => at !== place) })
const add = (piece: Partial<Piece>) => (pattern.value = addPiece(pattern.value, piece))
const ticked = (event: Event) => (event.target as HTMLInputElement).checked
</script>

<template>
  <ol class="pieces">
    <PatternPiece
      v-for="(piece, place) in pattern.pieces"
      :key="place"
      :model-value="piece"
      :offered="offered"
      :number="place + 1"
      @update:model-value="(next) => put(place, next)"
      @remove="drop(place)"
    />
  </ol>
  <p class="do">
    <button type="button" class="btn" @click="add({ field: fields[0]?.value ?? '' })">
      Add a field</button
    ><button v-if="columns.length" type="button" class="btn" @click="add({ heading: columns[0] })">
      Add a column of the file</button
    ><button type="button" class="btn" @click="add({ text: '.' })">Add a text</button>
    <ChooseOne
      :model-value="pattern.case ?? 'lower'"
      :options="CASES"
      label="Case"
      @update:model-value="(one) => set({ case: one ?? 'lower' })"
    />
    <label
      ><input
        :checked="pattern.plain ?? true"
        type="checkbox"
        @change="(event) => set({ plain: ticked(event) })"
      />
      plain letters and digits only</label
    ><label
      ><input
        :checked="pattern.unique ?? true"
        type="checkbox"
        @change="(event) => set({ unique: ticked(event) })"
      />
      made unique with a number</label
    >
  </p>
</template>

<style scoped>
.pieces {
  list-style: none;
  padding: 0;
  margin: 12px 0 8px;
}
.do {
  display: flex;
  gap: 10px;
  flex-wrap: wrap;
  align-items: center;
  margin: 10px 0;
}
</style>
