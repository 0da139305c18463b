import { useEventListener } from '@vueuse/core'

/**
 * Enter acts once while it is held down, whatever has the focus: a button that stays where it is
 * would be pressed for one person after the other. Texts of several lines are written with it.
 */
export function useHeldEnter(): void {
  const hear = (event: KeyboardEvent): void => {
    const target = event.target instanceof HTMLElement ? event.target : null
    if (!event.repeat || event.key !== 'Enter' || target?.closest('textarea')) return
    event.preventDefault()
    event.stopImmediatePropagation()
  }
  useEventListener(document, 'keydown', hear, { capture: true })
}
