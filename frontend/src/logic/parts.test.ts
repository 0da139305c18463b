import type { Condition } from '@/api/types'
import { describe, expect, it } from 'vitest'
import { fieldsIn, partWords } from './parts'

const titles: Record<string, string> = { branch: 'Branch', year: 'Year' }
const say = (when: Condition) =>
  partWords(
    when,
    (name) => titles[name] ?? name,
    (_, text) => (text === 'SKG' ? 'Θεσσαλονίκη' : text),
  )

describe('parts', () => {
  it('words a part by titles and labels', () => {
    expect(say({ field: 'branch', is: 'SKG' })).toBe('Branch is Θεσσαλονίκη')
    expect(say({ field: 'branch', is: ['SKG', 'ATH'] })).toBe('Branch is Θεσσαλονίκη or ATH')
    expect(say({ field: 'branch', filled: false })).toBe('Branch is empty')
  })
  it('words several conditions, and those within others', () => {
    const old = {
      any: [
        { field: 'year', least: 3 },
        { field: 'year', filled: false },
      ],
    }
    expect(say({ all: [{ field: 'branch', not: 'ATH' }, old] })).toBe(
      'Branch is not ATH and (Year is at least 3 or Year is empty)',
    )
    expect(fieldsIn({ all: [{ field: 'branch', not: 'ATH' }, old] })).toEqual([
      'branch',
      'year',
      'year',
    ])
  })
})
