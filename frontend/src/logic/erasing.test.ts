import { describe, expect, it } from 'vitest'
import { erasedWords, remainsWords } from './erasing'

describe('what was erased', () => {
  it('counts what people know', () => {
    expect(erasedWords({ versions: 3, rows: 1, person_said: 2, keys: 2 })).toBe(
      '3 versions of the record, 1 row of a file',
    )
    expect(erasedWords({ keys: 1 })).toBe('the record')
  })
  it('says what remains', () => {
    expect(remainsWords({}, true)).toEqual(['Nothing.'])
    expect(remainsWords({}, false)[0]).toContain('at the next start')
    expect(remainsWords({ 'copies before': 2, trail: 1 }, true)).toEqual([
      '2 copies made before hold them until these are deleted by their time.',
      '1 line of the trail, which is sealed.',
    ])
  })
})
