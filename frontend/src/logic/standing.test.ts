import { describe, expect, it } from 'vitest'
import type { StandingTally } from '@/api/types'
import { isOnWay, standingParts, standingsAddUp, wordSends } from './standing'

const tally = (more: Partial<StandingTally>): StandingTally => ({
  records: 0,
  accepted: 0,
  to_number: 0,
  ready: 0,
  rejected: 0,
  not_sent: 0,
  adds_up: true,
  ...more,
})

describe('where records of a submission stand', () => {
  it.each([
    [{}, ''],
    [{ first: 1 }, '1 record'],
    [{ first: 1200, corrected: 1 }, '1,200 records, 1 correction'],
    [
      { corrected: 2, changed: 3, again: 1 },
      '2 corrections, 3 records changed since, 1 record as it was',
    ],
    [{ changes: 1, numbers: 2, unknown: 9 }, '1 change request, 2 numbers'],
  ])('says what the next round takes: %j', (sends, words) =>
    expect(wordSends(sends as unknown as Record<string, number>)).toBe(words),
  )

  it('adds up by counting, not by being told', () => {
    expect(standingsAddUp(tally({ records: 3, accepted: 1, not_sent: 2 }))).toBe(true)
    expect(standingsAddUp(tally({ records: 4, accepted: 1, not_sent: 2, adds_up: true }))).toBe(
      false,
    )
  })

  it('counts what there is, and what was not sent not among it', () =>
    expect(standingParts(tally({ records: 10, accepted: 4, rejected: 1, not_sent: 5 }))).toEqual([
      { state: 'accepted', count: 4 },
      { state: 'rejected', count: 1 },
    ]))

  it('knows who is on the way by the words', () => {
    expect(isOnWay('on its way in round 2')).toBe(true)
    expect(isOnWay('breaks A4')).toBe(false)
  })
})
