import type { Value } from '@/api/types'
import { clockTime } from './clock'

const DAY = /^(\d{4})-(\d{2})-(\d{2})$/
const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']

/** Write a number with thousands apart: 12,400. */
export const count = (number: number): string => number.toLocaleString('en-GB')

/** Write a number with its noun: 1 row, 2 rows. */
export const counted = (number: number, one: string, many = `${one}s`): string =>
  `${count(number)} ${number === 1 ? one : many}`

/**
 * Write a stored value for people: days as 14 Mar 2008, yes and no, several values with a dot
 * between.
 */
export function show(value: Value | undefined, type = 'string'): string {
  if (value === null || value === undefined) return ''
  if (type === 'boolean') return value === 'true' ? 'yes' : 'no'
  if (Array.isArray(value)) return value.join(' · ')
  const day = DAY.exec(value)
  if (day) return `${Number(day[3])} ${MONTHS[Number(day[2]) - 1] ?? '?'} ${day[1]}`
  return value
}

/** Write a stored value as one types it: several values with semicolons. */
export const typed = (value: Value | undefined): string =>
  Array.isArray(value) ? value.join('; ') : (value ?? '')

/** Write a moment: the time today, else the day; the year only when it is another one. */
export function moment(at: string, now: Date): string {
  const [when, today] = [clockTime(new Date(at)), clockTime(now)]
  if (when.day === today.day) return when.time
  const year = when.day.slice(0, 4)
  return year === today.day.slice(0, 4) ? show(when.day).replace(` ${year}`, '') : show(when.day)
}

/** Write a moment in full: 24 Nov 2026, 10:02. */
export function momentInFull(at: string): string {
  const when = clockTime(new Date(at))
  return `${show(when.day)}, ${when.time}`
}

/** Join words: a, b and c. */
export function listed(words: string[]): string {
  if (words.length < 2) return words.join('')
  return `${words.slice(0, -1).join(', ')} and ${words.at(-1)}`
}

/** Word a day of the API, 2026-08-21, for a person: 21 Aug 2026. */
export const day = (iso: string): string => show(iso)
