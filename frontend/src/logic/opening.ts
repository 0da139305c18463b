import type { Choice } from './choices'
import { count, counted } from './words'
import type { Opening, OpeningColumn } from '@/api/types'

/** What was said of one column of a file that may become a roster; what is left out is as proposed. */
export interface ColumnChoice {
  leave?: boolean
  title?: string
  kind?: string
  required?: boolean
  check?: boolean
  several?: string
  parent?: string
  sensitive?: boolean
  /** What a text stands for: another, '' for no code, itself for a code of its own. */
  ways?: Record<string, string>
}

/** All that was said of a proposal. */
export interface Choices {
  title?: string
  name?: string
  key?: string
  columns?: Record<string, ColumnChoice>
  unchecked?: [string, string][]
  people?: string[]
}

export const LEFT = 'left'
const LIKE = 0.7
const KINDS: Record<string, string> = {
  text: 'text',
  identifier: 'identifier',
  code: 'code of a list',
  date: 'day',
  datetime: 'day with a time',
  year: 'year',
  integer: 'whole number',
  number: 'number',
  boolean: 'yes or no',
  mail: 'mail address',
  phone: 'phone number',
}

/** The kinds of value that a column can be taken for, and that it is not taken at all. */
export const KIND_CHOICES: Choice[] = [
  ...Object.entries(KINDS).map(([value, label]) => ({ value, label })),
  { value: LEFT, label: 'not taken' },
]

/** How a column's kind is said: with how many codes, or what is between several. */
export function kindWords(column: OpeningColumn): string {
  if (column.kind === 'code') {
    if (column.several === '\n') return 'codes, one in a line'
    if (column.several) return `codes, several, by “${column.several}”`
    return `code, of a list of ${count(column.codes.length)}`
  }
  return KINDS[column.kind] ?? ''
}

/** Say something more of a column, or take back what was said of it. */
export function sayOf(choices: Choices, heading: string, said: ColumnChoice): Choices {
  const had = choices.columns?.[heading] ?? {}
  const now = Object.fromEntries(
    Object.entries({ ...had, ...said }).filter(([, value]) => value !== undefined),
  )
  return { ...choices, columns: { ...choices.columns, [heading]: now } }
}

/** Choose what a column is taken for. */
export const chooseKind = (choices: Choices, heading: string, kind: string): Choices =>
  kind === LEFT
    ? sayOf(choices, heading, { leave: true })
    : sayOf(choices, heading, { leave: undefined, kind })

/** Put a text to a code, make it one of its own, or say that it is none. */
export function sortWay(choices: Choices, heading: string, text: string, meant: string): Choices {
  const ways = { ...choices.columns?.[heading]?.ways, [text]: meant }
  return sayOf(choices, heading, { ways })
}

/** Say whether the order of two columns is checked. */
export function checkOrder(choices: Choices, first: string, last: string, on: boolean): Choices {
  const others = (choices.unchecked ?? []).filter(([a, b]) => a !== first || b !== last)
  return { ...choices, unchecked: on ? others : [...others, [first, last]] }
}

/** Add the usual fields of a kind of people, or take them out again. */
export function addPeople(choices: Choices, people: string, on: boolean): Choices {
  const others = (choices.people ?? []).filter((one) => one !== people)
  return { ...choices, people: on ? [...others, people] : others }
}

/** What is checked from the first day, in a line. */
export function checkedWords(opening: Opening): string {
  const fields = opening.columns.filter((one) => one.field)
  const counts: [string, number][] = [
    ['required', opening.required.length],
    ['identifier', fields.filter((one) => one.kind === 'identifier' && one.is_checked).length],
    ['code in list', fields.filter((one) => one.kind === 'code').length],
    ['under its parent', fields.filter((one) => one.parent).length],
    ['day', fields.filter((one) => one.kind === 'date' || one.kind === 'datetime').length],
    ['number', fields.filter((one) => one.kind === 'integer' || one.kind === 'number').length],
    ['mail address', fields.filter((one) => one.kind === 'mail').length],
    ['phone number', fields.filter((one) => one.kind === 'phone').length],
  ]
  return counts
    .filter(([, times]) => times)
    .map(([what, times]) => `${what} ${times}`)
    .join(' · ')
}

/** The roster that a file plainly is one of, though it was dropped to make another. */
export const likestRoster = (opening: Opening): Opening['fits'][number] | undefined =>
  opening.fits.find((fit) => fit.fitting >= LIKE * fit.columns)

/** What has to be looked at before the roster is opened: the columns that are not sure. */
export const toLookAt = (opening: Opening): OpeningColumn[] =>
  opening.columns.filter((one) => one.field && !one.sure)

/** What the file would do, in a sentence for who does not see the page. */
export const effectWords = (opening: Opening): string =>
  `${counted(opening.tally.new, 'person')} would join, ${counted(opening.tally.stopped, 'row')} would be stopped.`
