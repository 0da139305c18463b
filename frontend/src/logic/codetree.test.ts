import { describe, expect, it } from 'vitest'
import { asTree, daysInYear } from './codetree'

const code = (code: string, parent = '') => ({ code, parent })

describe('asTree', () => {
  it('puts codes under their parents, and says a parent of another list above its codes', () => {
    const codes = [
      code('DECK', 'NAV'),
      code('A'),
      code('A1', 'A'),
      code('ENGR', 'MEN'),
      code('A11', 'A1'),
      code('RADIO', 'NAV'),
    ]
    expect(
      asTree(codes).map(({ index, depth, under }) => [codes[index]!.code, depth, under]),
    ).toEqual([
      ['A', 0, ''],
      ['A1', 1, ''],
      ['A11', 2, ''],
      ['DECK', 1, 'NAV'],
      ['RADIO', 1, ''],
      ['ENGR', 1, 'MEN'],
    ])
  })
  it('loses no code, not even in a circle or twice', () => {
    expect(
      asTree([code('A', 'B'), code('B', 'A'), code('C', 'C'), code(''), code('')])
        .map((one) => one.index)
        .sort(),
    ).toEqual([0, 1, 2, 3, 4])
  })
})

describe('daysInYear', () => {
  it('gives the part of the year in which a code may be used, both days included', () => {
    expect(daysInYear(null, null, 2026)).toEqual({ from: 0, to: 1 })
    expect(daysInYear('2026-01-01', '2026-01-01', 2026).to).toBeCloseTo(1 / 365)
    expect(daysInYear('2027-01-01', null, 2026)).toEqual({ from: 1, to: 1 })
    expect(daysInYear(null, '2025-12-31', 2026)).toEqual({ from: 0, to: 0 })
  })
})
