import type { People, PersonBrief } from '@/api/types'
import { count, counted, listed } from './words'

/** By which keys rows are known, each with its rows: only those that know somebody. */
const byKeys = (people: People): string[] =>
  people.keys
    .filter((key) => key.used && key.rows)
    .map((key) => `${count(key.rows)} by ${key.title.toLowerCase()}`)

/** The state of all rows of a file in a sentence: how many are open, and how the rest was settled. */
export function tellingApart(people: People, takes: string): string {
  const { certain = 0, nobody = 0, possible = 0, chosen = 0 } = people.counts
  const settled = [
    ...byKeys(people),
    certain && `${certain} by likeness`,
    nobody && `${nobody} like nobody`,
    chosen && `${chosen} by you`,
  ].filter(Boolean)
  const passed = people.passed_over
    ? ` ${counted(people.passed_over, 'row is', 'rows are')} left out: this file ` +
      `${takes === 'new' ? 'only adds' : 'only changes'} people.`
    : ''
  const open = possible
    ? `${counted(possible, 'row')} could be somebody whom you already have`
    : 'Nobody is left to tell apart'
  return `${open}; settled: ${settled.join(', ') || 'none'}.${passed}`
}

/** The keys that rows are known by, as one phrase. */
export const keysOf = (people: People | null): string =>
  listed((people?.keys ?? []).filter((key) => key.used).map((key) => key.title.toLowerCase()))

/** The candidate that a key has marked, or that it is somebody new; nothing is decided by it. */
export type Marked = number | 'new' | null

export interface PeopleGroup {
  title: string
  people: PersonBrief[]
}

/** The rows to decide, in their groups, then those that were decided. */
export function queueOf(
  possible: PersonBrief[],
  chosen: PersonBrief[],
  certain: PersonBrief[],
): PeopleGroup[] {
  const alone = possible.filter((row) => !row.rivals.length)
  return [
    { title: 'several likely', people: alone.filter((row) => row.candidates > 1) },
    { title: 'one likely', people: alone.filter((row) => row.candidates <= 1) },
    { title: 'two rows, one record', people: possible.filter((row) => row.rivals.length) },
    { title: 'settled by you', people: chosen },
    { title: 'known by likeness', people: certain },
  ].filter((group) => group.people.length)
}
