import { reactive, readonly } from 'vue'
import { sendFile } from '@/api/intakes'
import { sendForOpening } from '@/api/openings'
import { ApiError } from '@/api/client'
import type { Corrections, Work } from '@/api/types'
import { ADMINISTER, PREPARE, useSession } from './useSession'

interface DropState {
  file: File | null
  part: number
  /** What the server does with the file, and how far it is. */
  work: Work | null
  problem: string
  /** Rosters to choose from when the file fits several or none. */
  choosing: boolean
  /** What a corrected error sheet brought, until it was read. */
  corrections: Corrections | null
}

const UNREADABLE = 'urn:nevefield:UnreadableFile'
const state = reactive<DropState>({
  file: null,
  part: 0,
  work: null,
  problem: '',
  choosing: false,
  corrections: null,
})

export interface UseDrop {
  state: Readonly<DropState>
  send: (file: File, roster?: string) => Promise<number | null>
  /** Send a file that may become a roster; gives the number under which it waits. */
  sendNew: (file: File) => Promise<number | null>
  /** Whether who is signed in may open rosters. */
  mayOpen: () => boolean
  close: () => void
  read: () => void
}

/**
 * Send a dropped or chosen file; gives the intake, or null when it was refused and the dialog says
 * why.
 */
export function useDrop(): UseDrop {
  const session = useSession()

  const mayOpen = () => (session.state.me?.everywhere ?? 0) >= ADMINISTER

  function refusal(file: File): string {
    const me = session.state.me
    if (!me) return 'Sign in first.'
    if (!mayOpen() && !me.rosters.some((one) => one.level >= PREPARE))
      return 'Your account may look only; somebody who prepares has to drop files.'
    if (file.size === 0) return `“${file.name}” is empty: 0 bytes.`
    if (file.size > me.largest_mb * 1_000_000) {
      return (
        `“${file.name}” has ${Math.ceil(file.size / 1_000_000)} MB; at most ${me.largest_mb} ` +
        `MB are taken. Send it in parts, or ask for a smaller export.`
      )
    }
    return ''
  }

  /** Send a file while the dialog says how far it is; when it is refused, the dialog says why. */
  async function sending<Made>(file: File, act: () => Promise<Made>): Promise<Made | null> {
    Object.assign(state, { file, part: 0, work: null, problem: refusal(file), choosing: false })
    if (state.problem) return null
    try {
      const made = await act()
      state.file = null
      return made
    } catch (error) {
      state.problem = error instanceof Error ? error.message : String(error)
      // For another roster a file may fit; what cannot be read can be read for none.
      state.choosing =
        error instanceof ApiError && error.status === 422 && error.problem.type !== UNREADABLE
      return null
    }
  }
  const hearPart = (part: number) => void (state.part = part)
  const hearWork = (work: Work) => void (state.work = work)

  async function send(file: File, roster = ''): Promise<number | null> {
    const made = await sending(file, () => sendFile(file, roster, hearPart, hearWork))
    if (!made) return null
    state.corrections = made.corrections
    return made.intake
  }

  return {
    state: readonly(state) as Readonly<DropState>,
    send,
    sendNew: (file) => sending(file, () => sendForOpening(file, hearPart, hearWork)),
    mayOpen,
    close: () => void (state.file = null),
    read: () => void (state.corrections = null),
  }
}
