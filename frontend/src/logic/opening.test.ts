import { describe, expect, it } from 'vitest'
import { addPeople, checkOrder, chooseKind, sayOf, sortWay, type Choices } from './opening'

const said: Choices = { columns: { Site: { title: 'Observing site', ways: { '??': 'Tarn' } } } }

describe('what is said of a proposal', () => {
  it('says more of a column and leaves the rest', () => {
    expect(sayOf(said, 'Site', { required: true }).columns).toEqual({
      Site: { title: 'Observing site', ways: { '??': 'Tarn' }, required: true },
    })
    expect(sayOf(said, 'Fee', { kind: 'number' }).columns?.Site).toBe(said.columns?.Site)
  })
  it('leaves a column, and takes it again by a kind', () => {
    const left = chooseKind(said, 'Site', 'left')
    expect(left.columns?.Site?.leave).toBe(true)
    const again = chooseKind(left, 'Site', 'text').columns?.Site
    expect(again).toEqual({ title: 'Observing site', ways: { '??': 'Tarn' }, kind: 'text' })
  })
  it('sorts ways of writing one by one', () => {
    const ways = sortWay(sortWay(said, 'Site', 'K. R.', 'Kelder'), 'Site', '??', '').columns
    expect(ways?.Site?.ways).toEqual({ '??': '', 'K. R.': 'Kelder' })
  })
  it('switches orders and kinds of people off and on', () => {
    const off = checkOrder(said, 'Start', 'End', false)
    expect(off.unchecked).toEqual([['Start', 'End']])
    expect(checkOrder(off, 'Start', 'End', true).unchecked).toEqual([])
    const added = addPeople(addPeople(said, 'members', true), 'members', true)
    expect(added.people).toEqual(['members'])
    expect(addPeople(added, 'members', false).people).toEqual([])
  })
})
