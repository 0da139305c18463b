import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope } from 'vue'
import { getJob } from '@/api/session'
import type { Job } from '@/api/types'
import { useJob } from './useJob'

vi.mock('@/api/session', () => ({ getJob: vi.fn() }))
vi.mock('vue', async (original) => ({
  ...(await original<typeof import('vue')>()),
  onBeforeUnmount: vi.fn(),
}))

const job = (part: Partial<Job>): Job => ({
  id: 1,
  state: 'running',
  doing: 'Writing records',
  done: 0,
  total: 0,
  answer: null,
  problem: '',
  ...part,
})

describe('a job that is followed', () => {
  beforeEach(() => void vi.useFakeTimers())
  afterEach(() => void vi.useRealTimers())

  it('is shown while it runs and given when it has ended', async () => {
    vi.mocked(getJob)
      .mockResolvedValueOnce(job({ done: 1, total: 3 }))
      .mockResolvedValueOnce(job({ state: 'done', answer: { change_set: 7 } }))
    const { job: shown, follow } = effectScope().run(useJob)!
    const ended = follow(1)
    await vi.advanceTimersByTimeAsync(10)
    expect(shown.value).toMatchObject({ done: 1, total: 3 })
    await vi.advanceTimersByTimeAsync(300)
    expect(await ended).toMatchObject({ state: 'done', answer: { change_set: 7 } })
    expect(shown.value).toBeNull()
  })

  it('is not lost when the server does not answer for a while', async () => {
    vi.mocked(getJob)
      .mockResolvedValueOnce(job({ done: 2 }))
      .mockRejectedValueOnce(new Error('gone'))
      .mockResolvedValueOnce(job({ state: 'failed', problem: 'Broken off.' }))
    const { job: shown, follow } = effectScope().run(useJob)!
    const ended = follow(1)
    await vi.advanceTimersByTimeAsync(260)
    expect(shown.value).toMatchObject({ done: 2 })
    await vi.advanceTimersByTimeAsync(600)
    expect(await ended).toMatchObject({ state: 'failed', problem: 'Broken off.' })
  })
})
