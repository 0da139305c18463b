import { computed, ref, watch } from 'vue'
import { decideNumber, getPeopleOf, getPersonOf, setPolicy } from '@/api/submissions'
import type { PersonHere, PersonInFull, Submission } from '@/api/types'
import { focusMarked } from '@/logic/focus'
import { APPROVE, PREPARE } from './useSession'
import { useSubmission } from './useSubmission'

/** What stands for a number that the authority is to give. */
export const NEW = 'NEW'
/** What is marked: the place of a holder, that it is none of them, or nothing yet. */
export const NOBODY = -1
const NOTHING = -2
const MOST = 1000

/** Who of a submission waits for a number, the one looked at with its holders, and the decisions. */
export function useNumbers(submission: () => Submission) {
  const open = useSubmission()
  const waiting = ref<PersonHere[]>([])
  const decided = ref<PersonHere[]>([])
  const record = ref<number | null>(null)
  const person = ref<PersonInFull | null>(null)
  const chosen = ref(NOTHING)
  const may = computed(() => submission().level >= APPROVE)
  const sees = computed(() => submission().level >= PREPARE)
  /** Whether the pane shows whom the list has open: until then nothing can be decided there. */
  const isShown = computed(() => person.value?.record === record.value)
  const list = computed(() => [...waiting.value, ...decided.value])
  async function load(): Promise<void> {
    const query = { rule: '', q: '', start: 0, limit: MOST }
    const [first, second] = await Promise.all([
      getPeopleOf(open.id, { ...query, state: 'to_number' }),
      getPeopleOf(open.id, { ...query, state: 'ready' }),
    ])
    waiting.value = [...first.people].sort((left, right) => left.candidates - right.candidates)
    decided.value = second.people.filter(
      (each) => /number|holder/.test(each.why) && !/by policy|questioned/.test(each.why),
    )
    if (!list.value.some((each) => each.record === record.value))
      record.value = list.value[0]?.record ?? null
  }
  function step(by: number): void {
    const at = list.value.findIndex((each) => each.record === record.value)
    const to = list.value[at + by]
    if (to) record.value = to.record
  }
  /** Decide the number of whom is shown; '' takes the decision back. */
  async function choose(value: string): Promise<void> {
    const now = record.value
    if (now === null || !may.value || !isShown.value) return
    const at = waiting.value.findIndex((each) => each.record === now)
    const next = waiting.value[at + 1]?.record ?? waiting.value[at - 1]?.record ?? now
    if ((await open.act(() => decideNumber(open.id, [now], value))) && value) record.value = next
  }
  /** Marks a holder, or none of them; where only one comes into question it is decided with that. */
  function mark(at: number): void {
    const holders = person.value?.candidates ?? []
    if (!isShown.value || (at !== NOBODY && !holders[at])) return
    chosen.value = at
    if (holders.length < 2) decide()
    else focusMarked()
  }
  /** Decides what is marked: between two people nothing is decided without a second look. */
  function decide(): void {
    const holder = person.value?.candidates[chosen.value]
    if (chosen.value === NOBODY) void choose(NEW)
    else if (holder) void choose(holder.number)
  }
  const policy = (isNone: boolean, limit: number | null) =>
    open.act(() => setPolicy(open.id, isNone, limit))
  watch(() => submission().touched, load, { immediate: true })
  watch(
    [record, () => submission().touched],
    async () => {
      const number = record.value
      const full =
        number === null || !sees.value ? null : await getPersonOf(open.id, number).catch(() => null)
      if (number !== record.value) return
      person.value = full
      chosen.value = full?.candidates.length === 1 ? 0 : NOTHING
    },
    { immediate: true },
  )

  return {
    ...{ waiting, decided, list, record, person, isShown, chosen, may },
    ...{ step, choose, mark, decide, policy },
  }
}
