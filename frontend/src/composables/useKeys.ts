import { useEventListener } from '@vueuse/core'
import { openDialogs } from '@/logic/focus'
import { mayBeHeld, meant, USUAL } from '@/logic/keys'
import { useSession } from './useSession'

export type Keys = Record<string, (event: KeyboardEvent) => void>

const TICKS = 'input[type="checkbox"], input[type="radio"]'
const TYPING = 'input, textarea, select, [contenteditable], [role="combobox"], [role="listbox"]'

/** Whether a key is the own affair of what has the focus. */
function isOwn(target: HTMLElement | null, key: string): boolean {
  if (target?.closest(TICKS)) return key === ' ' || key.startsWith('Arrow')
  if (target?.closest(TYPING)) return true
  return (key === 'Enter' || key === ' ') && !!target?.closest('button, a, summary')
}

/**
 * Act on single keys while the component lives, as its user chose them. Keys typed into a field,
 * with a modifier, or behind an open dialog do nothing; `Enter` and the space bar stay with a
 * focused button or link. A key that is held down acts once, unless it moves.
 */
export function useKeys(keys: Keys): void {
  const session = useSession()
  function hear(event: KeyboardEvent): void {
    const target = event.target instanceof HTMLElement ? event.target : null
    if (event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented) return
    if (isOwn(target, event.key) || openDialogs().length) return
    const key = meant(event.key, session.state.me?.keys ?? USUAL)
    const act = key && (keys[key] ?? keys[key.toLowerCase()])
    if (!act) return
    event.preventDefault()
    if (!event.repeat || mayBeHeld(event.key)) act(event)
  }
  useEventListener(document, 'keydown', hear)
}
