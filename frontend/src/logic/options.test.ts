import { describe, expect, it } from 'vitest'
import { readOption, showOption } from './options'

describe('options of checks', () => {
  it.each([
    ['values', 'NQ; CH', ['NQ', 'CH']],
    ['fields', 'watch;year', ['watch', 'year']],
    ['number', '0.25', 0.25],
    [
      'bands',
      '16-17; 18 – 99',
      [
        [16, 17],
        [18, 99],
      ],
    ],
    ['rosters', 'staff.mail; fellows.mail', { staff: 'mail', fellows: 'mail' }],
    ['day', 'today', 'today'],
    ['code-list', 'reasons', 'reasons'],
  ] as const)('reads %s there and back', (kind, said, value) => {
    expect(readOption(kind, said)).toEqual(value)
    expect(readOption(kind, showOption(kind, value))).toEqual(value)
  })

  it('shows what somebody wrote into the document by hand', () => {
    expect(showOption('bands', 'young')).toBe('young')
    expect(showOption('number', undefined)).toBe('')
  })

  it('keeps what it cannot read', () => {
    expect(readOption('bands', 'young; old')).toBe('young; old')
    expect(readOption('number', 'many')).toBe('many')
    expect(readOption('values', '')).toBeUndefined()
  })
})
