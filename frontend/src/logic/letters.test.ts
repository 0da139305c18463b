import { describe, expect, it } from 'vitest'
import type { Roster } from '@/api/types'
import { drawn, firstLetter, reminderOf, sayCounts } from './letters'

const field = (name: string, more = {}) => ({
  name,
  means: '',
  is_key: false,
  is_kept: false,
  ...more,
})
const roster = (...fields: unknown[]) => ({ fields }) as Roster

describe('letters', () => {
  it('begins with the names that a roster has, and none that are kept', () => {
    const names = [
      field('no', { is_key: true }),
      field('last', { means: 'family-name' }),
      field('first', { means: 'given-name' }),
    ]
    expect(firstLetter(roster(...names), true, '')).toMatchObject({ address: '{first} {last}' })
    expect(firstLetter(roster(...names), true, '').text).toContain('Dear {first},')
    const kept = [names[0], { ...names[1], is_kept: true }, { ...names[2], is_kept: true }]
    expect(firstLetter(roster(...kept), true, '')).toMatchObject({ address: '{no}' })
  })

  it('says what is asked: to look, to set a password, or both', () => {
    const who = roster(field('no', { is_key: true }))
    const [look, set, both] = [
      firstLetter(who, true, ''),
      firstLetter(who, false, 'Library'),
      firstLetter(who, true, 'Library'),
    ].map((one) => one.text)
    expect([look, set, both].map((text) => /look at what we have/.test(text!))).toEqual([
      true,
      false,
      true,
    ])
    expect([look, set, both].map((text) => /password at Library/.test(text!))).toEqual([
      false,
      true,
      true,
    ])
    expect(firstLetter(who, false, 'Library').subject).toBe('Your password at Library')
  })

  it('reminds with the same words, and with nothing else of the letter', () => {
    const letter = { subject: 'Right?', text: 'Dear {x}', address: '{x}', people: [], total: 3 }
    const words = { subject: 'Reminder: Right?', text: 'Dear {x}', address: '{x}' }
    expect(reminderOf(letter)).toEqual(words)
    expect(reminderOf(words)).toEqual(words)
  })

  it('counts where people stand, what wants somebody first', () => {
    expect(sayCounts({ silent: 1200, corrected: 2, failed: 0 })).toBe(
      '2 sent corrections · 1,200 have not answered',
    )
    expect(drawn({})).toEqual([])
  })
})
