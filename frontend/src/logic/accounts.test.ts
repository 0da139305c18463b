import { describe, expect, it } from 'vitest'
import { levelIn, mayOf, signInFor, standing } from './accounts'
import type { Account } from '@/api/types'

const one: Account = {
  id: 1,
  sign_in: 'tamm',
  name: 'R. Tamm',
  level: 1,
  rosters: { cadets: 2, staff: 1 },
  last_day: null,
  is_closed: false,
  is_over: false,
  has_password: true,
  link_until: null,
  since: '2026-01-01T00:00:00Z',
  password_at: null,
  seen_at: null,
  sessions: 0,
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
