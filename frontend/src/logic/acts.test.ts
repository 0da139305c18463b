import { describe, expect, it } from 'vitest'
import { actsFor, conditionOf, isSaid } from './acts'
import type { Field } from '@/api/types'

const field = (more: Partial<Field>): Field =>
  ({
    name: 'x',
    title: 'X',
    type: 'string',
    code_list: '',
    several: false,
    required: false,
    ...more,
  }) as Field

describe('acts', () => {
  it('offers only what a field can take', () => {
    const of = (more: Partial<Field>) => actsFor(field(more)).map((one) => one.act)
    expect(of({})).toEqual(['set', 'replace', 'blank'])
    expect(of({ required: true, code_list: 'watch' })).toEqual(['set'])
    expect(of({ several: true, code_list: 'port' })).toEqual(['set', 'add', 'take', 'blank'])
    expect(of({ type: 'date' })).toEqual(['set', 'plus', 'minus', 'blank'])
  })
  it('waits until everything is said', () => {
    expect(isSaid({ field: 'x', act: 'set', value: ' ', find: '' })).toBe(false)
    expect(isSaid({ field: 'x', act: 'blank', value: '', find: '' })).toBe(true)
    expect(isSaid({ field: 'x', act: 'replace', value: '', find: 'a' })).toBe(true)
    expect(isSaid({ field: '', act: 'set', value: 'a', find: '' })).toBe(false)
  })
  it('turns filters into a condition', () => {
    const fields = [field({ name: 'watch' }), field({ name: 'port', several: true })]
    expect(conditionOf([], fields)).toBeNull()
    expect(conditionOf(['watch:A:B'], fields)).toEqual({ field: 'watch', is: 'A:B' })
    expect(conditionOf(['watch:', 'port:DNS'], fields)).toEqual({
      all: [
        { field: 'watch', filled: false },
        { field: 'port', has: 'DNS' },
      ],
    })
  })
})
