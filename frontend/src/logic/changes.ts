import type { ChangedPerson, Family, FamilyDetail, Field, Intake } from '@/api/types'
import { counted, show } from './words'

/** What becomes of a field's value, in words that fit one value and several. */
const RULES: Record<string, [string, string]> = {
  filled: ['take the file’s value where it has one', 'make it these where the file has any'],
  file: [
    'take the file’s value, an empty cell empties',
    'make it exactly these, an empty cell empties',
  ],
  ours: ['keep the roster’s', 'keep the roster’s'],
  blanks: ['fill blanks only', 'fill blanks only'],
  add: ['add the file’s number', 'add these'],
  remove: ['subtract the file’s number', 'remove these'],
}

export const ruleWord = (rule: string, several = false): string =>
  RULES[rule]?.[several ? 1 : 0] ?? rule

const ACTS: Record<string, string> = {
  stay: 'stays as it is',
  end: 'ends',
  leave: 'leaves the roster',
  hold: 'held for a look',
}
/** What becomes of somebody who is absent. */
export const actWord = (person: ChangedPerson, detail: FamilyDetail | null): string =>
  person.act === 'end' && detail ? `ends ${show(detail.end_day)}` : (ACTS[person.act] ?? '')

/** The heading over the people of one kind of change. */
export function familyTitle(
  key: string,
  total: number,
  intake: Intake | null,
  field: Field | undefined,
): string {
  if (key === 'join' && intake?.membership)
    return counted(total, 'membership begins', 'memberships begin')
  if (key === 'join')
    return `${counted(total, 'person joins', 'people join')} ${intake?.roster_title}`
  if (key === 'absent') return `${counted(total, 'record is', 'records are')} not in the file`
  if (key === 'beside')
    return `${counted(total, 'membership ends', 'memberships end')}, because another takes the place`
  return `${field?.title ?? key}: ${counted(total, 'record changes', 'records change')}`
}

/** What must be known of a kind of change before it is applied. */
export function familyNote(key: string, intake: Intake | null, family: Family | undefined): string {
  if (key === 'absent')
    return intake?.coverage !== 'listed'
      ? 'Nothing is done to them unless you say so. Whoever leaves keeps the record’s life, and can be taken back.'
      : 'The file claims only the people in it, so nobody counts as absent.'
  const kept = family?.kept_blank ?? 0
  if (kept && !family?.taken_away)
    return (
      `${counted(kept, 'row has', 'rows have')} nothing here, and the roster’s value stays ` +
      `for ${kept === 1 ? 'this person' : 'these people'}.`
    )
  return family?.taken_away
    ? `${counted(family.taken_away, 'value is', 'values are')} taken away, the others change`
    : ''
}
