import { describe, expect, it } from 'vitest'
import { count, counted, day, listed, moment, show, typed } from './words'

describe('words', () => {
  it('counts with the right noun', () => {
    expect(counted(1, 'row')).toBe('1 row')
    expect(counted(0, 'row')).toBe('0 rows')
    expect(counted(2, 'person', 'people')).toBe('2 people')
    expect(count(12400)).toBe('12,400')
  })

  it.each([
    ['2008-03-14', '14 Mar 2008'],
    ['2008-03', '2008-03'],
    [['KEEL', 'LANTERN'], 'KEEL · LANTERN'],
    [null, ''],
    ['<b>', '<b>'],
  ])('shows %j as %j', (value, shown) => expect(show(value)).toBe(shown))

  it('words every day in one form', () => expect(day('2025-09-01')).toBe('1 Sep 2025'))

  it('gives several values as they are typed', () => expect(typed(['A', 'B'])).toBe('A; B'))

  it('shortens a moment by how long ago it was', () => {
    const now = new Date('2026-09-01T10:00:00')
    expect(moment('2026-09-01T09:05:00', now)).toBe('09:05')
    expect(moment('2026-08-31T09:05:00', now)).toBe('31 Aug')
    expect(moment('2025-12-31T09:05:00', now)).toBe('31 Dec 2025')
  })

  it('joins words', () => {
    expect(listed([])).toBe('')
    expect(listed(['a'])).toBe('a')
    expect(listed(['a', 'b', 'c'])).toBe('a, b and c')
  })
})
