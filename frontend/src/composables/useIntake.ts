import { inject, provide, ref, shallowRef, type InjectionKey, type Ref, type ShallowRef } from 'vue'
import { message } from 'ant-design-vue'
import { getCauses, getIntake, postRemedy, postStep, type RemedyAsked } from '@/api/intakes'
import type { Cause, Intake, Step } from '@/api/types'

export interface UseIntake {
  id: number
  intake: ShallowRef<Intake | null>
  causes: ShallowRef<Cause[]>
  /** Grows by one whenever what is shown has to be fetched again. */
  revision: Ref<number>
  working: Ref<boolean>
  problem: Ref<string>
  refresh: () => Promise<void>
  /** Wait until no step is under way. */
  idle: () => Promise<void>
  add: (step: Step) => Promise<boolean>
  settle: (remedy: RemedyAsked) => Promise<boolean>
  undo: () => Promise<boolean>
  redo: () => Promise<boolean>
}

const KEY: InjectionKey<UseIntake> = Symbol('intake')

/** Open an intake for the pages under this component; `onGone` hears what cannot be opened. */
export function provideIntake(id: number): UseIntake {
  const intake = shallowRef<Intake | null>(null)
  const causes = shallowRef<Cause[]>([])
  const revision = ref(0)
  const working = ref(false)
  const problem = ref('')

  async function refresh(): Promise<void> {
    try {
      const [overview, found] = await Promise.all([getIntake(id), getCauses(id)])
      intake.value = overview
      causes.value = found
      problem.value = ''
      revision.value += 1
    } catch (error) {
      problem.value = error instanceof Error ? error.message : String(error)
    }
  }

  let underWay: Promise<unknown> = Promise.resolve()

  function act(send: () => Promise<unknown>): Promise<boolean> {
    const doing = doAct(send)
    underWay = doing
    return doing
  }

  /** Do one thing at a time: a step made while another is worked out would be about what is not shown any more. */
  async function doAct(send: () => Promise<unknown>): Promise<boolean> {
    if (working.value) return false
    working.value = true
    try {
      await send()
      await refresh()
      return true
    } catch (error) {
      void message.error(error instanceof Error ? error.message : String(error), 6)
      return false
    } finally {
      working.value = false
    }
  }

  const add = (step: Step) => act(() => postStep(id, step))
  const idle = async (): Promise<void> => void (await underWay)

  /** Undo what is the last step once those under way are done: two quick keys undo two steps. */
  async function undo(which: () => number | null | undefined): Promise<boolean> {
    await idle()
    const step = which()
    return step ? add({ kind: 'undo', step }) : false
  }

  const made: UseIntake = {
    id, intake, causes, revision, working, problem, refresh, add,
    idle,
    settle: (remedy) => act(() => postRemedy(id, remedy)),
    undo: () => undo(() => intake.value?.undo),
    redo: () => undo(() => intake.value?.redo),
  }
  provide(KEY, made)
  return made
}

/** The intake that the page is part of. */
export function useIntake(): UseIntake {
  const found = inject(KEY)
  if (!found) throw new Error('useIntake outside an intake')
  return found
}
