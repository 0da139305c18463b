import type { Value } from '@/api/types'

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

const pad = (part: number): string => String(part).padStart(2, '0')

/** Write a moment: the time today, else the day; the year only when it is another one. */
export function moment(at: string, now: Date): string {
  const when = new Date(at)
  if (when.toDateString() === now.toDateString())
    return `${pad(when.getHours())}:${pad(when.getMinutes())}`
  const day = `${when.getDate()} ${MONTHS[when.getMonth()]}`
  return when.getFullYear() === now.getFullYear() ? day : `${day} ${when.getFullYear()}`
}

/** Write a moment in full: 24 Nov 2026, 10:02. */
export function momentInFull(at: string): string {
  const when = new Date(at)
  return (
    `${when.getDate()} ${MONTHS[when.getMonth()]} ${when.getFullYear()}, ` +
    `${pad(when.getHours())}:${pad(when.getMinutes())}`
  )
}

/** Join words: a, b and c. */
export function listed(words: string[]): string {
  if (words.length < 2) return words.join('')
  return `${words.slice(0, -1).join(', ')} and ${words.at(-1)}`
}

/** Write a day as ISO 8601. */
export function dayOf(at: Date): string {
  return `${at.getFullYear()}-${pad(at.getMonth() + 1)}-${pad(at.getDate())}`
}

/** Today by the clock here, as ISO 8601. */
export const today = (): string => dayOf(new Date())

/** Word a day of the API, 2026-08-21, for a person: 21 Aug 2026. */
export const day = (iso: string): string => show(iso)
