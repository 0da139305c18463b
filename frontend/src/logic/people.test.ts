import { describe, expect, it } from 'vitest'
import type { People, PersonBrief } from '@/api/types'
import { keysOf, queueOf, tellingApart } from './people'

const key = (title: string, rows: number, used = true) => ({ title, rows, used, in_file: true })
const people = (over: object): People =>
  ({ counts: {}, keys: [], passed_over: 0, people: [], ...over }) as unknown as People
const row = (line: number, over: object = {}): PersonBrief =>
  ({ line, rivals: [], candidates: 1, state: 'possible', ...over }) as unknown as PersonBrief

describe('the state of all rows', () => {
  it('says how many are open and by what the rest is settled, naming no key that knows nobody', () => {
    const said = tellingApart(
      people({
        counts: { possible: 2, certain: 3, nobody: 40, chosen: 1 },
        keys: [key('Staff No.', 1200), key('Mail', 0), key('Passport', 7, false)],
      }),
      'all',
    )
    expect(said).toBe(
      '2 rows could be somebody whom you already have; settled: ' +
        '1,200 by staff no., 3 by likeness, 40 like nobody, 1 by you.',
    )
  })
  it('says that nobody is left, that nothing was settled, and what a file that only adds passes over', () => {
    expect(tellingApart(people({ passed_over: 1 }), 'new')).toBe(
      'Nobody is left to tell apart; settled: none. 1 row is left out: this file only adds people.',
    )
  })
  it('names the keys in use only', () => {
    expect(keysOf(people({ keys: [key('Nr', 1), key('PESEL', 2), key('Mail', 3, false)] }))).toBe(
      'nr and pesel',
    )
    expect(keysOf(null)).toBe('')
  })
})

describe('the rows to decide', () => {
  it('stand once each: by how many are likely, with rivals, then what was decided', () => {
    const queue = queueOf(
      [row(4, { candidates: 3 }), row(5), row(6, { rivals: [{ line: 7 }], candidates: 2 })],
      [row(8, { state: 'chosen' })],
      [],
    )
    expect(queue.map((group) => [group.title, group.people.map((one) => one.line)])).toEqual([
      ['several likely', [4]],
      ['one likely', [5]],
      ['two rows, one record', [6]],
      ['settled by you', [8]],
    ])
  })
})
