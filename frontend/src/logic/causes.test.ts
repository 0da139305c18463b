import { describe, expect, it } from 'vitest'
import type { Cause } from '@/api/types'
import { afterGone, followersOf, inOrder, isOpen, keepOrder, needsApproval } from './causes'

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

describe('causes that change while they are looked at', () => {
  const ids = (all: readonly Cause[]) => all.map((one) => one.id).join('')
  const all = (names: string) => [...names].map((id) => cause(id))

  it.each([
    ['abc', 'cab', 'abc'], // sorted anew by their sizes
    ['abc', 'ca', 'ac'],
    ['abc', 'xcabz', 'xabzc'],
    ['', 'ba', 'ba'],
    ['ab', '', ''],
  ])('%s that come as %s stand as %s', (stood, come, kept) => {
    expect(ids(keepOrder(all(stood), all(come)))).toBe(kept)
  })
  it('are the newest of themselves', () => {
    expect(keepOrder([cause('a', { rows: 9 })], [cause('a', { rows: 2 })])[0]?.rows).toBe(2)
  })
  it.each([
    ['b', 'abcd', 'acd', 'c'],
    ['d', 'abcd', 'abc', 'c'],
    ['b', 'abcd', 'd', 'd'],
    ['a', 'a', '', undefined],
    ['z', 'abc', 'abc', undefined],
  ])('%s of %s is gone, of which %s stand: %s is next', (gone, stood, open, next) => {
    expect(afterGone(gone, all(stood), all(open))?.id).toBe(next)
  })
  it('are never followed by a note', () => {
    const open = [cause('b', { weight: 'note' }), cause('c')]
    expect(afterGone('a', all('abc'), open)?.id).toBe('c')
  })
})

describe('what needs an approval', () => {
  it.each([
    [9, 0, 1, '9 rows need your approval'],
    [1, 0, 1, '1 row needs your approval'],
    [6, 5, 7, '6 rows and 5 matters beyond the rows need your approval'],
    [0, 5, 5, '5 matters of the whole file need your approval'],
    [0, 1, 1, '1 matter of the whole file needs your approval'],
    [0, 0, 2, '2 causes need your approval'],
  ])('%i rows, %i matters', (rows, wholes, causes, said) =>
    expect(needsApproval(rows, wholes, causes)).toBe(said),
  )
})
