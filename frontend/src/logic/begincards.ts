import type { Field } from '@/api/types'
import { nameOf } from './names'
import type { DesignDocument, Item } from './design'

/** What a field is taken for by its name and kind, until somebody says otherwise. */
const found = (fields: Field[], ...patterns: RegExp[]): string => {
  for (const pattern of patterns) {
    const field = fields.find((one) => pattern.test(`${one.name} ${one.title}`))
    if (field) return field.name
  }
  return ''
}

/** Guess which fields say whose a card is, its number and the rest. */
export function guess(people: Field[], register: Field[]): Record<string, string> {
  const key = people.find((one) => one.is_key) ?? people[0]
  return {
    key: key?.name ?? '',
    given: found(people, /given|first.?name|forename/i),
    family: found(people, /family|surname|last.?name/i),
    number: found(register, /card.?(number|no\b)/i, /number/i),
    holder: found(register, /holder/i, /\bperson|owner|whose/i),
    facility: found(register, /facility|site.?code/i),
    state: found(register, /state|status/i),
    until: found(register, /until|expir|valid/i),
  }
}

/** What a code of a card's state is taken for by its words, until somebody says otherwise. */
const STATES = {
  in_use: /^(active|in use|valid|current|issued|open)\b/i,
  lost: /lost|missing|stolen/i,
  spoiled: /spoil|damaged|broken|blocked|void/i,
  returned: /return|given back|handed in/i,
  replaced: /replaced|superseded|blocked|void/i,
}

/** Guess which code of a card's state means what; without the one in use, every card is. */
export function guessStates(codes: { code: string; label: string }[]): Record<string, string> {
  const found = Object.entries(STATES).map(([name, pattern]) => [
    name,
    codes.find((one) => pattern.test(one.label || one.code))?.code ?? '',
  ])
  return Object.fromEntries(found) as Record<string, string>
}

const statesOf = ({ in_use: inUse, ...others }: Record<string, string>) => ({
  ...(inUse ? { in_use: [inUse] } : {}),
  ...Object.fromEntries(Object.entries(others).filter(([, code]) => code)),
})

/** A first design: name, number as bars, a place for the photograph. */
export function begin(
  title: string,
  people: string,
  register: string,
  fields: Record<string, string>,
  states: Record<string, string> = {},
  taken: readonly string[] = [],
): DesignDocument {
  const names = [fields.given, fields.family].filter(Boolean).map((field) => ({ field: field! }))
  const pieces = names.length ? names : [{ field: fields.key! }]
  const front: Item[] = [
    {
      kind: 'band',
      name: 'band',
      pieces: [{ text: title }],
      letters: { size: 11, least: 7, lines: 2 },
    },
    { kind: 'photo', name: 'photo' },
    {
      kind: 'line',
      name: 'name',
      pieces,
      letters: { size: 14, least: 9, lines: 2, bold: true },
      is_needed: true,
    },
    { kind: 'symbol', name: 'bars', pieces: [{ field: fields.key! }] },
  ]
  const kept = ['number', 'holder', 'facility', 'state', 'until'].flatMap((name) =>
    fields[name] ? [[name, fields[name]!] as const] : [],
  )
  return {
    name: nameOf(title, taken),
    title,
    register: { roster: register, ...Object.fromEntries(kept), ...statesOf(states) },
    numbering: { ranges: [{ facility: fields.facility ? 1 : 0, first: 1, last: 65535 }] },
    faces: [{ name: 'everybody', roster: people, holder: fields.key!, front }],
  }
}
