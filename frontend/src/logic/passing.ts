import type { Condition, Pattern, PassedMove, PassedRow } from '@/api/types'
import { readDocument } from './documents'
import { count, counted } from './words'

export interface Put {
  to: string
  from?: string
  fill?: string
  pattern?: Pattern
  form?: string
  codes?: Record<string, string>
  is_needed?: boolean
  because?: string
  width?: number
}
export interface Membership {
  from: string
  before?: string
  form?: string
  is_privilege?: boolean
  because?: string
}
export interface Share {
  roster: string
  where?: Condition | null
  puts: Put[]
  groups?: Membership[]
  each?: string
}
export interface Way {
  kind: 'file' | 'scim' | 'gates' | 'asked' | 'called'
  writes?: 'refused' | 'proposed'
  format?: string
  address?: string
  file_name?: string
  separator?: string
  encoding?: string
  base?: string
  classes?: string[]
  school?: string
  term?: string
  first_day?: string
  last_day?: string
  is_fetched?: boolean
  into_folder?: boolean
  only_changes?: boolean
  ends?: string
  finds_by?: string[]
  least_password?: number
}
export interface When {
  kind: 'by hand' | 'after receipts' | 'each minute' | 'at a time'
  rule?: string
}
export interface DestinationDocument {
  name: string
  title: string
  way: Way
  shares: Share[]
  when?: When
  most_ends?: number
}

/** Where a record may stand, what wants somebody or goes next last: as it is drawn from the left. */
export const STANDS = [
  { key: 'in step', word: 'in step', look: 'l-same' },
  { key: 'to send', word: 'to send', look: 'l-new' },
  { key: 'to end', word: 'to switch off', look: 'l-absent' },
  { key: 'held', word: 'held back', look: 'l-held' },
  { key: 'refused', word: 'refused', look: 'l-stopped' },
  { key: 'not theirs', word: 'not theirs', look: 'l-left_out' },
] as const

export const standsIn = (place: string) => STANDS.find((one) => one.key === place)

/** What is drawn of a destination: everybody but those who are nothing to it. */
export const drawn = (counts: Record<string, number>) =>
  STANDS.filter((one) => one.key !== 'not theirs' && counts[one.key]).map((one) => ({
    ...one,
    count: counts[one.key]!,
  }))

/** "1,389 in step · 32 to send": the counts that are not nothing. */
export const sayCounts = (counts: Record<string, number>): string =>
  drawn(counts)
    .map((one) => `${count(one.count)} ${one.word}`)
    .join(' · ') || 'nobody yet'

export const sendable = (counts: Record<string, number>): number =>
  (counts['to send'] ?? 0) + (counts['to end'] ?? 0)

/** The sign and word of what sending does with a record. */
export function actOf(row: Pick<PassedRow, 'act' | 'takes_privileges'>) {
  if (row.takes_privileges) return { sign: '–', word: 'privilege', look: 'privilege' }
  return {
    joins: { sign: '▲', word: 'joins', look: 'joins' },
    changes: { sign: '◐', word: 'changes', look: 'changes' },
    ends: { sign: '▼', word: 'ends', look: 'ends' },
    '': { sign: '', word: '', look: '' },
  }[row.act]
}

/** A field of theirs as one says it: of a long path its last part. */
export function sayField(name: string): string {
  if (!name) return 'groups'
  const path = name.split(':').at(-1)!
  return path.replace(/\[.*?"(.*?)".*?\]/, ' ($1)').replace(/\.value$/, '')
}

/** Of groups only those that come and go; of any other field what it was and will be. */
export function partsOf(move: PassedMove): { was: string[]; will: string[] } {
  if (move.what) return { was: move.before, will: move.after }
  return {
    was: move.before.filter((one) => !move.after.includes(one)),
    will: move.after.filter((one) => !move.before.includes(one)),
  }
}

export const FORMATS = [
  { value: 'csv', label: 'CSV' },
  { value: 'xlsx', label: 'a workbook (XLSX)' },
  { value: 'json', label: 'JSON' },
  { value: 'json lines', label: 'JSON lines' },
  { value: 'ldif', label: 'LDIF, for directories' },
  { value: 'vcard', label: 'vCards, for address books' },
  { value: 'fixed width', label: 'columns of fixed width' },
  { value: 'oneroster', label: 'OneRoster 1.2, for learning systems' },
]
export const FORMS = [
  { value: 'as it is', label: 'as it is' },
  { value: 'label', label: 'in words' },
  { value: '01.09.2026', label: '01.09.2026' },
  { value: '09/01/2026', label: '09/01/2026' },
  { value: '20260901', label: '20260901' },
  { value: 'true/false', label: 'true or false' },
  { value: 'Y/N', label: 'Y or N' },
  { value: '1/0', label: '1 or 0' },
]

/** The rule of each day at a time: five parts, of which the first two are minute and hour. */
export const dailyRule = (time: string): string => {
  const [hour = '2', minute = '0'] = time.split(':')
  return `${Number(minute)} ${Number(hour)} * * *`
}
/** The time of a rule of each day; '' for any other. */
export function timeOf(rule: string | undefined): string {
  const found = /^(\d{1,2}) (\d{1,2}) \* \* \*$/.exec(rule ?? '')
  return found ? `${found[2]!.padStart(2, '0')}:${found[1]!.padStart(2, '0')}` : ''
}

/** In which parts two versions of a destination differ, in words. */
export function differing(
  one: DestinationDocument,
  other: DestinationDocument,
  titleOf: (roster: string) => string,
): string[] {
  const differs = (left: unknown, right: unknown) => sorted(left) !== sorted(right)
  const shareOf = (of: DestinationDocument, roster: string) =>
    of.shares.find((share) => share.roster === roster)
  const rosters = new Set([...one.shares, ...other.shares].map((share) => share.roster))
  return [
    ...(differs(one.title, other.title) ? ['what it is called'] : []),
    ...(differs(one.way, other.way) ? ['how it is told'] : []),
    ...(differs(one.when, other.when) ? ['when it is told'] : []),
    ...[...rosters]
      .filter((roster) => differs(shareOf(one, roster), shareOf(other, roster)))
      .map((roster) => `what it gets of ${titleOf(roster)}`),
  ]
}
/** Written out with its names in order; a name that says nothing is none. */
function sorted(value: unknown): string {
  return (
    JSON.stringify(value, (_, inner: unknown) =>
      inner && typeof inner === 'object' && !Array.isArray(inner)
        ? Object.fromEntries(
            Object.entries(inner).sort(([left], [right]) => (left < right ? -1 : 1)),
          )
        : inner,
    ) ?? ''
  )
}
export const readDestination = (text: string): DestinationDocument =>
  readDocument<DestinationDocument>(text, 'shares', {
    title: 'destination',
    where: 'What it gets, how and when',
    lacks: 'it tells nothing of any roster',
  })

/** What became of telling, or of comparing. */
export interface TellAnswer {
  sent?: number
  held?: number
  refused?: number
  problem?: string
  compared?: number
  otherwise?: number
  gone?: number
  strange?: number
}

/** Say what became of it: what was sent and refused, or what is otherwise there. */
export function sayAnswer(answer: TellAnswer | null): string {
  if (!answer) return ''
  if (answer.problem) return answer.problem
  if (answer.compared !== undefined) {
    const parts = [
      answer.otherwise ? `${count(answer.otherwise)} otherwise there` : '',
      answer.gone ? `${count(answer.gone)} gone there` : '',
      answer.strange ? `${count(answer.strange)} there that are not ours` : '',
    ].filter(Boolean)
    const all = `${counted(answer.compared, 'record')} compared: `
    return all + (parts.join(', ') || 'all as they should be ✓')
  }
  return [
    answer.held ? `${counted(answer.held, 'record')} held for them` : '',
    answer.sent ? `${counted(answer.sent, 'record')} sent` : '',
    answer.refused ? `${counted(answer.refused, 'record')} refused` : '',
  ]
    .filter(Boolean)
    .join(', ')
}
