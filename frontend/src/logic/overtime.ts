import type { ChangeSet } from '@/api/types'

/** What one change set did to the size of a roster. */
export interface Moment {
  id: number
  title: string
  at: string
  joined: number
  changed: number
  left: number
  /** Records in the roster after it. */
  size: number
  undone: boolean
}

const joinedBy = (one: ChangeSet) =>
  one.kind === 'undo' ? (one.undone.returned ?? 0) : (one.found.joined ?? 0)
const leftBy = (one: ChangeSet) =>
  one.kind === 'undo' ? (one.undone.left ?? 0) : (one.found.left ?? 0)

/**
 * A roster over time, the first first: worked out backwards from what it has today, so that it ends
 * in what is seen elsewhere.
 *
 * @param sets its change sets, the last first
 * @param records in it today
 */
export function overTime(sets: ChangeSet[], records: number): Moment[] {
  let size = records
  return sets
    .map((one) => {
      const moment = {
        id: one.id,
        title: one.kind === 'undo' ? `Taken back: ${one.title}` : one.title,
        at: one.at,
        joined: joinedBy(one),
        changed: one.found.changed ?? 0,
        left: leftBy(one),
        size,
        undone: one.undone_by !== null,
      }
      size += moment.left - moment.joined
      return moment
    })
    .reverse()
}

export interface Drawn extends Moment {
  /** From the left, in pixels. */
  x: number
  /** Heights in pixels, by the square root of the number: one among a thousand is still seen. */
  up: number
  down: number
}

/** How wide a bar is to be pressed (WCAG 2.2, 2.5.8); what is drawn in it is narrower. */
export const BAR = 24
const LEAST = 3

/**
 * Lay moments out by when they were; bars that would touch are moved apart, in their order. Upwards
 * and downwards have one scale, in which all of them have room.
 */
export function drawOverTime(
  moments: Moment[],
  width: number,
  height: number,
  depth = height,
): Drawn[] {
  const times = moments.map((one) => Date.parse(one.at))
  const [first, last] = [times[0] ?? 0, times.at(-1) ?? 0]
  const most = (of: 'joined' | 'left') => Math.sqrt(Math.max(1, ...moments.map((one) => one[of])))
  const unit = Math.min(height / most('joined'), depth / most('left'))
  const tall = (n: number) => (n ? Math.max(LEAST, Math.sqrt(n) * unit) : 0)
  const room = Math.max(0, width - BAR)
  const drawn: Drawn[] = []
  for (const [place, one] of moments.entries()) {
    const wanted = last > first ? ((times[place]! - first) / (last - first)) * room : room / 2
    const before = drawn.at(-1)
    const x = before ? Math.max(wanted, before.x + BAR) : wanted
    drawn.push({ ...one, x, up: tall(one.joined), down: tall(one.left) })
  }
  // what was pushed beyond the edge comes back, from the last to the first
  for (let place = drawn.length - 1, edge = room; place >= 0; place--) {
    const one = drawn[place]!
    one.x = Math.max(0, Math.min(one.x, edge))
    edge = one.x - BAR
  }
  return drawn
}
