import { describe, expect, it } from 'vitest'
import {
  actOf,
  dailyRule,
  differing,
  drawn,
  partsOf,
  readDestination,
  sayAnswer,
  sayCounts,
  sayField,
  sendable,
  timeOf,
} from './passing'

const LEDEN = {
  name: 'krant',
  title: 'Krant',
  way: { kind: 'file' as const, format: 'csv', into_folder: true },
  when: { kind: 'by hand' as const },
  shares: [
    { roster: 'leden', puts: [{ to: 'naam', from: 'naam' }] },
    { roster: 'staf', puts: [] },
  ],
}

describe('two versions of a destination', () => {
  const titles = { leden: 'Leden', staf: 'Staf', oud: 'Oud-leden' }
  const said = (other: typeof LEDEN) =>
    differing(LEDEN, other, (roster) => titles[roster as 'leden'])

  it('are the same however they are written', () => {
    const { shares, way, ...rest } = LEDEN
    const turned = { into_folder: true, format: 'csv', kind: 'file' as const }
    expect(said({ shares, way: turned, ...rest })).toEqual([])
    expect(way).toEqual(turned)
  })
  it('differ in what one of them alone has, and in the order of what is filled', () => {
    expect(said({ ...LEDEN, title: 'Krantje' })).toEqual(['what it is called'])
    expect(said({ ...LEDEN, way: { ...LEDEN.way, into_folder: false } })).toEqual([
      'how it is told',
    ])
    const shares = [LEDEN.shares[0]!, { roster: 'oud', puts: [] }]
    expect(said({ ...LEDEN, shares })).toEqual([
      'what it gets of Staf',
      'what it gets of Oud-leden',
    ])
    const puts = [{ to: 'nr', from: 'nr' }, ...LEDEN.shares[0]!.puts]
    const more = [{ ...LEDEN.shares[0]!, puts }, LEDEN.shares[1]!]
    expect(said({ ...LEDEN, shares: more })).toEqual(['what it gets of Leden'])
    const turned = [{ ...more[0]!, puts: [...puts].reverse() }, more[1]!]
    expect(
      differing({ ...LEDEN, shares: more }, { ...LEDEN, shares: turned }, (one) => one),
    ).toEqual(['what it gets of leden'])
  })
})

describe('a destination', () => {
  it('says where its records stand, but for those who are nothing to it', () => {
    const counts = { 'in step': 1389, 'to send': 30, 'to end': 2, refused: 0, 'not theirs': 7 }
    expect(sayCounts(counts)).toBe('1,389 in step · 30 to send · 2 to switch off')
    expect(sendable(counts)).toBe(32)
    expect(drawn({ 'not theirs': 4 })).toEqual([])
    expect(sayCounts({})).toBe('nobody yet')
  })
  it('tells apart what takes a privilege away', () => {
    expect(actOf({ act: 'changes', takes_privileges: true }).word).toBe('privilege')
    expect(actOf({ act: 'ends', takes_privileges: false }).sign).toBe('▼')
  })
  it('names fields by their last part', () => {
    expect(sayField('emails[type eq "work"].value')).toBe('emails (work)')
    expect(
      sayField('urn:ietf:params:scim:schemas:extension:enterprise:2.0:User:employeeNumber'),
    ).toBe('employeeNumber')
    expect(sayField('')).toBe('groups')
  })
  it('says of groups only what comes and goes', () => {
    expect(partsOf({ what: '', before: ['A', 'B'], after: ['B', 'C'] })).toEqual({
      was: ['A'],
      will: ['C'],
    })
  })
  it('says what became of telling and comparing', () => {
    expect(sayAnswer({ sent: 1, refused: 2 })).toBe('1 record sent, 2 records refused')
    expect(sayAnswer({ compared: 9, otherwise: 1, gone: 0, strange: 4 })).toBe(
      '9 records compared: 1 otherwise there, 4 there that are not ours',
    )
    expect(sayAnswer({ sent: 0, held: 3 })).toBe('3 records held for them')
    expect(sayAnswer({ compared: 9 })).toContain('as they should be')
  })
  it('is told each day at a time', () => {
    expect(dailyRule('02:05')).toBe('5 2 * * *')
    expect(timeOf('5 2 * * *')).toBe('02:05')
    expect(timeOf('0 2 * * 1')).toBe('')
  })
  it.each(['', '[]', '{"shares": []}'])('is refused from a file that is none: %s', (text) => {
    expect(() => readDestination(text)).toThrow(/no JSON|no destination/)
  })
})
