import { inject, provide, shallowRef, type InjectionKey, type Ref, type ShallowRef } from 'vue'
import { getDesign, keepDesign } from '@/api/cards'
import { isRefused } from '@/api/client'
import type { CardDesign } from '@/api/types'
import type { DesignDocument } from '@/logic/design'
import { newest } from '@/logic/newest'
import { useLookingAgain } from './useLookingAgain'

export interface UseCards {
  name: string
  design: ShallowRef<CardDesign | null>
  problem: ShallowRef<string>
  /** Counts what was done here, so that pages load again what they show. */
  turn: ShallowRef<number>
  /** Do something that changes it, and look again; tells whether it was done. */
  act: (doing: () => Promise<unknown>) => Promise<boolean>
  /**
   * Keep a version made of another one. Where somebody kept one meanwhile it is not kept, and
   * whoever was told so, and looks, may keep it on top of theirs: the next time it is made of that.
   */
  keep: (document: DesignDocument, over: Ref<number>) => Promise<boolean>
  refresh: () => Promise<void>
}

const KEY: InjectionKey<UseCards> = Symbol('cards')
const PAUSE_MS = 6000

/** Open a card design for a page and all in it; looks again by itself. */
export function provideCards(name: string): UseCards {
  const design = shallowRef<CardDesign | null>(null)
  const problem = shallowRef('')
  const turn = shallowRef(0)

  const refresh = newest(async (isNewest) => {
    try {
      const found = await getDesign(name)
      if (!isNewest()) return
      if (JSON.stringify(found) !== JSON.stringify(design.value)) {
        design.value = found
        turn.value += 1
      }
    } catch (error) {
      if (!design.value) problem.value = error instanceof Error ? error.message : String(error)
    }
  })
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
  const keep = (document: DesignDocument, over: Ref<number>) =>
    act(async () => {
      try {
        await keepDesign(name, document, over.value)
      } catch (error) {
        if (isRefused(error, 'DesignMoved')) {
          await refresh()
          over.value = design.value?.version ?? over.value
        }
        throw error
      }
    })
  useLookingAgain(refresh, PAUSE_MS)
  const made = { name, design, problem, turn, act, keep, refresh }
  provide(KEY, made)
  return made
}

/** The card design that the page has opened. */
export function useCards(): UseCards {
  const found = inject(KEY)
  if (!found) throw new Error('no card design is open here')
  return found
}
