// @vitest-environment happy-dom
import { ref } from 'vue'
import { describe, expect, it, vi } from 'vitest'
import { getDesign, keepDesign } from '@/api/cards'
import { ApiError } from '@/api/client'
import type { CardDesign } from '@/api/types'
import type { DesignDocument } from '@/logic/design'
import { within } from '@/testing/within'
import { provideCards } from './useCards'

vi.mock('@/api/cards', () => ({ getDesign: vi.fn(), keepDesign: vi.fn() }))

const version = (number: number) => ({ name: 'pas', version: number }) as unknown as CardDesign
const document = { name: 'pas' } as unknown as DesignDocument
const refused = (kind: string) =>
  new ApiError(409, 'PUT', '/api/cards/pas', 'Not so.', { type: `urn:nevefield:${kind}` })

describe('keeping a version of a design', () => {
  it('goes on top of what somebody else kept only once that was said', async () => {
    vi.mocked(getDesign).mockResolvedValue(version(4))
    const { given: cards } = within(() => provideCards('pas'))
    const over = ref(3)
    vi.mocked(keepDesign).mockRejectedValueOnce(refused('DesignMoved'))
    expect(await cards.keep(document, over)).toBe(false)
    expect(cards.problem.value).toBe('Not so.')
    vi.mocked(keepDesign).mockResolvedValueOnce(5)
    expect(await cards.keep(document, over)).toBe(true)
    expect(vi.mocked(keepDesign).mock.calls.map((call) => call[2])).toEqual([3, 4])
  })

  it('stays made of what it was made of when it is refused for another reason', async () => {
    vi.mocked(getDesign).mockResolvedValue(version(9))
    const { given: cards } = within(() => provideCards('pas'))
    await cards.refresh()
    const over = ref(3)
    for (const error of [refused('WrongDesign'), new Error('No line.')]) {
      vi.mocked(keepDesign).mockRejectedValueOnce(error)
      expect(await cards.keep(document, over)).toBe(false)
      expect(over.value).toBe(3)
    }
  })
})
