import type { Condition } from '@/api/types'
import { comparison, TESTS } from '@/logic/definition'

const joints = ['all', 'any', 'none'] as const
const jointOf = (when: Condition) => joints.find((name) => when[name])

/** The fields that a condition reads. */
export function fieldsIn(when: Condition): string[] {
  const joint = jointOf(when)
  return joint ? (when[joint] ?? []).flatMap(fieldsIn) : [String(when.field)]
}

/** A condition in words, with fields by their titles and values by their labels. */
export function partWords(
  when: Condition,
  title: (field: string) => string,
  label: (field: string, text: string) => string,
): string {
  const joint = jointOf(when)
  if (joint) {
    const parts = (when[joint] ?? []).map((one) => {
      const words = partWords(one, title, label)
      return jointOf(one) ? `(${words})` : words
    })
    return joint === 'none'
      ? `none of ${parts.join(', ')}`
      : parts.join(joint === 'all' ? ' and ' : ' or ')
  }
  const [test, text] = comparison(when)
  const field = String(when.field)
  const values = text
    .split(';')
    .map((one) => one.trim())
    .filter(Boolean)
    .map((one) => label(field, one))
  const words = TESTS.find(([name]) => name === test)?.[1] ?? test
  return [title(field), words, values.join(' or ')].filter(Boolean).join(' ')
}
