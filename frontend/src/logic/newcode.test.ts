import { describe, expect, it } from 'vitest'
import { asCode, parentsOf, writtenMeanwhile } from './newcode'

const code = (code: string, parent = '', label = '') => ({
  code,
  label,
  parent,
  aliases: [],
  first_day: null,
  last_day: null,
  used: 0,
})

describe('a code that is on no list', () => {
  it('is taken for a code where it is as short as those, else for what one is called', () => {
    const ports = [code('SKV', '', 'Skarvholm'), code('DNS', '', 'Dunsea')]
    expect(asCode('HLM', ports)).toEqual({ code: 'HLM', label: '' })
    expect(asCode('Hollin Mouth', ports)).toEqual({ code: '', label: 'Hollin Mouth' })
    expect(asCode('N 1', ports)).toEqual({ code: '', label: 'N 1' })
    expect(asCode('N 1', [code('M 1')])).toEqual({ code: 'N 1', label: '' })
    expect(asCode('Фельдшер', [])).toEqual({ code: 'Фельдшер', label: '' })
  })
  it('may belong to what others belong to, and to the list’s own codes where these do', () => {
    expect(parentsOf([code('A'), code('B')])).toEqual([])
    expect(
      parentsOf([code('NAV', 'DECK'), code('MEN', 'ENGR'), code('HYD', 'DECK')]).map(
        (one) => one.value,
      ),
    ).toEqual(['DECK', 'ENGR'])
    expect(
      parentsOf([code('N', '', 'North'), code('N1', 'N'), code('S')]).map((one) => one.label),
    ).toEqual(['N North', 'N1', 'S'])
  })
  it(
    'is told where somebody else wrote it meanwhile, with what they altered; what was taken away ' +
      'here stays away',
    () => {
      const before = [code('A', '', 'one'), code('B'), code('C')]
      const theirs = [
        code('A', '', 'two'),
        { ...code('B'), used: 7 },
        code('C'),
        code('D'),
        code('E'),
      ]
      const found = writtenMeanwhile(before, theirs, [
        code('A', '', 'mine'),
        code('B'),
        code('E', '', 'mine too'),
      ])
      expect([found.added.map((one) => one.code), found.altered]).toEqual([['D'], ['A']])
    },
  )
})
