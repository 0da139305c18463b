import { describe, expect, it } from 'vitest'
import { mayBeHeld, meant, pressedFor, USUAL, type Chosen } from './keys'

const CHANGED: Chosen = { single: true, changed: { h: 'j', n: 'h' } }
const OFF: Chosen = { single: false, changed: { h: 'j' } }

describe('a key that is pressed', () => {
  it.each([
    ['h', USUAL, 'h'],
    ['H', USUAL, 'H'],
    ['j', CHANGED, 'h'],
    ['J', CHANGED, 'h'],
    ['h', CHANGED, 'n'],
    ['n', CHANGED, undefined],
    ['x', CHANGED, 'x'],
    ['h', OFF, undefined],
    ['1', OFF, undefined],
    ['ArrowDown', OFF, 'ArrowDown'],
    ['Enter', OFF, 'Enter'],
    [' ', OFF, ' '],
  ] as const)('%s means what was chosen', (pressed, chosen, ours) => {
    expect(meant(pressed, chosen)).toBe(ours)
  })
  it('is shown where it works, as it is pressed, and nowhere else', () => {
    expect(pressedFor('H', USUAL)).toBe('H')
    expect(pressedFor('h', CHANGED)).toBe('J')
    expect(pressedFor('H', OFF)).toBe('')
    expect(pressedFor('Enter', OFF)).toBe('Enter')
  })
  it('acts once when it is held, unless it moves', () => {
    expect(['ArrowUp', 'PageDown', '.', ',', '[', ']'].every(mayBeHeld)).toBe(true)
    expect(['Enter', ' ', 'h', '1', 'z', 'F2', 'Escape'].some(mayBeHeld)).toBe(false)
  })
})
