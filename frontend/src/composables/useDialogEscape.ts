import { useEventListener } from '@vueuse/core'
import { openDialogs } from '@/logic/focus'

/**
 * Escape closes the dialog in front also when the focus is nowhere, as it is after what had it went
 * away; the library hears the key in the dialog alone.
 */
export function useDialogEscape(): void {
  useEventListener(document, 'keydown', (event) => {
    if (event.key !== 'Escape' || document.activeElement !== document.body) return
    openDialogs().at(-1)?.querySelector<HTMLElement>('.ant-modal-close')?.click()
  })
}
