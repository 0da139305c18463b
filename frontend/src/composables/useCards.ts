import {
  inject,
  onBeforeUnmount,
  provide,
  shallowRef,
  type InjectionKey,
  type ShallowRef,
} from 'vue'
import { useTimeoutFn } from '@vueuse/core'
import { getDesign } from '@/api/cards'
import type { CardDesign } from '@/api/types'

export interface UseCards {
  name: string
  design: ShallowRef<CardDesign | null>
  problem: ShallowRef<string>
  /** Counts what was done here, so that pages load again what they show. */
  turn: ShallowRef<number>
  /** Do something that changes it, and look again; tells whether it was done. */
  act: (doing: () => Promise<unknown>) => Promise<boolean>
  refresh: () => Promise<void>
}

const KEY: InjectionKey<UseCards> = Symbol('cards')
const PAUSE_MS = 6000

/** Open a card design for a page and all in it; looks again by itself. */
export function provideCards(name: string): UseCards {
  const design = shallowRef<CardDesign | null>(null)
  const problem = shallowRef('')
  const turn = shallowRef(0)
  let gone = false

  async function refresh(): Promise<void> {
    try {
      const found = await getDesign(name)
      if (JSON.stringify(found) !== JSON.stringify(design.value)) {
        design.value = found
        turn.value += 1
      }
    } catch (error) {
      if (!design.value) problem.value = error instanceof Error ? error.message : String(error)
    }
  }
  const { start: later, stop } = useTimeoutFn(
    async () => {
      if (document.visibilityState === 'visible') await refresh()
      if (!gone) later()
    },
    PAUSE_MS,
    { immediate: false },
  )
  async function act(doing: () => Promise<unknown>): Promise<boolean> {
    problem.value = ''
    try {
      await doing()
      await refresh()
      turn.value += 1
      return true
    } catch (error) {
      problem.value = error instanceof Error ? error.message : String(error)
      return false
    }
  }
  void refresh().then(later)
  onBeforeUnmount(() => {
    gone = true
    stop()
  })
  const made = { name, design, problem, turn, act, refresh }
  provide(KEY, made)
  return made
}

/** The card design that the page has opened. */
export function useCards(): UseCards {
  const found = inject(KEY)
  if (!found) throw new Error('no card design is open here')
  return found
}
