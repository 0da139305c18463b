import { useEventListener } from '@vueuse/core'

const OPEN = '.ant-modal-wrap:not([style*="display: none"]) .ant-modal-close'

/**
 * Escape closes the dialog in front also when the focus is nowhere, as it is after what had it went
 * away; the library hears the key in the dialog alone.
 */
export function useDialogEscape(): void {
  useEventListener(document, 'keydown', (event) => {
    if (event.key !== 'Escape' || document.activeElement !== document.body) return
    const closers = [...document.querySelectorAll<HTMLElement>(OPEN)]
    closers.at(-1)?.click()
  })
}
