import type { ActIn, Field } from '@/api/types'

/** What can become of a field of many records at once. */
export interface ActWord {
  act: ActIn['act']
  word: string
  /** What stands before its value; '' when it takes none. */
  takes: string
}

const NUMBERS = ['integer', 'number', 'year']

/** List what can be done to a field. */
export function actsFor(field: Field): ActWord[] {
  const some: ActWord[] = [{ act: 'set', word: 'is set to', takes: 'value' }]
  if (field.several)
    some.push(
      { act: 'add', word: 'gets, beside what it has', takes: 'value' },
      { act: 'take', word: 'loses', takes: 'value' },
    )
  if (NUMBERS.includes(field.type))
    some.push(
      { act: 'plus', word: 'grows by', takes: 'number' },
      { act: 'minus', word: 'shrinks by', takes: 'number' },
    )
  if (field.type === 'date')
    some.push(
      { act: 'plus', word: 'moves on by days', takes: 'number' },
      { act: 'minus', word: 'moves back by days', takes: 'number' },
    )
  if (field.type === 'string' && !field.code_list)
    some.push({ act: 'replace', word: 'has a text replaced', takes: 'value' })
  if (!field.required) some.push({ act: 'blank', word: 'is emptied', takes: '' })
  return some
}

/** Tell whether everything of an act is said. */
export const isSaid = (act: ActIn): boolean =>
  !!act.field && (act.act === 'blank' || (act.act === 'replace' ? !!act.find : !!act.value.trim()))

/** Turn the filters of a roster, `field:value`, into a condition; null when there are none. */
export function conditionOf(filters: string[], fields: Field[]): Record<string, unknown> | null {
  const tests = filters.map((filter) => {
    const [field = '', ...rest] = filter.split(':')
    const value = rest.join(':')
    const several = fields.find((one) => one.name === field)?.several
    if (!value) return { field, filled: false }
    return several ? { field, has: value } : { field, is: value }
  })
  if (!tests.length) return null
  return tests.length === 1 ? tests[0]! : { all: tests }
}
