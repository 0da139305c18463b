import { describe, expect, it } from 'vitest'
import type { Field } from '@/api/types'
import { begin, guess, guessStates } from './begincards'
import { nameOf } from './names'

const field = (name: string, title: string, isKey = false) =>
  ({ name, title, is_key: isKey }) as unknown as Field

describe('beginning a card design', () => {
  it('guesses the fields of people and of the register by their names', () => {
    const people = [
      field('nr', 'Member no', true),
      field('sn', 'Surname'),
      field('fn', 'First name'),
    ]
    const register = [field('card_no', 'Card no.'), field('whose', 'Holder'), field('st', 'State')]
    expect(guess(people, register)).toMatchObject({
      key: 'nr',
      family: 'sn',
      given: 'fn',
      number: 'card_no',
      holder: 'whose',
      state: 'st',
      facility: '',
    })
  })

  it('makes a name of a title in any letters', () => {
    expect(nameOf('Library card 2')).toBe('library-card-2')
    expect(nameOf('7 Höfe')).toBe('hofe')
    expect(nameOf('名刺')).toBe('card')
    expect(nameOf('名簿', ['card', 'card-2'])).toBe('card-3')
    expect(nameOf(`${'a'.repeat(39)} b`)).toBe('a'.repeat(39))
    expect(nameOf('a'.repeat(60), ['a'.repeat(40)])).toBe(`${'a'.repeat(38)}-2`)
  })

  it('takes the states of cards by their words, and says only those that it knows', () => {
    const states = guessStates([
      { code: 'X', label: 'Lost or stolen' },
      { code: 'A', label: 'Active' },
      { code: 'IN', label: 'Inactive' },
    ])
    expect(states).toMatchObject({ in_use: 'A', lost: 'X', spoiled: '', returned: '' })
    const made = begin('C', 'p', 'r', { key: 'k', state: 's' }, states)
    expect(made.register).toEqual({ roster: 'r', state: 's', in_use: ['A'], lost: 'X' })
  })

  it('begins with the name, the photograph and the key as bars', () => {
    const made = begin('Library card', 'members', 'cards', { key: 'nr', number: 'c', holder: 'h' })
    expect(made.faces[0]!.front!.map((item) => item.kind)).toEqual([
      'band',
      'photo',
      'line',
      'symbol',
    ])
    expect(made.faces[0]!.front![2]!.pieces).toEqual([{ field: 'nr' }])
    expect(made.register).toEqual({ roster: 'cards', number: 'c', holder: 'h' })
  })
})
