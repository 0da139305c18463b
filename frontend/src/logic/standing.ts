import type { StandingTally } from '@/api/types'

export type Standing = 'accepted' | 'to_number' | 'ready' | 'rejected' | 'not_sent'

export const STANDINGS: readonly Standing[] = ['accepted', 'to_number', 'ready', 'rejected']
export const STANDING_WORDS: Record<Standing, string> = {
  accepted: 'accepted',
  to_number: 'to number',
  ready: 'ready again',
  rejected: 'rejected',
  not_sent: 'not sent',
}

/** Tell whether a record is being sent, by why it stands where it does. */
export const isOnWay = (why: string): boolean => why.startsWith('on its way')

/** Count where records stand, from the top down; without those that stand nowhere, or were not sent. */
export const standingParts = (tally: StandingTally): { state: Standing; count: number }[] =>
  STANDINGS.map((state) => ({ state, count: tally[state] })).filter((part) => part.count > 0)

/** Say whether the places add up to the records. Worked out, never taken on trust. */
export const standingsAddUp = (tally: StandingTally): boolean =>
  tally.accepted + tally.to_number + tally.ready + tally.rejected + tally.not_sent === tally.records

/** Word what the next round takes: "11 corrections, 14 numbers". */
export function wordSends(sends: Record<string, number>): string {
  const words: [string, string, string][] = [
    ['first', 'record', 'records'],
    ['corrected', 'correction', 'corrections'],
    ['changes', 'change request', 'change requests'],
    ['numbers', 'number', 'numbers'],
    ['changed', 'record changed since', 'records changed since'],
    ['again', 'record as it was', 'records as they were'],
  ]
  return words
    .filter(([kind]) => sends[kind])
    .map(
      ([kind, one, more]) =>
        `${sends[kind]!.toLocaleString('en-GB')} ${sends[kind] === 1 ? one : more}`,
    )
    .join(', ')
}
