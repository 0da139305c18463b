import { describe, expect, it } from 'vitest'
import { byTitle, isFound, ofCodes, underHeadings } from './choices'

const port = { value: 'ÅLE', label: 'Ålesund', also: 'Aalesund Alesünd' }

describe('what can be chosen', () => {
  it('is found by code, label and other spellings, without capitals and marks', () => {
    for (const typed of ['ale', 'ÅLESUND', 'aalesund', 'alesund åle', ''])
      expect(isFound(typed, port), typed).toBe(true)
    for (const typed of ['ales x', 'bergen']) expect(isFound(typed, port), typed).toBe(false)
  })

  it('is found in any alphabet', () => {
    const city = { value: 'SPB', label: 'Санкт-Петербург' }
    expect(isFound('петербург', city)).toBe(true)
    expect(isFound('한국', { value: 1, label: '한국 해양대학교' })).toBe(true)
  })

  it('stands under its heading, in its order, and alone without one', () => {
    const none = { value: '', label: 'none' }
    const [a, b, c] = ['a', 'b', 'c'].map((value) => ({ value, label: value, group: 'letters' }))
    const one = { value: '1', label: '1', group: 'figures' }
    expect(underHeadings([none, a!, one, b!, c!])).toEqual([
      none,
      { label: 'letters', options: [a, b, c] },
      { label: 'figures', options: [one] },
    ])
  })

  it('is named by title, and by its name where it has none', () => {
    expect(byTitle([{ name: 'born', title: 'Born' }, { name: 'own_7' }])).toEqual([
      { value: 'born', label: 'Born' },
      { value: 'own_7', label: 'own_7' },
    ])
    expect(ofCodes([{ code: 'SKV', label: '' }])[0]!.label).toBe('SKV')
  })
})

describe('codes as choices', () => {
  const codes = [
    { code: 'DECK', label: 'Deck', aliases: ['deck dept'], parent: null },
    { code: 'NAV', label: 'Navigation', parent: 'DECK' },
    { code: 'OLD', label: 'Ropes', parent: 'DECK', last_day: '2026-06-30' },
    { code: 'NEW', label: 'Sonar', parent: 'GONE', first_day: '2026-09-01' },
  ]
  it('stand under their parents', () =>
    expect(ofCodes(codes).map((one) => [one.value, one.group])).toEqual([
      ['DECK', undefined],
      ['NAV', 'under DECK Deck'],
      ['OLD', 'under DECK Deck'],
      ['NEW', 'under GONE'],
    ]))
  it.each([
    ['2026-06-30', ['DECK', 'NAV', 'OLD'], ['NEW']],
    ['2026-07-01', ['DECK', 'NAV'], ['OLD', 'NEW']],
    ['2026-09-01', ['DECK', 'NAV', 'NEW'], ['OLD']],
  ])('on %s those that are not in use stand last', (day, used, not) => {
    const found = ofCodes(codes, day)
    const isLast = (one: { group?: string }) => one.group === 'not in use today'
    expect(found.filter((one) => !isLast(one)).map((one) => one.value)).toEqual(used)
    expect(found.filter(isLast).map((one) => one.value)).toEqual(not)
  })
})
