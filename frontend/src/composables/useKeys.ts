import { useEventListener } from '@vueuse/core'

export type Keys = Record<string, (event: KeyboardEvent) => void>

const TYPING = 'input, textarea, select, [contenteditable], [role="combobox"]'

/**
 * Act on single keys while the component lives. Keys typed into a field, with a modifier, or behind
 * an open dialog do nothing; `Enter` and the space bar stay with a focused button or link.
 */
export function useKeys(keys: Keys): void {
  function hear(event: KeyboardEvent): void {
    const target = event.target instanceof HTMLElement ? event.target : null
    if (event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented) return
    if (
      target?.closest(TYPING) ||
      document.querySelector('.ant-modal-wrap:not([style*="display: none"])')
    )
      return
    if ((event.key === 'Enter' || event.key === ' ') && target?.closest('button, a')) return
    const act = keys[event.key] ?? keys[event.key.toLowerCase()]
    if (!act) return
    event.preventDefault()
    act(event)
  }
  useEventListener(document, 'keydown', hear)
}
