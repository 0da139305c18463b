<script setup lang="ts">
import { reactive } from 'vue'
import { useEventListener, useTimeoutFn } from '@vueuse/core'
import { Tooltip } from 'ant-design-vue'

/**
 * Whatever is cut off anywhere is shown whole: under the pointer, with the focus, and in the active
 * cell of a grid. It stays while the pointer is on it, and goes with Escape (WCAG 2.2, 1.4.13).
 */
const REST_MS = 350
const PARENTS = 3 // how far out what is cut may be from what was pointed at
const shown = reactive({ text: '', left: 0, top: 0, width: 0, height: 0 })
let wanted: HTMLElement | null = null

const isCut = (one: HTMLElement) =>
  one.scrollWidth > one.clientWidth + 1 &&
  (one instanceof HTMLInputElement || getComputedStyle(one).textOverflow === 'ellipsis')

function cutAt(start: EventTarget | null): HTMLElement | null {
  let one = start instanceof HTMLElement ? start : null
  if (one?.closest('[title]')) return null // says it already
  for (let out = 0; one && out < PARENTS; out++, one = one.parentElement) if (isCut(one)) return one
  return null
}
function show(): void {
  if (!wanted?.isConnected) return hide()
  const at = wanted.getBoundingClientRect()
  const text = wanted instanceof HTMLInputElement ? wanted.value : (wanted.textContent ?? '')
  Object.assign(shown, {
    text: text.replace(/\s+/g, ' ').trim(),
    left: at.left,
    top: at.top,
    width: at.width,
    height: at.height,
  })
}
const { start, stop } = useTimeoutFn(show, REST_MS, { immediate: false })
function hide(): void {
  stop()
  wanted = null
  shown.text = ''
}
function look(target: EventTarget | null): void {
  if (target instanceof Element && target.closest('.ant-tooltip')) return
  const cut = cutAt(target)
  if (cut === wanted) return
  hide()
  if (!cut) return
  wanted = cut
  start()
}
const CELL = '[role="grid"] .cell.active'
useEventListener(document, 'mouseover', (event) => look(event.target))
useEventListener(document, 'focusin', (event) => look(event.target))
useEventListener(document, 'keyup', (event) => {
  if (event.key.startsWith('Arrow')) look(document.querySelector(CELL) ?? document.activeElement)
})
useEventListener(document, 'keydown', hide, { capture: true })
useEventListener(document, 'scroll', hide, { capture: true, passive: true })
</script>

<template>
  <Tooltip :open="!!shown.text" :title="shown.text" placement="bottomLeft" overlay-class-name="cut">
    <span
      v-if="shown.text"
      class="anchor"
      :style="{
        left: `${shown.left}px`,
        top: `${shown.top}px`,
        width: `${shown.width}px`,
        height: `${shown.height}px`,
      }"
    />
  </Tooltip>
</template>

<style scoped>
.anchor {
  position: fixed;
  pointer-events: none;
}
</style>
