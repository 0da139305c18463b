import { describe, expect, it } from 'vitest'
import { meant, USUAL, type Chosen } from './keys'
import { changeKey, KEYS } from './keysheet'

describe('a key is changed', () => {
  it('for one that does nothing, and back', () => {
    const changed = changeKey('H', 'J', USUAL) as Chosen
    expect(changed.changed).toEqual({ h: 'j' })
    expect(meant('j', changed)).toBe('h')
    expect(changeKey('H', 'h', changed)).toEqual(USUAL)
  })
  it('never for one that does something else', () => {
    expect(changeKey('H', 'l', USUAL)).toContain('leave the row out')
    const free = changeKey('L', 'k', USUAL) as Chosen
    expect((changeKey('H', 'l', free) as Chosen).changed).toEqual({ l: 'k', h: 'l' })
  })
  it.each(['Enter', 'ArrowUp', ' ', '3'])('never for %s', (pressed) => {
    expect(typeof changeKey('H', pressed, USUAL)).toBe('string')
  })
  it('is one of keys that each stand once', () => {
    const names = KEYS.map(([key, does]) => `${key} ${does}`)
    expect(new Set(names).size).toBe(names.length)
  })
})
