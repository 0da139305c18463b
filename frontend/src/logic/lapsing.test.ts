import { describe, expect, it } from 'vitest'
import { goesWords } from './lapsing'

describe('goesWords', () => {
  it('says what goes tonight and soon, in the kind’s own words', () => {
    expect(goesWords('files', { tonight: 0, soon: 0 })).toBe('nothing within 30 days')
    expect(goesWords('files', { tonight: 1, soon: 1 })).toBe('1 file tonight')
    expect(goesWords('left', { tonight: 0, soon: 1 })).toBe('1 person within 30 days')
    expect(goesWords('rows', { tonight: 1_200, soon: 4_000 })).toBe(
      '1,200 rows tonight, 4,000 rows within 30 days in all',
    )
  })
})
