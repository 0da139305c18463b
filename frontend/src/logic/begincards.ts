import type { Field } from '@/api/types'
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

/** A name as designs have it: small letters, digits and hyphens, beginning with a letter. */
export const nameOf = (title: string): string => {
  const plain = title
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^[^a-z]+|-+$/g, '')
  return (plain || 'card').slice(0, 40)
}

/** A first design: name, number as bars, a place for the photograph. */
export function begin(
  title: string,
  people: string,
  register: string,
  fields: Record<string, string>,
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
    name: nameOf(title),
    title,
    register: { roster: register, ...Object.fromEntries(kept) },
    numbering: { ranges: [{ facility: fields.facility ? 1 : 0, first: 1, last: 65535 }] },
    faces: [{ name: 'everybody', roster: people, holder: fields.key!, front }],
  }
}
