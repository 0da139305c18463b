import { describe, expect, it } from 'vitest'
import type { Cause } from '@/api/types'
import { followersOf, inOrder, isOpen } from './causes'

const cause = (id: string, more: Partial<Cause> = {}): Cause =>
  ({
    id,
    rows: 1,
    settled: 0,
    whole: false,
    follows: [],
    weight: 'stop',
    near: 0,
    ...more,
  }) as Cause

describe('causes in order', () => {
  it('has what is about a group or the whole file', () => {
    const guard = cause('guard', { rows: 0, whole: true, weight: 'ask' })
    expect(inOrder([cause('a'), guard]).map((one) => one.id)).toEqual(['a', 'guard'])
    expect(isOpen({ ...guard, settled: 1 })).toBe(false)
  })

  it('folds what follows, but a group can be opened under its cause', () => {
    const rows = cause('rows', { follows: ['a'] })
    const group = cause('group', { rows: 0, whole: true, follows: ['a'] })
    const all = [cause('a'), rows, group, cause('b')]
    expect(followersOf('a', all).map((one) => one.id)).toEqual(['rows', 'group'])
    expect(inOrder(all).map((one) => one.id)).toEqual(['a', 'group', 'b'])
    expect(inOrder([{ ...all[0]!, rows: 0, settled: 1 }, group]).map((one) => one.id)).toEqual([
      'group',
    ])
  })
})
