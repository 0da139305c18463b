import { inject, provide, shallowRef, type InjectionKey, type ShallowRef } from 'vue'
import { getDestination, listDestinations } from '@/api/passing'
import type { Destination, DestinationBrief } from '@/api/types'
import { newest } from '@/logic/newest'
import { useLookingAgain } from './useLookingAgain'

export interface UsePassing {
  all: ShallowRef<DestinationBrief[] | null>
  one: ShallowRef<Destination | null>
  problem: ShallowRef<string>
  /** The folder of the server for files: '' where there is none, null to whom it is not to say. */
  outbox: ShallowRef<string | null>
  /** Counts what was seen to change, so that lists load again what they show. */
  turn: ShallowRef<number>
  /** Open another destination. */
  open: (name: string) => Promise<void>
  /** Do something that changes it, and look again; tells whether it was done. */
  act: (doing: () => Promise<unknown>) => Promise<boolean>
  refresh: () => Promise<void>
}

const KEY: InjectionKey<UsePassing> = Symbol('passing')
const PAUSE_MS = 4000
const same = (one: unknown, other: unknown) => JSON.stringify(one) === JSON.stringify(other)

/** Who is told, for a page and all in it; looks again by itself. */
export function providePassing(): UsePassing {
  const all = shallowRef<DestinationBrief[] | null>(null)
  const one = shallowRef<Destination | null>(null)
  const problem = shallowRef('')
  const outbox = shallowRef<string | null>(null)
  const turn = shallowRef(0)
  let name = ''

  const say = (error: unknown) =>
    (problem.value = error instanceof Error ? error.message : String(error))
  const refresh = newest(async (isNewest) => {
    const wanted = name
    try {
      const opening = wanted ? getDestination(wanted) : Promise.resolve(null)
      opening.catch(() => undefined) // it is heard below: who is told is shown without it
      const found = await listDestinations()
      if (!isNewest()) return
      if (!same(found.destinations, all.value)) all.value = found.destinations
      outbox.value = found.outbox
      const opened = await opening
      if (!isNewest()) return
      if (wanted !== name || same(opened, one.value)) return
      one.value = opened
      turn.value += 1
    } catch (error) {
      if (!one.value && wanted === name) say(error)
    }
  })
  async function open(wanted: string): Promise<void> {
    name = wanted
    one.value = null
    problem.value = ''
    await refresh()
  }
  async function act(doing: () => Promise<unknown>): Promise<boolean> {
    problem.value = ''
    try {
      await doing()
      await refresh()
      turn.value += 1
      return true
    } catch (error) {
      say(error)
      await refresh()
      return false
    }
  }
  useLookingAgain(refresh, PAUSE_MS)
  const made = { all, one, problem, outbox, turn, open, act, refresh }
  provide(KEY, made)
  return made
}

/** Who is told, as the page knows it. */
export function usePassing(): UsePassing {
  const found = inject(KEY)
  if (!found) throw new Error('nobody is told from here')
  return found
}
