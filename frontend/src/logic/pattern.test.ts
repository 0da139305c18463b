import { describe, expect, it } from 'vitest'
import { addPiece, blankPattern, isComplete, sayPattern, sourceOf, takeFrom } from './pattern'

describe('a pattern', () => {
  it('is complete when each piece is of something', () => {
    const one = addPiece(addPiece(blankPattern(), { field: 'given', letters: 1 }), { text: '.' })
    expect(isComplete(blankPattern())).toBe(false)
    expect(isComplete(one)).toBe(true)
    expect(isComplete(addPiece(one, {}))).toBe(false)
  })
  it('takes a piece from a field or a column', () => {
    expect(takeFrom('column Dept.')).toEqual({ heading: 'Dept.', field: '' })
    expect(sourceOf({ ...takeFrom('given'), text: '', letters: 0, word: 0 } as never)).toBe('given')
  })
  it('is said in words', () => {
    const one = addPiece(addPiece(blankPattern(), { field: 'given', letters: 1, word: -1 }), {
      text: '.',
    })
    expect(sayPattern(one, (field) => field.toUpperCase())).toBe('GIVEN, last word 1–1 + “.”')
  })
})
