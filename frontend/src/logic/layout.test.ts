import { describe, expect, it } from 'vitest'
import { lacks } from './layout'
import type { LayoutHere } from '@/api/types'

const here = {
  authority: 'A',
  ours: [],
  layout: {},
  theirs: [
    { name: 'REF', title: 'Reference', role: 'reference', is_needed: true, codes: [] },
    { name: 'NO', title: 'Number', role: 'number', is_needed: false, codes: [] },
    { name: 'ASK', title: 'Asked', role: 'asked', is_needed: false, codes: [] },
    { name: 'COL', title: 'College', role: '', is_needed: true, codes: [] },
    { name: 'MAIL', title: 'Mail', role: '', is_needed: false, codes: [] },
  ],
} as LayoutHere

describe('lacks', () => {
  it('names what is needed and has nothing', () => {
    expect(lacks(here, { fields: [] })).toEqual(['Reference', 'Number', 'College'])
    expect(
      lacks(here, {
        reference: { to: 'REF', from: 'no' },
        number: { to: 'NO', from: 'm' },
        fields: [{ to: 'COL', fill: '' }],
      }),
    ).toEqual(['College'])
    expect(
      lacks(here, {
        reference: { to: 'REF', from: 'no' },
        number: { to: 'NO', from: 'm' },
        fields: [{ to: 'COL', fill: 'X' }],
      }),
    ).toEqual([])
  })
})
