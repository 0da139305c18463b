import { computed, inject, provide, shallowRef, type InjectionKey, type ShallowRef } from 'vue'
import { getSubmission } from '@/api/submissions'
import type { Submission } from '@/api/types'
import { useLookingAgain } from './useLookingAgain'

export interface UseSubmission {
  id: number
  submission: ShallowRef<Submission | null>
  problem: ShallowRef<string>
  /** Do something that changes it, and look again; tells whether it was done. */
  act: (doing: () => Promise<unknown>) => Promise<boolean>
  refresh: () => Promise<void>
}

const KEY: InjectionKey<UseSubmission> = Symbol('submission')
const ENDED = ['done', 'refused', 'byhand']
const QUICK_MS = 700
const CALM_MS = 5000

/**
 * Open a submission for a page and all in it; looks again by itself, often while a round is under
 * way.
 */
export function provideSubmission(id: number): UseSubmission {
  const submission = shallowRef<Submission | null>(null)
  const problem = shallowRef('')

  async function refresh(): Promise<void> {
    try {
      const found = await getSubmission(id)
      // asked before something newer was
      if (found.touched < (submission.value?.touched ?? 0)) return
      const rounds = JSON.stringify(found.rounds)
      if (
        found.touched !== submission.value?.touched ||
        rounds !== JSON.stringify(submission.value.rounds) ||
        found.tally.records !== submission.value.tally.records
      )
        submission.value = found
    } catch (error) {
      if (!submission.value) problem.value = error instanceof Error ? error.message : String(error)
    }
  }
  const isUnderWay = computed(() =>
    submission.value?.rounds.some((round) => !ENDED.includes(round.state)),
  )
  const pause = computed(() => (isUnderWay.value ? QUICK_MS : CALM_MS))
  const { again, stop } = useLookingAgain(refresh, pause)
  async function act(doing: () => Promise<unknown>): Promise<boolean> {
    problem.value = ''
    try {
      await doing()
      stop()
      await refresh()
      again()
      return true
    } catch (error) {
      problem.value = error instanceof Error ? error.message : String(error)
      await refresh()
      return false
    }
  }
  const made = { id, submission, problem, act, refresh }
  provide(KEY, made)
  return made
}

/** The submission that the page has opened. */
export function useSubmission(): UseSubmission {
  const found = inject(KEY)
  if (!found) throw new Error('no submission is open here')
  return found
}
