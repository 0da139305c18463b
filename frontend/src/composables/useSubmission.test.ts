// @vitest-environment happy-dom
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { getSubmission } from '@/api/submissions'
import type { Submission } from '@/api/types'
import { within } from '@/testing/within'
import { provideSubmission } from './useSubmission'

vi.mock('@/api/submissions', () => ({ getSubmission: vi.fn() }))

const state = (touched: number, round = 'done'): Submission =>
  ({ id: 3, touched, rounds: [{ state: round }], tally: { records: 9 } }) as unknown as Submission

async function open() {
  const { given, component } = within(() => provideSubmission(3))
  await vi.advanceTimersByTimeAsync(0)
  return { submission: given, component }
}

describe('an open submission', () => {
  beforeEach(() => {
    vi.useFakeTimers()
    vi.mocked(getSubmission).mockReset()
  })
  afterEach(() => void vi.useRealTimers())

  it.each([
    ['a round is under way', 'sent', 700],
    ['nothing is', 'done', 5000],
    ['a round waits for somebody', 'byhand', 5000],
  ])('looks again by itself while %s', async (_, round, pause) => {
    vi.mocked(getSubmission).mockResolvedValue(state(1, round))
    const { component } = await open()
    await vi.advanceTimersByTimeAsync(pause - 50)
    expect(getSubmission).toHaveBeenCalledTimes(1)
    await vi.advanceTimersByTimeAsync(100)
    expect(getSubmission).toHaveBeenCalledTimes(2)
    component.unmount()
    await vi.advanceTimersByTimeAsync(20_000)
    expect(getSubmission).toHaveBeenCalledTimes(2)
  })

  it('never goes back to what was asked before something newer', async () => {
    vi.mocked(getSubmission).mockResolvedValueOnce(state(5))
    const { submission, component } = await open()
    vi.mocked(getSubmission).mockResolvedValueOnce(state(4))
    await submission.refresh()
    expect(submission.submission.value?.touched).toBe(5)
    component.unmount()
  })

  it('says why something was not done, and shows what stands', async () => {
    vi.mocked(getSubmission).mockResolvedValue(state(5))
    const { submission, component } = await open()
    expect(await submission.act(() => Promise.reject(new Error('Not now.')))).toBe(false)
    expect(submission.problem.value).toBe('Not now.')
    expect(await submission.act(async () => undefined)).toBe(true)
    expect(submission.problem.value).toBe('')
    component.unmount()
  })
})
