<script setup lang="ts">
import { sayItem, sayPiece, type Item } from '@/logic/design'

/** One item of a side: what it is, its pieces, its sizes. */
defineProps<{
  item: Item
  name: string
  chosen: boolean
  fails: boolean
  titleOf: (field: string) => string
}>()
</script>

<template>
  <button ref="row" type="button" class="row" :class="{ chosen, fails }" :aria-pressed="chosen">
    <span class="soft">{{ name }}</span>
    <span>
      <span v-if="item.where" class="soft">where it holds: </span>
      <span v-if="item.kind === 'photo'" class="piece field">Photograph</span>
      <span v-if="item.picture || item.kind === 'picture'" class="piece">▣ picture</span>
      <span
        v-for="(piece, at) in item.pieces"
        :key="at"
        class="piece"
        :class="{ field: piece.field, own: piece.card }"
        >{{ sayPiece(piece, titleOf) }}</span
      >
      <span v-if="item.pieces && !item.pieces.length && item.kind !== 'band'" class="bad"
        >nothing yet</span
      >
    </span>
    <span class="size soft">{{ fails ? 'does not fit' : sayItem(item) }}</span>
  </button>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: 84px 1fr 108px;
  gap: 8px;
  align-items: center;
  width: 100%;
  min-height: 36px;
  padding: 3px 10px;
  border: 0;
  border-bottom: 1px solid var(--drift);
  background: var(--snow);
  text-align: left;
  cursor: pointer;
  font-size: 13px;
}
.row.chosen {
  background: var(--row-on);
  box-shadow: inset 3px 0 0 var(--ink);
}
.row.fails .size {
  color: var(--stopped-ink);
  font-weight: 600;
}
.piece {
  display: inline-block;
  border: 1px solid var(--line);
  padding: 0 6px;
  margin: 1px 3px 1px 0;
  overflow-wrap: anywhere;
}
.piece.field {
  border-color: var(--fir);
  color: var(--fir);
}
.piece.own {
  border: 1px dashed var(--changed);
}
.size {
  font-size: 12.5px;
}
</style>
