import { beforeEach, describe, expect, it, vi } from 'vitest'
import { ApiError } from '@/api/client'
import { sendFile } from '@/api/intakes'
import { beginSession } from '@/api/session'
import type { Me } from '@/api/types'
import { useDrop } from './useDrop'
import { PREPARE, useSession } from './useSession'

vi.mock('@/api/intakes', () => ({ sendFile: vi.fn() }))
vi.mock('@/api/session', () => ({
  beginSession: vi.fn(),
  getSession: vi.fn(),
  endSession: vi.fn(),
}))

const me = (level: number): Me => ({
  name: 'R. Tamm',
  sign_in: 'tamm',
  level,
  token: 't',
  practice: false,
  keys: { single: true, changed: {} },
  version: '0',
  zone: '',
  largest_mb: 1,
  may_uncover: false,
  address: '',
  everywhere: 0,
  institution: '',
  colour: '',
  elsewhere: [],
  rosters: [{ name: 'cadets', title: 'Cadets', level }],
})
const file = (size: number) => new File([new Uint8Array(size)], 'joiners.csv')

async function signIn(level: number): Promise<void> {
  vi.mocked(beginSession).mockResolvedValueOnce(me(level))
  await useSession().begin('tamm', 'secret')
}

describe('a dropped file', () => {
  beforeEach(() => vi.mocked(sendFile).mockReset())

  it('is sent and gives the intake', async () => {
    await signIn(PREPARE)
    vi.mocked(sendFile).mockResolvedValueOnce({ intake: 7, corrections: null })
    const drop = useDrop()
    expect(await drop.send(file(10))).toBe(7)
    expect(drop.state.file).toBeNull()
  })

  it.each([
    ['is empty', PREPARE, 0, 'empty'],
    ['is too large', PREPARE, 1_000_001, 'at most 1 MB'],
    ['comes from who may look only', PREPARE - 1, 10, 'may look only'],
  ])('is not sent when it %s', async (_, level, size, said) => {
    await signIn(level)
    const drop = useDrop()
    expect(await drop.send(file(size))).toBeNull()
    expect(drop.state.problem).toContain(said)
    expect(sendFile).not.toHaveBeenCalled()
  })

  it('is offered to no roster when it cannot be read', async () => {
    await signIn(PREPARE)
    const problem = { type: 'urn:nevefield:UnreadableFile' }
    vi.mocked(sendFile).mockRejectedValueOnce(
      new ApiError(422, 'POST', '/api/intakes', 'The workbook is damaged.', problem),
    )
    const drop = useDrop()
    await drop.send(file(10))
    expect([drop.state.problem, drop.state.choosing]).toEqual(['The workbook is damaged.', false])
  })

  it('can be taken in for another roster when the columns fit none', async () => {
    await signIn(PREPARE)
    vi.mocked(sendFile).mockRejectedValueOnce(
      new ApiError(422, 'POST', '/api/intakes', 'The columns fit no roster.'),
    )
    const drop = useDrop()
    await drop.send(file(10))
    expect([drop.state.problem, drop.state.choosing]).toEqual(['The columns fit no roster.', true])
    vi.mocked(sendFile).mockResolvedValueOnce({ intake: 8, corrections: null })
    expect(await drop.send(file(10), 'cadets')).toBe(8)
    expect(vi.mocked(sendFile).mock.lastCall?.[1]).toBe('cadets')
  })
})
