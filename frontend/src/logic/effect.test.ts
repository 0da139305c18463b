import { describe, expect, it } from 'vitest'
import type { Tally } from '@/api/types'
import { effect } from './effect'

const tally: Tally = {
  read: 348,
  new: 302,
  changed: 6,
  same: 3,
  waiting: 9,
  stopped: 28,
  held: 0,
  left_out: 0,
  absent: 0,
}

describe('what a remedy does', () => {
  it('names what moves, what is freed first', () => {
    expect(effect(tally, { ...tally, stopped: 11, new: 319 })).toBe(
      '28 → 11 stopped, 302 → 319 new',
    )
  })
  it('says so when nothing moves', () => {
    expect(effect(tally, tally)).toBe('no row moves')
  })
  it('counts the absent', () => {
    expect(effect(tally, { ...tally, absent: 1200 })).toBe('0 → 1,200 absent')
  })
})
