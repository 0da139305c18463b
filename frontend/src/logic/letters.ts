import type { Roster } from '@/api/types'
import { count } from './words'

/** Where those who are written to may stand, what wants somebody first, and how it is drawn. */
export const STANDS = [
  { key: 'corrected', word: 'sent corrections', look: 'l-changed' },
  { key: 'confirmed', word: 'said all is right', look: 'l-same' },
  { key: 'set', word: 'set their password', look: 'l-same' },
  { key: 'told', word: 'were told', look: 'l-same' },
  { key: 'looked', word: 'looked, and did not answer', look: 'l-waiting' },
  { key: 'silent', word: 'have not answered', look: 'l-absent' },
  { key: 'waiting', word: 'mails wait to go', look: 'l-new' },
  { key: 'to print', word: 'to print', look: 'l-held' },
  { key: 'failed', word: 'mails came to nothing', look: 'l-stopped' },
] as const

/** Where one of them stands. */
const ONE: Record<string, string> = {
  looked: 'looked, and did not answer',
  silent: 'has not answered',
  told: 'was told',
  waiting: 'the mail waits to go',
  failed: 'the mail came to nothing',
}
export const sayStand = (part: string): string =>
  ONE[part] ?? STANDS.find((one) => one.key === part)?.word ?? part
export const drawn = (counts: Record<string, number>) =>
  STANDS.filter((one) => counts[one.key]).map((one) => ({ ...one, count: counts[one.key]! }))
/** "12 sent corrections · 3 to print": the counts that are not nothing. */
export const sayCounts = (counts: Record<string, number>): string =>
  drawn(counts)
    .map((one) => `${count(one.count)} ${one.word}`)
    .join(' · ')

export interface Written {
  subject: string
  text: string
  address: string
}

const hole = (name: string | undefined) => (name ? `{${name}}` : '')

/** A first text for a letter that asks somebody by a link, with the roster's own fields. */
export function firstLetter(roster: Roster, asksData: boolean, place: string): Written {
  const means = (what: string) => roster.fields.find((one) => one.means === what && !one.is_kept)
  const [given, family] = [hole(means('given-name')?.name), hole(means('family-name')?.name)]
  const called = given || family || hole(roster.fields.find((one) => one.is_key)?.name)
  const look = 'please look at what we have of you, and say whether it is right'
  const start = `please set your own password at ${place}`
  const wish = asksData ? (place ? `${look}, and set your own password at ${place}` : look) : start
  return {
    subject: asksData ? 'Is what we have of you right?' : `Your password at ${place}`,
    text:
      `Dear ${called},\n\n${wish}:\n\n` +
      `{their link}\n\nThe link is yours alone and works once, until {the last day}.`,
    address: [given, family].filter(Boolean).join(' ') || called,
  }
}

/** The text of a reminder, from the letter that it reminds of. */
export const reminderOf = ({ subject, text, address }: Written): Written => ({
  subject: /^reminder/i.test(subject) ? subject : `Reminder: ${subject}`,
  text,
  address,
})
