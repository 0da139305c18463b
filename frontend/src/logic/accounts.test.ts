import { describe, expect, it } from 'vitest'
import { levelIn, mayNow, mayOf, signInFor, standing } from './accounts'
import type { Account } from '@/api/types'

const one: Account = {
  id: 1,
  sign_in: 'tamm',
  name: 'R. Tamm',
  level: 1,
  rosters: { cadets: 2, staff: 1 },
  parts: {},
  last_day: null,
  is_closed: false,
  is_over: false,
  has_password: true,
  link_until: null,
  since: '2026-01-01T00:00:00Z',
  password_at: null,
  seen_at: null,
  sessions: 0,
  second_step: false,
  may_uncover: false,
  is_you: false,
}

describe('accounts', () => {
  it('counts the higher level in a roster', () => {
    expect(levelIn(one, 'cadets')).toBe(2)
    expect(levelIn(one, 'fellows')).toBe(1)
  })
  it('writes only what says more than everywhere', () => {
    expect(mayOf(one).rosters).toEqual({ cadets: 2 })
    expect(mayOf({ ...one, level: 4 }).rosters).toEqual({})
  })
  it('writes a part only where the level is for a part', () => {
    const hill = { field: 'campus', is: 'CH' }
    const part = { ...one, level: 0, rosters: { cadets: 2, staff: 4 } }
    expect(mayOf({ ...part, parts: { cadets: hill, staff: hill } }).parts).toEqual({ cadets: hill })
    expect(mayOf({ ...part, level: 1, parts: { cadets: hill } }).parts).toEqual({})
    expect(mayNow({ ...part, parts: { cadets: { when: hill, words: '' } } }).parts).toEqual({
      cadets: hill,
    })
  })
  it('says why somebody cannot sign in', () => {
    expect(standing(one)).toBe('')
    expect(standing({ ...one, has_password: false })).toBe('invitation ran out')
    expect(standing({ ...one, has_password: false, link_until: '2026-02-01T00:00:00Z' })).toBe(
      'invited',
    )
    expect(standing({ ...one, is_over: true, is_closed: true })).toBe('closed')
  })
  it('proposes a sign-in name', () => {
    expect(signInFor('Zoë  Ångström-Lee')).toBe('angstrom-lee')
    expect(signInFor('')).toBe('')
    expect(signInFor('Мария Зимина')).toBe('зимина')
  })
})
