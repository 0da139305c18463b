import { StorageSerializers, useSessionStorage } from '@vueuse/core'
import { ApiError } from '@/api/client'
import type { RemedyAsked } from '@/api/intakes'
import type { Intake, Step } from '@/api/types'
import { useSession } from './useSession'

/** An act that was sent and not answered, as it can be done again. */
export type Act = { step: Step } | { remedy: RemedyAsked }
interface Interrupted {
  whose: string
  /** How many steps the intake had. */
  seen: number
  act: Act
}

const WORDS: Record<string, string> = {
  hold: 'Hold',
  leave_out: 'Leave out',
  waive: 'Approve',
  set: 'Set a value',
  release: 'Take back in',
  translate: 'Translate',
}
const SIGNED_OUT = 401
const UNANSWERED = 0

/**
 * What the end of a session or a lost connection interrupted in an intake: kept in this window
 * until it is done or discarded, for who did it alone.
 */
export function useInterrupted(intake: number) {
  const session = useSession()
  const kept = useSessionStorage<Interrupted | null>(`nevefield.draft.act.${intake}`, null, {
    serializer: StorageSerializers.object,
    flush: 'sync', // before the page goes, with whatever ended the session
  })
  const forget = () => void (kept.value = null)

  /** Keep an act whose failing was none of its own; tell whether it is. */
  function keep(error: unknown, act: Act, seen: number, whose: string): boolean {
    const isCutOff =
      error instanceof ApiError && (error.status === SIGNED_OUT || error.status === UNANSWERED)
    if (isCutOff) kept.value = { whose, seen, act }
    return isCutOff
  }

  /** See, once the intake is known again, whether it was done after all: then it is forgotten. */
  function meet(now: Intake): void {
    const found = kept.value
    if (found?.whose !== session.state.me?.sign_in) return
    if (now.log.some((step) => step.mine && step.number > (found?.seen ?? 0))) forget()
  }

  /** What was not done. */
  function waiting(): { act: Act; said: string } | null {
    const found = kept.value
    if (!found || found.whose !== session.state.me?.sign_in) return null
    const asked = 'step' in found.act ? found.act.step : found.act.remedy
    const reason = 'reason' in asked && asked.reason ? `, “${String(asked.reason)}”` : ''
    return { act: found.act, said: (WORDS[String(asked.kind)] ?? 'Your last step') + reason }
  }
  return { keep, meet, waiting, forget }
}
