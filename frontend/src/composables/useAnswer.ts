import { ref, shallowRef, type Ref, type ShallowRef } from 'vue'
import { useTimeoutFn } from '@vueuse/core'

export interface UseAnswer<T> {
  answer: ShallowRef<T | null>
  problem: Ref<string>
  waiting: Ref<boolean>
  again: () => void
  forget: () => void
}

/**
 * What is counted or tried while somebody types. Only the newest question is answered: from the
 * moment it is put the earlier answer no longer stands, and what comes late for an earlier one is
 * thrown away. @param ask puts the question as it stands now; null where there is nothing to ask
 * yet @param wait milliseconds of rest before it is put
 */
export function useAnswer<T>(ask: () => Promise<T> | null, wait = 200): UseAnswer<T> {
  const answer = shallowRef<T | null>(null)
  const problem = ref('')
  const waiting = ref(false)
  let turn = 0
  const { start, stop } = useTimeoutFn((mine: number) => void put(mine), wait, {
    immediate: false,
  })

  function forget(): void {
    turn += 1
    stop()
    answer.value = null
    problem.value = ''
    waiting.value = false
  }

  async function put(mine: number): Promise<void> {
    try {
      const found = await ask()
      if (mine === turn) answer.value = found
    } catch (error) {
      if (mine === turn) problem.value = error instanceof Error ? error.message : String(error)
    } finally {
      if (mine === turn) waiting.value = false
    }
  }

  function again(): void {
    forget()
    waiting.value = true
    start(turn)
  }

  return { answer, problem, waiting, again, forget }
}
