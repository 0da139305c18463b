import type { Condition, FieldDocument } from '@/api/types'

/**
 * Make a field's name of its title: small letters, digits and underscores, and none that is taken.
 */
export function nameOf(title: string, taken: string[]): string {
  const base =
    title
      .normalize('NFKD')
      .replace(/[\u0300-\u036f]/g, '')
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '_')
      .replace(/^_+|_+$/g, '') || 'field'
  let name = base
  for (let number = 2; taken.includes(name); number += 1) name = `${base}_${number}`
  return name
}

/**
 * Put a property into a part of a field, or take it away when it says nothing; parts without any
 * go.
 */
export function withPart(
  field: FieldDocument,
  part: 'constraints' | 'nevefield',
  name: string,
  value: unknown,
): FieldDocument {
  const rest = Object.fromEntries(Object.entries(field[part] ?? {}).filter(([key]) => key !== name))
  const filled = says(value) ? { ...rest, [name]: value } : rest
  const whole = { ...field, [part]: filled }
  if (!Object.keys(filled).length) delete whole[part]
  return whole
}

const says = (value: unknown) =>
  !(
    value === undefined ||
    value === null ||
    value === '' ||
    value === false ||
    (Array.isArray(value) && !value.length)
  )

export const TESTS = [
  ['is', 'is'],
  ['not', 'is not'],
  ['has', 'has'],
  ['filled', 'is filled'],
  ['empty', 'is empty'],
  ['least', 'is at least'],
  ['most', 'is at most'],
  ['from', 'is on or after'],
  ['until', 'is on or before'],
  ['under', 'is under years'],
  ['age', 'has an age of'],
] as const

/** The comparison of a condition and its value, as the sentence has them. */
export function comparison(condition: Condition): [string, string] {
  if (condition.filled !== undefined) return [condition.filled ? 'filled' : 'empty', '']
  const found = TESTS.find(([name]) => name in condition)?.[0] ?? 'is'
  const value = condition[found]
  if (found === 'age' && Array.isArray(value)) return [found, value.join('-')]
  return [found, Array.isArray(value) ? value.join('; ') : String(value ?? '')]
}

/** Make a condition of the parts of its sentence. */
export function condition(field: string, test: string, text: string, on = ''): Condition {
  if (test === 'filled' || test === 'empty') return { field, filled: test === 'filled' }
  if (['least', 'most'].includes(test)) return { field, [test]: Number(text) || 0 }
  if (test === 'under') return { field, under: Math.trunc(Number(text)) || 0, on: on || 'today' }
  if (test === 'age') {
    const [from = 0, to = from] = text.split(/[-–;]/).map((one) => Math.trunc(Number(one)) || 0)
    return { field, age: [from, to], on: on || 'today' }
  }
  const listed = text
    .split(';')
    .map((one) => one.trim())
    .filter(Boolean)
  if (['is', 'not'].includes(test))
    return { field, [test]: listed.length > 1 ? listed : (listed[0] ?? '') }
  return { field, [test]: text.trim() }
}

/** What breaks for one check and field: the first in words, and how many more there are. */
export interface TroubleKind {
  said: string
  records: number
  keys: string[]
  more: number
}

/** Sum up what breaks, what concerns the most records first: three hundred of a kind are one line. */
export function troublesByKind(
  troubles: {
    check: string
    field?: string | null
    said: string
    records: number
    keys: string[]
  }[],
): TroubleKind[] {
  const kinds = new Map<string, TroubleKind>()
  for (const { check, field, said, records, keys } of troubles) {
    const kind = kinds.get(`${check}/${field ?? ''}`)
    if (kind) {
      kind.records += records
      kind.more += 1
    } else kinds.set(`${check}/${field ?? ''}`, { said, records, keys, more: 0 })
  }
  return [...kinds.values()].sort((one, other) => other.records - one.records)
}
