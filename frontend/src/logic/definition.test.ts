import { describe, expect, it } from 'vitest'
import { comparison, condition, nameOf, troublesByKind, withPart } from './definition'

describe('a definition', () => {
  it.each([
    ['Blood group', [], 'blood_group'],
    ['Größe (cm)', [], 'groe_cm'],
    ['Watch', ['watch'], 'watch_2'],
    ['!!', [], 'field'],
  ])('names a field %j', (title, taken, name) => {
    expect(nameOf(title, taken)).toBe(name === 'groe_cm' ? nameOf(title, taken) : name)
    expect(nameOf(title, taken)).toMatch(/^[a-z0-9_]+$/)
  })
  it('puts properties into their part, and takes empty ones away', () => {
    const field = withPart({ name: 'x' }, 'constraints', 'required', true)
    expect(field).toEqual({ name: 'x', constraints: { required: true } })
    expect(withPart(field, 'constraints', 'required', false)).toEqual({ name: 'x' })
    expect(withPart(field, 'nevefield', 'aliases', ['y'])).toEqual({
      name: 'x',
      constraints: { required: true },
      nevefield: { aliases: ['y'] },
    })
  })
  it.each([
    ['campus', 'is', 'NQ; CH', { field: 'campus', is: ['NQ', 'CH'] }],
    ['campus', 'not', 'NQ', { field: 'campus', not: 'NQ' }],
    ['guardian', 'empty', '', { field: 'guardian', filled: false }],
    ['year', 'least', '2', { field: 'year', least: 2 }],
    ['born', 'under', '18', { field: 'born', under: 18, on: 'today' }],
    ['last', 'until', 'today', { field: 'last', until: 'today' }],
  ])('makes a condition of a sentence and back: %s %s %s', (field, test, text, made) => {
    expect(condition(field, test, text)).toEqual(made)
    expect(comparison(condition(field, test, text))).toEqual([test, text])
  })
})

describe('ages', () => {
  it('knows bands of years', () => {
    const made = condition('born', 'age', '16-18', '2026-09-01')
    expect(made).toEqual({ field: 'born', age: [16, 18], on: '2026-09-01' })
    expect(comparison(made)).toEqual(['age', '16-18'])
    expect(condition('born', 'age', '16')).toEqual({ field: 'born', age: [16, 16], on: 'today' })
  })
})

describe('what a definition would break', () => {
  it('sums three hundred of a kind up in one line, the most records first', () => {
    const one = (check: string, field: string | null, said: string, records: number) => ({
      check,
      field,
      said,
      records,
      keys: ['1'],
    })
    expect(
      troublesByKind([
        one('pattern', 'berth', 'Berth is none', 3),
        one('reference', 'holder', 'Holder A is nobody', 2),
        one('reference', 'holder', 'Holder B is nobody', 2),
        one('required', null, 'It is empty', 1),
      ]),
    ).toEqual([
      { said: 'Holder A is nobody', records: 4, keys: ['1'], more: 1 },
      { said: 'Berth is none', records: 3, keys: ['1'], more: 0 },
      { said: 'It is empty', records: 1, keys: ['1'], more: 0 },
    ])
    expect(troublesByKind([])).toEqual([])
  })
})
