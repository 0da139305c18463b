import { computed, shallowRef } from 'vue'
import type { ComputedRef, ShallowRef } from 'vue'
import { getFirst } from '@/api/accounts'
import { useSession } from './useSession'
import type { FirstLook } from '@/api/types'

const first = shallowRef<FirstLook | null>(null)
let asked: Promise<unknown> | null = null

export interface UseHouse {
  /** Whose product this is, as far as it was asked for; signed in or not. */
  first: Readonly<ShallowRef<FirstLook | null>>
  /** Whether this is the practice copy. */
  isPractice: ComputedRef<boolean>
  ask: () => Promise<unknown>
}

/** Whose product this is, and whether it is real, also for who is not signed in. */
export function useHouse(): UseHouse {
  const session = useSession()
  return {
    first,
    isPractice: computed(() => session.state.me?.practice ?? first.value?.practice ?? false),
    ask: () =>
      (asked ??= getFirst().then(
        (house) => (first.value = house),
        () => (asked = null),
      )),
  }
}
