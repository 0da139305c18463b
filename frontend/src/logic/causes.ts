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
