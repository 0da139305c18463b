import { nextTick } from 'vue'

const DIALOG = '.ant-modal-wrap:not([style*="display: none"])'

/** The dialogs that are open, the first first; one that is leaving is open no more. */
export const openDialogs = (): Element[] =>
  [...document.querySelectorAll(DIALOG)].filter(
    (one) => !one.querySelector('.ant-modal[class*="-leave"]'),
  )

/** Focus what a dialog is about to draw: at the first frame that has it, within a second. */
export function focusSoon(find: () => { focus: () => void } | undefined, frames = 60): void {
  requestAnimationFrame(() => {
    const found = find()
    if (found) found.focus()
    else if (frames > 0) focusSoon(find, frames - 1)
  })
}

/** Focus goes to the button of what a key has marked: Enter there decides. */
export const focusMarked = (): void =>
  void nextTick(() => document.querySelector<HTMLElement>('[data-marked]')?.focus())
