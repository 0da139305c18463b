/** Focus what a dialog is about to draw: at the first frame that has it, within a second. */
export function focusSoon(find: () => { focus: () => void } | undefined, frames = 60): void {
  requestAnimationFrame(() => {
    const found = find()
    if (found) found.focus()
    else if (frames > 0) focusSoon(find, frames - 1)
  })
}
