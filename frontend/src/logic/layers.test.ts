import { describe, expect, it } from 'vitest'
import { addsUp, layOut, OUTCOMES, smallLayers } from './layers'

const tally = (part: Partial<Record<string, number>>) => ({
  read: 0,
  new: 0,
  changed: 0,
  same: 0,
  waiting: 0,
  stopped: 0,
  held: 0,
  left_out: 0,
  absent: 0,
  ...part,
})

const layers = (of: ReturnType<typeof tally>, height: number) =>
  layOut(
    OUTCOMES.map((outcome) => ({ outcome, count: of[outcome] })),
    height,
  )

describe('the layers', () => {
  it('keeps one row in a thousand visible and fills its height', () => {
    const drawn = layers(tally({ read: 1000, new: 999, stopped: 1 }), 500)
    expect(drawn.map((one) => one.outcome)).toEqual(['new', 'stopped'])
    expect(drawn[1]!.height).toBe(38)
    expect(drawn[0]!.height).toBe(500 - 4 - 38)
  })

  it('draws no layer that is zero', () =>
    expect(layers(tally({ read: 3, same: 3 }), 300)).toHaveLength(1))

  it('gives every layer its least thickness when room is short', () => {
    const drawn = layers(
      tally({ read: 7, new: 1, changed: 1, same: 1, waiting: 1, stopped: 1, held: 1, left_out: 1 }),
      100,
    )
    expect(drawn.every((one) => one.height === 38)).toBe(true)
  })

  it('grows with the count', () => {
    const [first, second] = layers(tally({ read: 500, new: 400, same: 100 }), 600)
    expect(first!.height / second!.height).toBeCloseTo(2, 1)
  })

  it('draws nothing of an empty file', () => expect(layers(tally({}), 400)).toEqual([]))

  it('makes small layers as high as its rows against the largest', () => {
    const [only] = smallLayers(tally({ read: 100, same: 100 }), 400, 80)
    expect(only!.height).toBe(40)
  })

  it('adds up only when it does', () => {
    expect(addsUp(tally({ read: 3, new: 2, held: 1 }))).toBe(true)
    expect(addsUp(tally({ read: 3, new: 2 }))).toBe(false)
  })
})
