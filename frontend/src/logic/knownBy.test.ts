import { describe, expect, it } from 'vitest'
import type { DefinitionDocument } from '@/api/types'
import * as by from './knownBy'

const guild: DefinitionDocument = {
  name: 'guild',
  fields: [{ name: 'no' }, { name: 'mail' }, { name: 'family' }, { name: 'given' }],
  primaryKey: 'no',
  nevefield: { keys: ['no', ['family', 'given']], checks: [{ check: 'lead', fields: [] }] },
}

describe('what people are known by', () => {
  it('reads and writes keys, the primary one among them but not beside them', () => {
    expect(by.keysOf(guild)).toEqual([['family', 'given']])
    expect(by.putKeys(guild, [['mail']]).nevefield).toEqual({
      keys: ['no', 'mail'],
      checks: guild.nevefield?.checks,
    })
    expect(by.putKeys(guild, []).nevefield).toEqual({ checks: guild.nevefield?.checks })
  })
  it('keeps second keys when the primary one becomes another', () => {
    const now = by.putPrimary(guild, ['mail', 'no'])
    expect(now.primaryKey).toEqual(['mail', 'no'])
    expect(by.keysOf(now)).toEqual([['family', 'given']])
    expect(by.keysOf(by.putPrimary(guild, ['family', 'given']))).toEqual([])
  })
  it('leaves nothing empty behind', () => {
    const one = by.putUnique(guild, [['family', 'given']])
    expect(by.uniqueOf(one)).toEqual([['family', 'given']])
    expect('uniqueKeys' in by.putUnique(one, [])).toBe(false)
    expect(by.putLikeness(guild, { certain: by.CERTAIN, nobody: by.NOBODY }).nevefield).toEqual(
      guild.nevefield,
    )
    expect(by.likenessOf(by.putLikeness(guild, { off: true, certain: 90 }))).toEqual({
      off: true,
      certain: 90,
    })
    expect(by.approvalOf(by.putApproval(guild, { from: 40, raising: false }))).toEqual({ from: 40 })
    expect('approval' in (by.putApproval(guild, {}).nevefield ?? {})).toBe(false)
  })
  it('writes references as the standard has them', () => {
    const to = by.makeReference(['family'], '', ['no'], true)
    expect(by.referencesOf(by.putReferences(guild, [to]))).toEqual([
      {
        fields: 'family',
        reference: { resource: '', fields: 'no' },
        nevefield: { hierarchy: true },
      },
    ])
    expect(by.parted(by.joined(['a', 'b']))).toEqual(['a', 'b'])
  })
})
