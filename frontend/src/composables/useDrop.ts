import { reactive, readonly } from 'vue'
import { sendFile } from '@/api/intakes'
import { ApiError } from '@/api/client'
import type { Corrections, Work } from '@/api/types'
import { useSession, PREPARE } from './useSession'

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
  close: () => void
  read: () => void
}

/**
 * Send a dropped or chosen file; gives the intake, or null when it was refused and the dialog says
 * why.
 */
export function useDrop(): UseDrop {
  const session = useSession()

  function refusal(file: File): string {
    const me = session.state.me
    if (!me?.rosters.some((one) => one.level >= PREPARE))
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

  async function send(file: File, roster = ''): Promise<number | null> {
    Object.assign(state, { file, part: 0, work: null, problem: refusal(file), choosing: false })
    if (state.problem) return null
    try {
      const made = await sendFile(
        file,
        roster,
        (part) => (state.part = part),
        (work) => (state.work = work),
      )
      state.file = null
      state.corrections = made.corrections
      return made.intake
    } catch (error) {
      state.problem = error instanceof Error ? error.message : String(error)
      // For another roster a file may fit; what cannot be read can be read for none.
      state.choosing =
        error instanceof ApiError && error.status === 422 && error.problem.type !== UNREADABLE
      return null
    }
  }

  return {
    state: readonly(state) as Readonly<DropState>,
    send,
    close: () => void (state.file = null),
    read: () => void (state.corrections = null),
  }
}
