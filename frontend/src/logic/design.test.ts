import { describe, expect, it } from 'vitest'
import {
  canMake,
  copiedFace,
  freeName,
  lettersOf,
  moved,
  nameItem,
  needOne,
  newItem,
  readDesign,
  sayItem,
  sayPiece,
  withItems,
  type DesignDocument,
  type FaceDocument,
  type Item,
} from './design'

const face = (front: Item[], back: Item[] = []): FaceDocument => ({
  name: 'all',
  roster: 'people',
  holder: 'number',
  front,
  back,
})
const line = (name: string): Item => ({ kind: 'line', name, pieces: [] })

describe('items of a design', () => {
  it('have a name that neither side has yet', () => {
    expect(freeName(face([line('line-1')], [line('line-2')]), 'line')).toBe('line-3')
    expect(newItem(face([]), 'symbol')).toMatchObject({ kind: 'symbol', name: 'symbol-1' })
  })

  it('are called by their kind and place, as the server calls them', () => {
    const items: Item[] = [{ kind: 'band', name: 'b' }, line('one'), line('two')]
    expect(items.map((item) => nameItem(items, item))).toEqual(['band', 'line 1', 'line 2'])
  })

  it('are carried from place to place, and no further than the ends', () => {
    expect(moved(['a', 'b', 'c'], 0, 2)).toEqual(['b', 'c', 'a'])
    expect(moved(['a', 'b', 'c'], 2, -5)).toEqual(['c', 'a', 'b'])
    expect(moved(['a', 'b', 'c'], 0, 9)).toEqual(['b', 'c', 'a'])
  })

  it('are put without altering what was there, so that undo has it', () => {
    const before: DesignDocument = { name: 'n', title: 'N', faces: [face([])], register: {} }
    const after = withItems(before, 'all', 'back', [line('x')])
    expect(before.faces[0]!.back).toEqual([])
    expect(after.faces[0]!.back).toEqual([line('x')])
    expect(withItems(before, 'nobody', 'back', [line('x')])).toEqual(before)
  })

  it('have a face more, before that of which it is a copy', () => {
    const before: DesignDocument = { name: 'n', title: 'N', faces: [face([])], register: {} }
    const twice = copiedFace(copiedFace(before, 'all'), 'all')
    expect(twice.faces.map((one) => one.name)).toEqual(['all-2', 'all-3', 'all'])
    expect(copiedFace(before, 'none')).toBe(before)
  })

  it('say their pieces and sizes', () => {
    const title = (name: string) => ({ given: 'Given names' })[name] ?? name
    expect(sayPiece({ text: 'until' }, title)).toBe('“until”')
    expect(sayPiece({ field: 'given', word: -1, letters: 1 }, title)).toBe(
      'Given names, last word 1–1',
    )
    expect(sayPiece({ card: 'number' }, title)).toBe('Card number')
    expect(sayItem({ ...line('x'), letters: { size: 18, least: 11 } })).toBe('18 pt, to 11')
    expect(sayItem({ kind: 'photo', name: 'p', width: 30, height: 38 })).toBe('30 × 38 mm, left')
  })

  it('take over what is not said of their letters', () => {
    expect(lettersOf({ kind: 'band', name: 'b' })).toMatchObject({ size: 11, colour: 'white' })
    expect(lettersOf({ ...line('x'), letters: { bold: true } })).toMatchObject({
      size: 9,
      bold: true,
    })
  })
})

describe('who needs a card', () => {
  it('counts those who cannot have one yet, and not those who have one', () => {
    const counts = { has: 971, make: 29, anew: 8, photo: 3, unfit: 1, 'take in': 12 }
    expect(needOne(counts)).toBe(41)
    expect(canMake(counts)).toBe(37)
    expect(needOne({})).toBe(0)
  })
})

describe('a design from a file', () => {
  it('is what the JSON says', () => {
    const text = JSON.stringify({ name: 'a', faces: [face([])] })
    expect(readDesign(text).faces).toHaveLength(1)
  })
  it.each(['', '{', '[]', 'null', '{"faces": 3}', '{"faces": []}'])('is refused: %s', (text) => {
    expect(() => readDesign(text)).toThrow(/no JSON|no card design/)
  })
})
