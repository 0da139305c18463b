import {
  computed,
  inject,
  provide,
  ref,
  shallowRef,
  type ComputedRef,
  type InjectionKey,
  type Ref,
  type ShallowRef,
} from 'vue'
import { useIntervalFn } from '@vueuse/core'
import { message } from 'ant-design-vue'
import { ApiError } from '@/api/client'
import {
  getCauses,
  getIntake,
  getPulse,
  postRemedy,
  postStep,
  putDue,
  previewRemedy,
  throwAway,
  type RemedyAsked,
} from '@/api/intakes'
import type { Cause, Intake, Step, Tally } from '@/api/types'
import { keepOrder } from '@/logic/causes'
import { useInterrupted, type Act } from './useInterrupted'
import { useSession } from './useSession'

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
  /** A cell that somebody else has set meanwhile, until it is decided whose value stands. */
  conflict: ShallowRef<CellConflict | null>
  /** What the tally would be after a remedy, with nothing kept. */
  preview: (remedy: RemedyAsked) => Promise<Tally | null>
  settle: (remedy: RemedyAsked) => Promise<boolean>
  /** What the end of a session or a lost connection interrupted, in words; "" for nothing. */
  interrupted: ComputedRef<string>
  /** Do what was interrupted, or discard it. */
  goOn: (does: boolean) => Promise<void>
  undo: () => Promise<boolean>
  redo: () => Promise<boolean>
  /** Throw the intake away, or take it back. */
  throwAway: (back: boolean) => Promise<boolean>
  /** Say by which day it has to be in the roster; null for none. */
  setDue: (day: string | null) => Promise<boolean>
}

export interface CellConflict {
  line: number
  field: string
  theirs: string
  yours: string
  by: string
  step: Step
}

const PULSE_MS = 1500
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
      if (isOlder(overview)) return // asked before a step that is shown, and answered after it
      intake.value = overview
      meet(overview)
      causes.value = keepOrder(causes.value, found)
      problem.value = ''
      revision.value += 1
    } catch (error) {
      problem.value = error instanceof Error ? error.message : String(error)
    }
  }

  const isOlder = (found: Intake): boolean =>
    !!intake.value &&
    (found.steps < intake.value.steps || found.roster_version < intake.value.roster_version)

  const session = useSession()
  const { keep, meet, waiting, forget } = useInterrupted(id)
  const conflict = shallowRef<CellConflict | null>(null)
  const previews = new Map<string, Tally>()

  async function preview(remedy: RemedyAsked): Promise<Tally | null> {
    const key = JSON.stringify([intake.value?.steps, intake.value?.roster_version, remedy])
    const known = previews.get(key)
    if (known) return known
    const found = await previewRemedy(id, remedy).catch(() => null)
    if (found) previews.set(key, found.tally)
    return found?.tally ?? null
  }

  let hearing = false

  /**
   * Others work on the intake too: what they did is fetched as soon as there is more than what is
   * shown.
   */
  async function listen(): Promise<void> {
    if (hearing || document.hidden || working.value || !intake.value) return
    hearing = true // what takes longer than a pulse is not fetched, and said, twice
    try {
      await hear()
    } finally {
      hearing = false
    }
  }

  async function hear(): Promise<void> {
    const now = await getPulse(id).catch(() => null)
    const shown = intake.value // as it is by now: a step of one's own may have come between
    if (
      !now ||
      !shown ||
      working.value ||
      (now.steps <= shown.steps && now.version <= shown.roster_version)
    )
      return
    await refresh()
    const last = intake.value?.log.filter((step) => step.number > shown.steps).at(-1)
    if (last && !last.mine) void message.info(`${last.by || 'Somebody'}: ${last.label}`, 4)
  }

  useIntervalFn(() => void listen(), PULSE_MS)

  let underWay: Promise<unknown> = Promise.resolve()

  function act(send: () => Promise<unknown>, what?: Act): Promise<boolean> {
    const doing = doAct(send, what)
    underWay = doing
    return doing
  }

  /**
   * Do one thing at a time: a step made while another is worked out would be about what is not
   * shown any more.
   */
  async function doAct(send: () => Promise<unknown>, what?: Act): Promise<boolean> {
    if (working.value) return false
    working.value = true
    const [seen, whose] = [intake.value?.steps ?? 0, session.state.me?.sign_in ?? '']
    try {
      await send()
      await refresh()
      return true
    } catch (error) {
      if (what) keep(error, what, seen, whose)
      if (!(await meets(error)))
        void message.error(error instanceof Error ? error.message : String(error), 6)
      return false
    } finally {
      working.value = false
    }
  }

  /**
   * Keep a conflict for the dialog that asks whose value stands: once the newest state is there, on
   * which the answer rests.
   */
  async function meets(error: unknown): Promise<boolean> {
    if (
      !(error instanceof ApiError) ||
      error.problem.type !== 'urn:nevefield:CellConflict' ||
      !last
    )
      return false
    const { line, field, theirs, yours, by } = error.problem as unknown as CellConflict
    const step = last
    await refresh()
    conflict.value = { line, field, theirs, yours, by, step }
    return true
  }

  let last: Step | null = null
  const add = (step: Step) =>
    act(() => postStep(id, (last = step), intake.value?.steps ?? null), { step })
  const settle = (remedy: RemedyAsked) => act(() => postRemedy(id, remedy), { remedy })
  const idle = async (): Promise<void> => void (await underWay)

  let undoing: Promise<boolean> = Promise.resolve(false)

  /** Undo what is the last step once those under way are done: two quick keys undo two steps. */
  function undo(which: () => number | null | undefined): Promise<boolean> {
    undoing = undoing.then(async () => {
      await idle()
      const step = which()
      return step ? add({ kind: 'undo', step }) : false
    })
    return undoing
  }

  const made: UseIntake = {
    id,
    intake,
    causes,
    revision,
    working,
    problem,
    refresh,
    add,
    idle,
    conflict,
    preview,
    settle,
    interrupted: computed(() => (intake.value && waiting()?.said) || ''),
    goOn: async (does) => {
      const found = waiting()?.act
      forget()
      if (!does || !found) return
      await ('step' in found ? add(found.step) : settle(found.remedy))
    },
    undo: () => undo(() => intake.value?.undo),
    redo: () => undo(() => intake.value?.redo),
    throwAway: (back) => act(() => throwAway(id, back)),
    setDue: (day) => act(() => putDue(id, day)),
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
