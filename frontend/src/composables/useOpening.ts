import { computed, ref, shallowRef, type ComputedRef, type Ref, type ShallowRef } from 'vue'
import { ApiError } from '@/api/client'
import { getOpening, openRoster, putChoices } from '@/api/openings'
import type { Opening } from '@/api/types'
import type { Choices } from '@/logic/opening'

export interface UseOpening {
  opening: ShallowRef<Opening | null>
  /** Why it cannot be shown. */
  lost: Ref<string>
  /** Why what was said last was not kept. */
  problem: Ref<string>
  isWorking: Ref<boolean>
  canUndo: ComputedRef<boolean>
  load: () => Promise<void>
  /** Say something of the proposal: what follows is worked out, and stands beside it. */
  say: (alter: (choices: Choices) => Choices) => Promise<void>
  undo: () => Promise<void>
  open: () => Promise<{ roster: string; intake: number | null } | null>
}

/** A file that may become a roster. What is said while something is worked out waits its turn. */
export function useOpening(id: number): UseOpening {
  const opening = shallowRef<Opening | null>(null)
  const lost = ref('')
  const problem = ref('')
  const isWorking = ref(false)
  const before = shallowRef<Choices[]>([])
  let turn: Promise<void> = Promise.resolve()

  /** What was altered in another window is shown as it stands there, so that one can go on. */
  async function tell(error: unknown): Promise<void> {
    problem.value = error instanceof Error ? error.message : String(error)
    if (error instanceof ApiError && error.status === 409) {
      opening.value = await getOpening(id).catch(() => opening.value)
      before.value = []
    }
  }

  async function keep(choices: Choices): Promise<boolean> {
    const was = opening.value
    if (!was) return false
    isWorking.value = true
    try {
      opening.value = await putChoices(id, choices, was.version)
      problem.value = ''
      return true
    } catch (error) {
      await tell(error)
      return false
    } finally {
      isWorking.value = false
    }
  }

  const inTurn = (act: () => Promise<void>): Promise<void> => (turn = turn.then(act))

  return {
    opening,
    lost,
    problem,
    isWorking,
    canUndo: computed(() => before.value.length > 0),
    load: async () => {
      try {
        opening.value = await getOpening(id)
        problem.value = ''
      } catch (error) {
        lost.value = error instanceof Error ? error.message : String(error)
      }
    },
    say: (alter) =>
      inTurn(async () => {
        if (!opening.value) return
        const had = opening.value.choices as Choices
        if (await keep(alter(had))) before.value = [...before.value, had]
      }),
    undo: () =>
      inTurn(async () => {
        const last = before.value.at(-1)
        if (last && (await keep(last))) before.value = before.value.slice(0, -1)
      }),
    open: async () => {
      await turn
      if (!opening.value) return null
      isWorking.value = true
      try {
        return await openRoster(id, opening.value.version)
      } catch (error) {
        await tell(error)
        return null
      } finally {
        isWorking.value = false
      }
    },
  }
}
