import { isSign, type Chosen } from './keys'

/** What keys do, in the order of the work; a single sign can be changed for another. */
export const KEYS: readonly (readonly [string, string])[] = [
  ['/', 'find a person, a line, a code, an intake'],
  ['Ctrl K', 'go to any place, or do any act of the page'],
  ['.', 'next problem'],
  [',', 'previous problem'],
  ['↑ ↓', 'row before, row after'],
  ['Enter', 'accept what is proposed, or open'],
  ['1 … 6', 'remedy of the open problem, for all of its rows'],
  ['← →', 'cell before, cell after'],
  ['Shift ↑↓', 'more rows of the column'],
  ['F2', 'edit the cell, or the chosen ones'],
  ['Ctrl C V', 'copy and paste cells, from and to a spreadsheet'],
  ['Ctrl D', 'fill the chosen cells with the top one'],
  ['R', 'find and replace in the column'],
  ['E', 'edit the row'],
  ['H', 'hold the row'],
  ['L', 'leave the row out'],
  ['W', 'approve the row, with a reason'],
  ['1 … 4', 'on People: it is that record'],
  ['N', 'on People: somebody new; on Numbers: a new number'],
  ['D', 'on People: all fields, or those that differ'],
  ['M', 'where somebody stands twice: one person'],
  ['T', 'where somebody stands twice: two people'],
  ['1 … 9', 'on Numbers: that holder'],
  ['1 2 3', 'on Rejected: ours is right, ours is wrong, not this person'],
  ['X', 'on Changes: keep the roster’s value for the person'],
  ['[', 'previous field that changes'],
  [']', 'next field that changes'],
  ['Z', 'undo'],
  ['Y', 'do again what was undone'],
  ['?', 'this sheet'],
]
const OURS = KEYS.map(([key]) => key.toLowerCase()).filter(isSign)

/**
 * The choice with one of our keys changed for another; the same key again takes the change back.
 * Gives why not, where the other does something already.
 */
export function changeKey(ours: string, pressed: string, chosen: Chosen): Chosen | string {
  const [key, to] = [ours.toLowerCase(), pressed.toLowerCase()]
  if (!isSign(to)) return 'Press a letter, a digit or a sign.'
  if (/\d/.test(to)) return 'Digits stay with what is numbered on the page.'
  const rest = Object.fromEntries(Object.entries(chosen.changed).filter(([one]) => one !== key))
  const taken = OURS.find((one) => one !== key && (rest[one] ?? one) === to)
  if (taken) {
    const does = KEYS.find(([one]) => one.toLowerCase() === taken)?.[1]
    return `${to.toUpperCase()} does already: ${does}. Change that first.`
  }
  return { ...chosen, changed: to === key ? rest : { ...rest, [key]: to } }
}
