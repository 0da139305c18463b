/** Keys that move, and so may be held down; all others act once each time they are pressed. */
const HELD = /^(Arrow|Page|[.,[\]]$)/
const SHORTEST = 1

/** How somebody works with keys: whether single ones act, and those pressed in place of ours. */
export interface Chosen {
  single: boolean
  changed: Readonly<Record<string, string>>
}
export const USUAL: Chosen = { single: true, changed: {} }

export const mayBeHeld = (key: string): boolean => HELD.test(key)

/** Whether a key writes a sign: these can be switched off, and changed (WCAG 2.2, 2.1.4). */
export const isSign = (key: string): boolean => [...key].length === SHORTEST && key !== ' '

/** Which of our keys is meant by the one that is pressed; undefined where it means none. */
export function meant(pressed: string, chosen: Chosen): string | undefined {
  if (!isSign(pressed)) return pressed
  if (!chosen.single) return undefined
  const low = pressed.toLowerCase()
  const ours = Object.keys(chosen.changed).find((key) => chosen.changed[key] === low)
  if (ours !== undefined) return ours
  return low in chosen.changed ? undefined : pressed
}

/** The key that is pressed for one of ours, as it is written; '' where none is. */
export function pressedFor(ours: string, chosen: Chosen): string {
  const low = ours.toLowerCase()
  if (!isSign(ours)) return ours
  return chosen.single ? (chosen.changed[low] ?? low).toUpperCase() : ''
}
