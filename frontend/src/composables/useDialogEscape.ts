import { useEventListener } from '@vueuse/core'
import { openDialogs } from '@/logic/focus'

const OPEN_DAYS = '.ant-picker-dropdown:not(.ant-picker-dropdown-hidden)'

/** The list or calendar that is open around what has the focus. */
function openListAround(start: EventTarget | null): Element | null {
  if (!(start instanceof Element)) return null
  const days = document.querySelector(OPEN_DAYS) ? start.closest('.ant-picker') : null
  return start.closest('.ant-select-open') ?? days
}

/**
 * Escape closes what is in front and nothing behind it: an open list before the dialog that it
 * stands in. The dialog it closes also when the focus is nowhere, as it is after what had it went
 * away; the library hears the key in the dialog alone.
 */
export function useDialogEscape(): void {
  useEventListener(
    document,
    'keydown',
    (event) => {
      const list = event.key === 'Escape' ? openListAround(event.target) : null
      list?.addEventListener('keydown', (same) => same.stopPropagation(), { once: true })
    },
    { capture: true },
  )
  useEventListener(document, 'keydown', (event) => {
    if (event.key !== 'Escape' || document.activeElement !== document.body) return
    openDialogs().at(-1)?.querySelector<HTMLElement>('.ant-modal-close')?.click()
  })
}
