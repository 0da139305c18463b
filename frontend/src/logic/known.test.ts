import { describe, expect, it } from 'vitest'
import type { KeyChoice } from '@/api/types'
import { howOf, raise, stepsFor } from './known'

const key = (title: string, used = false): KeyChoice => ({
  fields: [title.toLowerCase()],
  title,
  used,
  in_file: true,
  rows: 0,
})
const CARD = key('Karta', true)
const MAIL = key('E-mail')
const NAMES = { ...key('Names'), fields: ['family', 'given'] }

describe('what people are known by', () => {
  it.each([
    [[CARD, MAIL], true, 'own'],
    [[CARD, MAIL], false, 'these'],
    [[key('Karta'), MAIL], false, 'likeness'],
    [[], true, 'own'],
  ] as const)('stands as it was said: %j', (keys, own, how) =>
    expect(howOf([...keys], own)).toBe(how),
  )

  it('moves a key up, and nothing over the edge', () => {
    expect(raise([CARD, MAIL, NAMES], 2)).toEqual([CARD, NAMES, MAIL])
    expect(raise([CARD, MAIL], 0)).toEqual([CARD, MAIL])
    expect(raise([CARD, MAIL], 5)).toEqual([CARD, MAIL])
  })

  it('makes no step of what stands already', () => {
    expect(stepsFor({ keys: [CARD, MAIL], own: true, takes: 'both' }, 'own', [], 'both')).toEqual(
      [],
    )
    expect(
      stepsFor({ keys: [CARD, MAIL], own: false, takes: 'new' }, 'these', [CARD], 'new'),
    ).toEqual([])
  })

  it('says keys in their order, none for likeness alone, null for the roster as it is', () => {
    const before = { keys: [CARD, MAIL], own: true, takes: 'both' as const }
    expect(stepsFor(before, 'these', [NAMES, CARD], 'both')).toEqual([
      { kind: 'known_by', keys: [['family', 'given'], ['karta']] },
    ])
    expect(stepsFor(before, 'likeness', [CARD], 'both')).toEqual([{ kind: 'known_by', keys: [] }])
    expect(stepsFor({ ...before, own: false }, 'own', [], 'both')).toEqual([
      { kind: 'known_by', keys: null },
    ])
  })

  it('says whom the file is for apart from the keys', () => {
    const before = { keys: [CARD], own: true, takes: 'both' as const }
    expect(stepsFor(before, 'own', [], 'known')).toEqual([{ kind: 'takes', of: 'known' }])
    expect(stepsFor(before, 'likeness', [], 'new')).toHaveLength(2)
  })
})
