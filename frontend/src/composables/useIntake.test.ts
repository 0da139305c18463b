// @vitest-environment happy-dom
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { nextTick } from 'vue'
import { ApiError } from '@/api/client'
import { getIntake, getPulse, postStep, previewRemedy } from '@/api/intakes'
import type { Intake } from '@/api/types'
import { within } from '@/testing/within'
import { provideIntake } from './useIntake'

vi.mock('@/api/intakes', () => ({
  getCauses: vi.fn(async () => []),
  getIntake: vi.fn(),
  getPulse: vi.fn(),
  postStep: vi.fn(),
  postRemedy: vi.fn(),
  previewRemedy: vi.fn(),
  throwAway: vi.fn(),
}))

const session = vi.hoisted(() => ({
  state: { me: { sign_in: 'ada' } as { sign_in: string } | null },
}))
vi.mock('./useSession', () => ({ useSession: () => session }))

const state = (steps: number, undo: number | null = null): Intake =>
  ({ id: 7, steps, roster_version: 3, undo, redo: null, log: [] }) as unknown as Intake

async function open(steps: number, undo: number | null = null) {
  vi.mocked(getIntake).mockResolvedValue(state(steps, undo))
  const { given, component } = within(() => provideIntake(7))
  await given.refresh()
  return { intake: given, component }
}

describe('an open intake', () => {
  beforeEach(() => {
    vi.useFakeTimers()
    vi.mocked(postStep).mockReset()
    vi.mocked(getIntake).mockReset()
    vi.mocked(getPulse).mockReset()
  })
  afterEach(() => void vi.useRealTimers())

  it('undoes two steps on two quick keys, each the last one then', async () => {
    const { intake, component } = await open(5, 5)
    vi.mocked(postStep).mockImplementation(async () => {
      vi.mocked(getIntake).mockResolvedValue(state(6, 4))
      return { number: 6 }
    })
    const both = [intake.undo(), intake.undo()]
    expect(await Promise.all(both)).toEqual([true, true])
    expect(vi.mocked(postStep).mock.calls.map((call) => call[1])).toEqual([
      { kind: 'undo', step: 5 },
      { kind: 'undo', step: 4 },
    ])
    component.unmount()
  })

  it('asks whose value stands when somebody else has set the cell', async () => {
    const { intake, component } = await open(5)
    const step = { kind: 'set' as const, cells: [{ line: 4, field: 'watch', value: 'TERN' }] }
    const met = { type: 'urn:nevefield:CellConflict', line: 4, field: 'watch', theirs: 'SKUA' }
    vi.mocked(postStep).mockRejectedValueOnce(
      new ApiError(409, 'POST', '/api/intakes/7/steps', 'Somebody has set it.', met),
    )
    expect(await intake.add(step)).toBe(false)
    expect(intake.conflict.value).toMatchObject({ line: 4, theirs: 'SKUA', step })
    component.unmount()
  })

  it('fetches what others did, and only then', async () => {
    const { intake, component } = await open(5)
    vi.mocked(getPulse).mockResolvedValue({ steps: 5, version: 3 })
    await vi.advanceTimersByTimeAsync(1600)
    expect(intake.revision.value).toBe(1)
    vi.mocked(getPulse).mockResolvedValue({ steps: 6, version: 3 })
    vi.mocked(getIntake).mockResolvedValue(state(6))
    await vi.advanceTimersByTimeAsync(1600)
    expect(intake.revision.value).toBe(2)
    component.unmount()
    await vi.advanceTimersByTimeAsync(5000)
    expect(getPulse).toHaveBeenCalledTimes(2)
  })

  it('never goes back to how it stood before a step, however late that is answered', async () => {
    const { intake, component } = await open(5)
    let answerLate: (found: Intake) => void = () => undefined
    vi.mocked(getIntake).mockReturnValueOnce(new Promise((done) => (answerLate = done)))
    vi.mocked(getPulse).mockResolvedValue({ steps: 6, version: 3 })
    await vi.advanceTimersByTimeAsync(1600) // what others did is being fetched
    vi.mocked(postStep).mockImplementation(async () => {
      vi.mocked(getIntake).mockResolvedValue(state(7))
      return { number: 7 }
    })
    expect(await intake.add({ kind: 'hold', lines: [4], reason: 'asked' })).toBe(true)
    const shown = intake.causes.value
    answerLate(state(6))
    await vi.advanceTimersByTimeAsync(100)
    expect(intake.intake.value?.steps).toBe(7)
    expect(intake.causes.value).toBe(shown)
    vi.mocked(getPulse).mockResolvedValue({ steps: 6, version: 3 }) // late too
    await vi.advanceTimersByTimeAsync(1600)
    expect(intake.revision.value).toBe(2)
    component.unmount()
  })

  it('asks for an effect once, and again when something has changed', async () => {
    const { intake, component } = await open(5)
    const remedy = { cause: 'c', kind: 'blank' } as Parameters<typeof intake.preview>[0]
    const tally = { read: 3 }
    vi.mocked(previewRemedy).mockResolvedValue({ tally } as never)
    expect(await intake.preview(remedy)).toEqual(tally)
    await intake.preview(remedy)
    expect(previewRemedy).toHaveBeenCalledTimes(1)
    vi.mocked(getIntake).mockResolvedValue(state(6))
    await intake.refresh()
    await intake.preview(remedy)
    expect(previewRemedy).toHaveBeenCalledTimes(2)
    component.unmount()
  })

  describe('what was cut off', () => {
    const hold = { kind: 'hold' as const, lines: [4], reason: 'asked the office' }
    const cutOff = async (status: number) => {
      sessionStorage.clear()
      session.state.me = { sign_in: 'ada' }
      const { intake, component } = await open(5)
      vi.mocked(postStep).mockRejectedValueOnce(new ApiError(status, 'POST', '', 'Sign in first.'))
      expect(await intake.add(hold)).toBe(false)
      component.unmount()
    }
    it.each([401, 0])('is said after coming back, and done once (status %i)', async (status) => {
      await cutOff(status)
      const { intake, component } = await open(5)
      expect(intake.interrupted.value).toBe('Hold, “asked the office”')
      await intake.goOn(true)
      expect(vi.mocked(postStep).mock.calls.at(-1)).toEqual([7, hold, 5])
      expect(intake.interrupted.value).toBe('')
      component.unmount()
    })
    it('is nobody else’s', async () => {
      await cutOff(401)
      session.state.me = { sign_in: 'ben' }
      const { intake, component } = await open(5)
      expect(intake.interrupted.value).toBe('')
      component.unmount()
    })
    it('is forgotten where it was done after all', async () => {
      await cutOff(0)
      const done = { ...state(6), log: [{ number: 6, mine: true }] } as unknown as Intake
      vi.mocked(getIntake).mockResolvedValue(done)
      const { given, component } = within(() => provideIntake(7))
      await given.refresh()
      expect(given.interrupted.value).toBe('')
      await nextTick()
      expect(sessionStorage.length).toBe(0)
      component.unmount()
    })
    it('is nothing where the step itself was refused', async () => {
      await cutOff(422)
      const { intake, component } = await open(5)
      expect(intake.interrupted.value).toBe('')
      component.unmount()
    })
  })
})
