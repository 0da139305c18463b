import { describe, expect, it } from 'vitest'
import type { ChangeSet } from '@/api/types'
import { drawOverTime, overTime } from './overtime'

const set = (id: number, at: string, found: Record<string, number>, more: object = {}) =>
  ({
    id,
    at,
    kind: 'intake',
    title: `File ${id}`,
    found,
    undone: {},
    undone_by: null,
    ...more,
  }) as unknown as ChangeSet

describe('a roster over time', () => {
  const sets = [
    set(4, '2026-03-01T10:00:00Z', {}, { kind: 'undo', undone: { left: 12, returned: 3 } }),
    set(3, '2026-02-01T10:00:00Z', { joined: 12, left: 3, changed: 7 }, { undone_by: 4 }),
    set(2, '2025-10-01T10:00:00Z', { changed: 40 }),
    set(1, '2025-09-01T10:00:00Z', { joined: 1000 }),
  ]

  it('ends in what it has, and begins with what the first file brought', () => {
    const moments = overTime(sets, 1000)
    expect(moments.map((one) => one.size)).toEqual([1000, 1000, 1009, 1000])
    expect(moments.map((one) => [one.joined, one.left])).toEqual([
      [1000, 0],
      [0, 0],
      [12, 3],
      [3, 12],
    ])
    expect(moments.map((one) => one.undone)).toEqual([false, false, true, false])
  })

  it('is drawn by when it was, within its width, and nobody is too small to be seen', () => {
    const drawn = drawOverTime(overTime(sets, 1000), 600, 100)
    expect(drawn[0]!.x).toBe(0)
    expect(drawn.at(-1)!.x).toBe(576)
    const [, october, february] = drawn
    expect(october!.x).toBeCloseTo((30 / 181) * 576, 0)
    expect(february!.up).toBeCloseTo(Math.sqrt(12 / 1000) * 100, 5)
    expect(
      drawOverTime(
        overTime(
          [set(1, '2026-01-01', { joined: 1_000_000 }), set(0, '2025-01-01', { left: 1 })],
          9,
        ),
        300,
        80,
      )[0]!.down,
    ).toBe(3)
  })

  it('has room for everybody who left at once', () => {
    const sets = [set(2, '2026-02-01', { left: 414 }), set(1, '2026-01-01', { joined: 36 })]
    const drawn = drawOverTime(overTime(sets, 900), 300, 80, 56)
    expect(drawn[1]!.down).toBeCloseTo(56, 5)
    expect(drawn[0]!.up).toBeCloseTo((Math.sqrt(36) / Math.sqrt(414)) * 56, 5)
  })

  it.each([1, 2, 40])('never lets bars touch (%i on one day)', (number) => {
    const many = Array.from({ length: number }, (_, id) => set(id, '2026-02-01', { joined: 5 }))
    const drawn = drawOverTime(overTime(many, 200), 1000, 100)
    for (const [place, one] of drawn.entries()) {
      expect(one.x).toBeGreaterThanOrEqual(0)
      expect(one.x).toBeLessThanOrEqual(976)
      if (place) expect(one.x - drawn[place - 1]!.x).toBeGreaterThanOrEqual(24)
    }
  })

  it('is nothing where nothing happened', () => expect(drawOverTime([], 600, 100)).toEqual([]))
})
