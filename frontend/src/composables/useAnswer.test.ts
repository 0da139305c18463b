import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { useAnswer } from './useAnswer'

/** A question whose answers come when the test says so, in any order. */
function slow() {
  const open: { give: (value: number) => void; refuse: (error: Error) => void }[] = []
  const ask = () => new Promise<number>((give, refuse) => open.push({ give, refuse }))
  return { open, ask }
}

describe('what is counted while somebody types', () => {
  beforeEach(() => void vi.useFakeTimers())
  afterEach(() => void vi.useRealTimers())

  it('does not stand a moment longer than the question', async () => {
    const { open, ask } = slow()
    const { answer, waiting, again } = useAnswer(ask, 100)
    again()
    await vi.advanceTimersByTimeAsync(100)
    open[0]!.give(0)
    await vi.advanceTimersByTimeAsync(1)
    expect([answer.value, waiting.value]).toEqual([0, false])
    again()
    expect([answer.value, waiting.value]).toEqual([null, true])
  })

  it('is that of the newest question, in whatever order the answers come', async () => {
    const { open, ask } = slow()
    const { answer, problem, waiting, again } = useAnswer(ask, 100)
    for (let times = 0; times < 3; times += 1) {
      again()
      await vi.advanceTimersByTimeAsync(100)
    }
    open[2]!.give(3)
    await vi.advanceTimersByTimeAsync(1)
    open[0]!.give(1)
    open[1]!.refuse(new Error('late'))
    await vi.advanceTimersByTimeAsync(1)
    expect([answer.value, problem.value, waiting.value]).toEqual([3, '', false])
  })

  it('is asked once for what is typed at one go, and not at all where it was left', async () => {
    const { open, ask } = slow()
    const { waiting, again, forget } = useAnswer(ask, 100)
    again()
    await vi.advanceTimersByTimeAsync(50)
    again()
    await vi.advanceTimersByTimeAsync(100)
    expect(open).toHaveLength(1)
    again()
    forget()
    await vi.advanceTimersByTimeAsync(200)
    expect([open.length, waiting.value]).toEqual([1, false])
  })

  it('says what went wrong, and no number beside it', async () => {
    const { open, ask } = slow()
    const { answer, problem, waiting, again } = useAnswer(ask, 0)
    again()
    await vi.advanceTimersByTimeAsync(1)
    open[0]!.refuse(new Error('The field is not there.'))
    await vi.advanceTimersByTimeAsync(1)
    expect([answer.value, problem.value, waiting.value]).toEqual([
      null,
      'The field is not there.',
      false,
    ])
  })
})
