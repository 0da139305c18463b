import { counted } from './words'
import type { Cause } from '@/api/types'

/**
 * Tell whether a cause still stands: in some row or, of one about a group or the whole file, at
 * all.
 */
export const isOpen = (one: Cause): boolean => one.rows > 0 || (one.whole && !one.settled)

/** List the causes that still stand and that a cause only follows from. */
export const parentsOf = (one: Cause, all: Cause[]): Cause[] =>
  all.filter((other) => one.follows.includes(other.id) && other.rows > 0)

/**
 * List what is folded under a cause: what only follows from it, before all others that it follows
 * from.
 */
export const followersOf = (id: string, all: Cause[]): Cause[] =>
  all.filter((one) => parentsOf(one, all)[0]?.id === id)

/**
 * List the causes that can be opened, in the order in which they stand: those that follow from no
 * other, and under each what is about a group or the whole file. That can be settled alone, and has
 * to be when the rows it follows from stay where they are.
 */
export function inOrder(all: Cause[]): Cause[] {
  const first = all.filter((one) => isOpen(one) && !parentsOf(one, all).length)
  return first.flatMap((one) => [
    one,
    ...followersOf(one.id, all).filter((two) => two.whole && isOpen(two)),
  ])
}

/**
 * The causes as they come, in the order in which they stood: nothing moves under a hand. One that is
 * new stands after the one that comes before it.
 */
export function keepOrder(stood: readonly Cause[], come: readonly Cause[]): Cause[] {
  const now = new Map(come.map((one) => [one.id, one]))
  const kept = stood.flatMap((one) => now.get(one.id) ?? [])
  const there = new Set(kept.map((one) => one.id))
  come.forEach((one, place) => {
    if (there.has(one.id)) return
    const before = come.slice(0, place).findLast((other) => there.has(other.id))
    kept.splice(before ? kept.findIndex((other) => other.id === before.id) + 1 : 0, 0, one)
    there.add(one.id)
  })
  return kept
}

/**
 * The cause that is looked at when the one that was is gone: the next that still stands, else the
 * last before it.
 */
export function afterGone(
  gone: string,
  stood: readonly Cause[],
  open: readonly Cause[],
): Cause | undefined {
  const place = stood.findIndex((one) => one.id === gone)
  if (place < 0) return undefined
  const stands = (one: Cause) => open.find((other) => other.id === one.id)
  return (
    stood
      .slice(place + 1)
      .map(stands)
      .find((one) => one && one.weight !== 'note') ??
    stood
      .slice(0, place)
      .map(stands)
      .findLast((one) => one && one.weight !== 'note')
  )
}

/** Say what needs an approval: rows, and matters of groups or of the whole file. */
export function needsApproval(rows: number, wholes: number, causes: number): string {
  const beyond = rows
    ? counted(wholes, 'matter beyond the rows', 'matters beyond the rows')
    : counted(wholes, 'matter of the whole file', 'matters of the whole file')
  const parts = [rows && counted(rows, 'row'), wholes && beyond].filter(Boolean)
  const all = parts.length ? rows + wholes : causes
  return `${parts.join(' and ') || counted(causes, 'cause')} ${all === 1 ? 'needs' : 'need'} your approval`
}
