<script setup lang="ts">
import { computed, nextTick, useTemplateRef } from 'vue'
import ItemRow from './ItemRow.vue'
import MoreMenu from '@/components/controls/MoreMenu.vue'
import type { CardSide } from '@/api/types'
import { KIND_WORDS, KINDS, moved, nameItem, newItem } from '@/logic/design'
import type { FaceDocument, Item, Kind } from '@/logic/design'

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

const box = useTemplateRef<HTMLElement>('box')
const failing = computed(() => new Set(props.findings.map((one) => one.item)))
const at = computed(() => props.items.findIndex((one) => one.name === chosen.value))
const beginnings = KINDS.map((kind) => ({ title: `A ${KIND_WORDS[kind]}`, act: () => add(kind) }))

async function go(place: number): Promise<void> {
  const to = Math.max(0, Math.min(place, props.items.length - 1))
  if (!props.items[to]) return
  chosen.value = props.items[to].name
  await nextTick()
  box.value?.querySelector<HTMLElement>(`[data-name="${chosen.value}"]`)?.focus()
}
function add(kind: Kind): void {
  const item = newItem(props.face, kind)
  const place = kind === 'line' && at.value >= 0 ? at.value + 1 : props.items.length
  emit('put', [...props.items.slice(0, place), item, ...props.items.slice(place)])
  chosen.value = item.name
}
function drop(place: number): void {
  const next = props.items[place + 1] ?? props.items[place - 1]
  emit(
    'put',
    props.items.filter((_, one) => one !== place),
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
  if (!step && (event.key !== 'Delete' || props.locked)) return
  event.preventDefault()
  // held down, it takes out one
  if (!step && event.repeat) return
  if (!step) drop(place)
  else if (event.altKey && !props.locked) carry(place, step)
  else void go(place + step)
}
</script>

<template>
  <div ref="box" class="items" role="group" aria-label="What stands on this side, from the top">
    <ItemRow
      v-for="(item, place) in items"
      :key="item.name"
      :data-name="item.name"
      :item="item"
      :name="nameItem(items, item)"
      :chosen="item.name === chosen"
      :fails="failing.has(item.name)"
      :title-of="titleOf"
      @click="chosen = item.name"
      @keydown="press($event, place)"
    />
    <div v-if="!locked" class="under">
      <MoreMenu label="+ another line, place or picture" :items="beginnings" />
      <template v-if="at >= 0">
        <button class="btn" aria-label="Carry it up" @click="carry(at, -1)">↑</button>
        <button class="btn" aria-label="Carry it down" @click="carry(at, 1)">↓</button>
        <button class="btn" @click="drop(at)">Take it out</button>
      </template>
    </div>
  </div>
</template>

<style scoped>
.items {
  border: 1px solid var(--line);
}
.under {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  padding: 6px 10px;
}
</style>
