import { beforeEach, describe, expect, it, vi } from 'vitest'
import { ApiError } from '@/api/client'
import { getOpening, putChoices } from '@/api/openings'
import type { Opening } from '@/api/types'
import { useOpening } from './useOpening'

vi.mock('@/api/openings', () => ({ getOpening: vi.fn(), putChoices: vi.fn(), openRoster: vi.fn() }))

const at = (version: number, choices = {}) => ({ version, choices }) as Opening

describe('a file that may become a roster', () => {
  beforeEach(() => vi.resetAllMocks())

  it('keeps what is said in turn, each on what came before, and takes it back', async () => {
    vi.mocked(getOpening).mockResolvedValue(at(1))
    vi.mocked(putChoices).mockImplementation(async (_, choices, seen) => at(seen + 1, choices))
    const { opening, load, say, undo, canUndo } = useOpening(7)
    await load()
    await Promise.all([
      say((all) => ({ ...all, title: 'Choir' })),
      say((all) => ({ ...all, key: 'No' })),
    ])
    expect(opening.value).toEqual(at(3, { title: 'Choir', key: 'No' }))
    await undo()
    await undo()
    expect(opening.value?.choices).toEqual({})
    expect(canUndo.value).toBe(false)
  })

  it('shows what another window made of it, and goes on from there', async () => {
    vi.mocked(getOpening)
      .mockResolvedValueOnce(at(1))
      .mockResolvedValueOnce(at(5, { key: 'No' }))
    vi.mocked(putChoices)
      .mockRejectedValueOnce(new ApiError(409, '', '', 'It was altered in another window.'))
      .mockImplementation(async (_, choices, seen) => at(seen + 1, choices))
    const { opening, problem, load, say } = useOpening(7)
    await load()
    await say((all) => ({ ...all, title: 'Choir' }))
    expect(problem.value).toContain('another window')
    expect(opening.value).toEqual(at(5, { key: 'No' }))
    await say((all) => ({ ...all, title: 'Choir' }))
    expect(opening.value).toEqual(at(6, { key: 'No', title: 'Choir' }))
    expect(problem.value).toBe('')
  })

  it('keeps nothing when nothing answers, and says so', async () => {
    vi.mocked(getOpening).mockResolvedValue(at(1))
    vi.mocked(putChoices).mockRejectedValue(new ApiError(0, '', '', 'Nevefield does not answer.'))
    const { opening, problem, load, say, canUndo } = useOpening(7)
    await load()
    await say((all) => ({ ...all, title: 'Choir' }))
    expect([opening.value, problem.value, canUndo.value]).toEqual([
      at(1),
      'Nevefield does not answer.',
      false,
    ])
  })
})
