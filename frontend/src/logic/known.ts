import type { KeyChoice, Step, Takes } from '@/api/types'

export type How = 'own' | 'these' | 'likeness'

/**
 * How people are known as it stands: by the roster's own keys, by those that were said, or by
 * likeness alone.
 */
export const howOf = (keys: KeyChoice[], own: boolean): How =>
  own ? 'own' : keys.some((one) => one.used) ? 'these' : 'likeness'

/** Move one key before the one above it. */
export function raise(keys: KeyChoice[], place: number): KeyChoice[] {
  if (place < 1 || place >= keys.length) return keys
  const now = [...keys]
  const [one] = now.splice(place, 1)
  now.splice(place - 1, 0, one!)
  return now
}

/** The steps that make it so; only for what is otherwise than before. */
export function stepsFor(
  before: { keys: KeyChoice[]; own: boolean; takes: Takes },
  how: How,
  chosen: KeyChoice[],
  takes: Takes,
): Step[] {
  const keys = how === 'own' ? null : how === 'likeness' ? [] : chosen.map((one) => one.fields)
  const had = before.own ? null : before.keys.filter((one) => one.used).map((one) => one.fields)
  const steps: Step[] = []
  if (JSON.stringify(keys) !== JSON.stringify(had)) steps.push({ kind: 'known_by', keys })
  if (takes !== before.takes) steps.push({ kind: 'takes', of: takes })
  return steps
}
