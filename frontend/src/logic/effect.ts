import type { Outcome, Tally } from '@/api/types'
import { WORDS } from './layers'
import { count } from './words'

const ORDER: Outcome[] = ['stopped', 'waiting', 'held', 'left_out', 'new', 'changed', 'same']

/**
 * Word what a remedy does to the tally: "28 → 11 stopped, 302 → 319 new"; of the absent too, when
 * they change.
 */
export function effect(before: Tally, after: Tally): string {
  const moved = [...ORDER, 'absent' as const].filter((name) => before[name] !== after[name])
  if (!moved.length) return 'no row moves'
  return moved
    .map(
      (name) =>
        `${count(before[name])} → ${count(after[name])} ${name === 'absent' ? 'absent' : WORDS[name]}`,
    )
    .join(', ')
}
