<script setup lang="ts">
import { computed, nextTick, useTemplateRef } from 'vue'
import MoreMenu from '@/components/controls/MoreMenu.vue'
import type { CardSide } from '@/api/types'
import {
  KIND_WORDS,
  moved,
  nameItem,
  newItem,
  sayItem,
  sayPiece,
  type FaceDocument,
  type Item,
  type Kind,
} from '@/logic/design'

/**
 * The items of a side, from the top. Arrows go from one to the next, with Alt they carry it along;
 * Delete takes it out.
 */
const props = defineProps<{
  items: Item[]
  face: FaceDocument
  findings: CardSide['findings']
  titleOf: (field: string) => string
  locked: boolean
}>()
const emit = defineEmits<{ put: [items: Item[]] }>()
const chosen = defineModel<string>('chosen', { required: true })

const KINDS: Kind[] = ['line', 'band', 'photo', 'picture', 'symbol']
const rows = useTemplateRef<HTMLElement[]>('rows')
const failing = computed(() => new Map(props.findings.map((one) => [one.item, one.why])))
const beginnings = KINDS.map((kind) => ({
  title: `A ${KIND_WORDS[kind]}`,
  act: () => add(kind),
}))

async function go(place: number): Promise<void> {
  const item = props.items[Math.max(0, Math.min(place, props.items.length - 1))]
  if (!item) return
  chosen.value = item.name
  await nextTick()
  rows.value?.find((row) => row.dataset.name === item.name)?.focus()
}
function add(kind: Kind): void {
  const item = newItem(props.face, kind)
  const after = props.items.findIndex((one) => one.name === chosen.value)
  const items = [...props.items]
  items.splice(kind === 'line' && after >= 0 ? after + 1 : items.length, 0, item)
  emit('put', items)
  chosen.value = item.name
}
function drop(place: number): void {
  const next = props.items[place + 1] ?? props.items[place - 1]
  emit(
    'put',
    props.items.filter((_, at) => at !== place),
  )
  chosen.value = next?.name ?? ''
}
function carry(place: number, step: number): void {
  const to = place + step
  if (to < 0 || to >= props.items.length) return
  emit('put', moved(props.items, place, to))
  void nextTick(() => go(to))
}
function press(event: KeyboardEvent, place: number): void {
  const step = { ArrowDown: 1, ArrowUp: -1 }[event.key]
  if (step) {
    event.preventDefault()
    if (event.altKey && !props.locked) carry(place, step)
    else void go(place + step)
  } else if (event.key === 'Delete' && !props.locked) {
    event.preventDefault()
    drop(place)
  }
}
</script>

<template>
  <div class="list" role="group" aria-label="What stands on this side, from the top">
    <button
      v-for="(item, place) in items"
      :key="item.name"
      ref="rows"
      type="button"
      class="row"
      :class="{ on: item.name === chosen, fails: failing.has(item.name) }"
      :data-name="item.name"
      :aria-pressed="item.name === chosen"
      @click="chosen = item.name"
      @keydown="press($event, place)"
    >
      <span class="what soft">{{ nameItem(items, item) }}</span>
      <span class="pieces">
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
      <span class="size soft">{{ failing.has(item.name) ? 'does not fit' : sayItem(item) }}</span>
    </button>
    <div v-if="!locked" class="under">
      <MoreMenu label="+ another line, place or picture" :items="beginnings" />
      <template v-if="items.some((item) => item.name === chosen)">
        <button
          class="btn"
          aria-label="Carry it up"
          @click="
            carry(
              items.findIndex((one) => one.name === chosen),
              -1,
            )
          "
        >
          ↑
        </button>
        <button
          class="btn"
          aria-label="Carry it down"
          @click="
            carry(
              items.findIndex((one) => one.name === chosen),
              1,
            )
          "
        >
          ↓
        </button>
        <button class="btn" @click="drop(items.findIndex((one) => one.name === chosen))">
          Take it out
        </button>
      </template>
    </div>
  </div>
</template>

<style scoped>
.list {
  border: 1px solid var(--line);
}
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
.row.on {
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
  border-color: var(--changed);
  color: var(--changed);
}
.size {
  font-size: 12.5px;
}
.under {
  display: flex;
  gap: 6px;
  padding: 6px 10px;
}
</style>
