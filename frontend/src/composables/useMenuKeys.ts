import { nextTick, ref, type Ref } from 'vue'

/**
 * A menu by keyboard: arrows, Home and End go from one entry to the next, Escape and Tab close it
 * and give the focus back to its button (WAI-ARIA Authoring Practices, menu button).
 */
export function useMenuKeys(
  button: Ref<HTMLButtonElement | undefined>,
  list: Ref<HTMLElement | undefined>,
) {
  const open = ref(false)
  const entries = () => [...(list.value?.querySelectorAll<HTMLElement>('[role="menuitem"]') ?? [])]
  function go(by: number | 'first' | 'last'): void {
    const all = entries()
    const now = all.indexOf(document.activeElement as HTMLElement)
    const to = by === 'first' ? 0 : by === 'last' ? all.length - 1 : now + by
    all[(to + all.length) % all.length]?.focus()
  }
  async function shown(isOpen: boolean): Promise<void> {
    open.value = isOpen
    await nextTick()
    if (isOpen) requestAnimationFrame(() => go('first'))
  }
  function close(): void {
    open.value = false
    button.value?.focus()
  }
  function press(event: KeyboardEvent): void {
    const moves: Record<string, () => void> = {
      ArrowDown: () => go(1),
      ArrowUp: () => go(-1),
      Home: () => go('first'),
      End: () => go('last'),
      Escape: close,
      Tab: close,
    }
    const move = moves[event.key]
    if (!move) return
    if (event.key !== 'Tab') event.preventDefault()
    event.stopPropagation()
    move()
  }
  return { open, shown, close, press }
}
