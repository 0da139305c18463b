/** One thing that can be chosen from a list. */
export interface Choice<Value extends string | number = string> {
  value: Value
  label: string
  /** Further words by which it is found. */
  also?: string
  /** The heading under which it stands. */
  group?: string
  disabled?: boolean
}

const MARKS = /\p{M}/gu
/** A text as it is searched for: without capitals and without what stands on or under letters. */
const folded = (text: string): string => text.normalize('NFKD').replace(MARKS, '').toLowerCase()

/** Whether all words that were typed stand in a choice, in any order. */
export function isFound(typed: string, choice: Choice<string | number>): boolean {
  const text = folded(`${choice.value} ${choice.label} ${choice.also ?? ''}`)
  return folded(typed)
    .split(/\s+/)
    .every((word) => text.includes(word))
}

/** Choices under their headings, in the order in which they come; those without one stand alone. */
export function underHeadings<Value extends string | number>(
  choices: Choice<Value>[],
): (Choice<Value> | { label: string; options: Choice<Value>[] })[] {
  const groups = new Map<string, Choice<Value>[]>()
  const found: (Choice<Value> | { label: string; options: Choice<Value>[] })[] = []
  for (const choice of choices) {
    const group = choice.group
    if (!group) found.push(choice)
    else if (groups.has(group)) groups.get(group)!.push(choice)
    else {
      const options = [choice]
      groups.set(group, options)
      found.push({ label: group, options })
    }
  }
  return found
}

/** What has a name and a title, such as fields, as choices. */
export const byTitle = (
  things: readonly { name: string; title?: string | null }[],
): Choice<string>[] => things.map(({ name, title }) => ({ value: name, label: title || name }))

/** Pairs of a value and its words as choices. */
export const ofPairs = <Value extends string | number>(
  pairs: readonly (readonly [Value, string])[],
): Choice<Value>[] => pairs.map(([value, label]) => ({ value, label }))

interface OneCode {
  code: string
  label: string
  aliases?: readonly string[]
  parent?: string | null
  first_day?: string | null
  last_day?: string | null
}

/** Whether a code is in use on a day. */
export const isUsedOn = (one: Pick<OneCode, 'first_day' | 'last_day'>, day: string): boolean =>
  (one.first_day || day) <= day && (one.last_day || day) >= day

/**
 * Codes as choices: found by code, label and every way in which they were written; those of one
 * parent together under it. With a day, those that are not in use on it stand last, under a heading
 * that says so.
 */
export function ofCodes(codes: readonly OneCode[], day = ''): Choice<string>[] {
  const labels = new Map(codes.map((one) => [one.code, one.label]))
  const isUsed = (one: OneCode) => !day || isUsedOn(one, day)
  const choice = (one: OneCode, group: string | undefined) => ({
    value: one.code,
    label: `${one.code} ${one.label}`.trim(),
    also: one.aliases?.join(' '),
    ...(group ? { group } : {}),
  })
  const under = (one: OneCode) =>
    one.parent ? `under ${one.parent} ${labels.get(one.parent) ?? ''}`.trim() : undefined
  return [
    ...codes.filter(isUsed).map((one) => choice(one, under(one))),
    ...codes.filter((one) => !isUsed(one)).map((one) => choice(one, 'not in use today')),
  ]
}
