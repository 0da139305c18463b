import type { Outcome, Tally } from '@/api/types'

export const OUTCOMES: readonly Outcome[] = [
  'new',
  'changed',
  'same',
  'waiting',
  'stopped',
  'held',
  'left_out',
]
export const WORDS: Record<Outcome | 'absent', string> = {
  new: 'new',
  changed: 'changed',
  same: 'same',
  waiting: 'waiting',
  stopped: 'stopped',
  held: 'held',
  left_out: 'left out',
  absent: 'absent',
}
const LEAST = 38 // pixels: a layer of one row can still be read and clicked
const GAP = 2

export interface Layer {
  outcome: Outcome
  count: number
  height: number
}

/**
 * Lay counts out as layers from the top down.
 *
 * Thickness grows with the square root of the count, none is thinner than `least` (38 px), zero layers are
 * left away, and together with their gaps they fill `height` as far as that least thickness allows.
 */
export function layOut<Part extends { count: number }>(
  parts: readonly Part[],
  height: number,
  least = LEAST,
): (Part & { height: number })[] {
  const some = parts.filter((part) => part.count > 0)
  const high = heights(
    some.map((part) => part.count),
    height,
    least,
  )
  return some.map((part, place) => ({ ...part, height: high[place]! }))
}

/** Share a height among counts that are not zero; see `layOut`. */
function heights(counts: number[], height: number, least: number): number[] {
  let free = height - GAP * counts.length
  let growing = counts.map((_, place) => place)
  const roots = () => growing.reduce((sum, place) => sum + Math.sqrt(counts[place]!), 0) || 1
  // Layers that would come out under the least get it; the rest share what is left, until none
  // falls under it.
  for (;;) {
    const unit = free / roots()
    const thin = growing.filter((place) => Math.sqrt(counts[place]!) * unit < least)
    if (!thin.length) break
    growing = growing.filter((place) => !thin.includes(place))
    free -= thin.length * least
    if (!growing.length) break
  }
  const unit = Math.max(0, free) / roots()
  return counts.map((count, place) =>
    growing.includes(place) ? Math.floor(Math.sqrt(count) * unit) : least,
  )
}

/**
 * Lay a past file out as small layers `height` px high: square roots again, at least 2 px a layer.
 */
export function smallLayers(tally: Tally, largest: number, height: number): Layer[] {
  const unit = height / (Math.sqrt(largest) || 1)
  const whole = Math.sqrt(tally.read) * unit
  const sum = OUTCOMES.reduce((total, outcome) => total + Math.sqrt(tally[outcome]), 0) || 1
  return OUTCOMES.filter((outcome) => tally[outcome] > 0).map((outcome) => ({
    outcome,
    count: tally[outcome],
    height: Math.max(2, Math.round((Math.sqrt(tally[outcome]) / sum) * whole)),
  }))
}

/** Say whether the outcomes add up to the rows read. Worked out, never taken on trust. */
export const addsUp = (tally: Tally): boolean =>
  OUTCOMES.reduce((sum, outcome) => sum + tally[outcome], 0) === tally.read
