/**
 * What the options of checks are, between the editor's words and the definition's JSON; kinds and
 * examples are the server's.
 */

import type { CheckOption } from '@/api/types'

export type OptionKind = CheckOption['kind']

interface Form {
  read: (typed: string) => unknown
  show: (value: never) => string
}

const listOf = (typed: string): string[] =>
  typed
    .split(';')
    .map((part) => part.trim())
    .filter(Boolean)

/** Read pairs of ages, as in "16-17; 18-99"; undefined where one is none. */
function bandsOf(typed: string): number[][] | undefined {
  const bands = listOf(typed).map((part) => part.match(/^(\d+)\s*[-–]\s*(\d+)$/))
  return bands.length && bands.every(Boolean)
    ? bands.map((band) => [Number(band![1]), Number(band![2])])
    : undefined
}

function rostersOf(typed: string): Record<string, string> {
  const pairs = listOf(typed).map((pair) => pair.split('.').map((part) => part.trim()))
  return Object.fromEntries(pairs.map(([roster = '', field = '']) => [roster, field]))
}

const asTyped: Form = { read: (typed) => typed, show: String }
const asList: Form = { read: listOf, show: (value: string[]) => value.join('; ') }

/**
 * How the options that are typed are read and shown; what cannot be read stays as it is, for the
 * server to say what is wrong.
 */
const FORMS: Record<OptionKind, Form> = {
  condition: asTyped, // has an editor of its own
  flag: asTyped, // is ticked
  choice: asTyped, // is chosen
  day: asTyped,
  'code-list': asTyped,
  values: asList,
  fields: asList,
  number: { read: (typed) => (Number.isNaN(Number(typed)) ? typed : Number(typed)), show: String },
  bands: {
    read: (typed) => bandsOf(typed) ?? typed,
    show: (value: number[][]) => value.map((band) => band.join('-')).join('; '),
  },
  rosters: {
    read: rostersOf,
    show: (value: Record<string, string>) =>
      Object.entries(value)
        .map((pair) => pair.join('.'))
        .join('; '),
  },
}

/** Read what somebody typed for an option; undefined where it is nothing. */
export function readOption(kind: OptionKind, typed: string): unknown {
  return typed === '' ? undefined : FORMS[kind].read(typed)
}

/** Write an option as it is typed. */
export function showOption(kind: OptionKind, value: unknown): string {
  if (value === undefined || value === null) return ''
  return typeof value === 'string' ? value : FORMS[kind].show(value as never)
}
