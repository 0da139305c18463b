import { describe, expect, it } from 'vitest'
import { barsOf, runsOf } from './cardface'
import type { CardMark } from '@/api/types'

describe('the modules of a code', () => {
  it('are drawn as runs', () => {
    expect(runsOf('1101')).toEqual([
      [0, 2],
      [3, 1],
    ])
    expect(runsOf('000')).toEqual([])
  })

  it('stand row below row', () => {
    const mark = { x: 10, y: 20, height: 2, module: 0.5, rows: ['10', '01'] } as CardMark
    expect(barsOf(mark)).toBe('M10 20h0.5v1h-0.5zM10.5 21h0.5v1h-0.5z')
  })
})
