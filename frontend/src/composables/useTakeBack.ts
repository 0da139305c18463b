import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { getProposal, getUndo, proposeTakeBack, takeBack } from '@/api/proposals'
import { getChangeSet } from '@/api/rosters'
import type { ChangeSet, Proposal, ProposalDone, Undo, UndoPerson } from '@/api/types'
import { counted, listed } from '@/logic/words'
import { useCatalog } from './useCatalog'
import { usePages } from './usePages'
import { APPROVE, useSession } from './useSession'

/** What taking a receipt back would do, with what is left as it is, and doing or proposing it. */
export function useTakeBack() {
  const route = useRoute()
  const router = useRouter()
  const catalog = useCatalog()
  const session = useSession()
  const id = Number(route.params.id)
  const receipt = shallowRef<ChangeSet | null>(null)
  const undo = shallowRef<Undo | null>(null)
  const proposal = shallowRef<Proposal | null>(null)
  const problem = ref('')
  const working = ref(false)
  const selected = ref(0)
  /** Fields that stay as they are, and people who do. */
  const fieldsKept = ref(new Set<string>())
  const kept = ref(new Set<number>())
  const whole = shallowRef<Undo | null>(null)
  const level = computed(
    () =>
      session.state.me?.rosters.find((one) => one.name === receipt.value?.roster)?.level ??
      session.state.me?.level ??
      0,
  )
  const chosenFields = computed(() =>
    fieldsKept.value.size
      ? (whole.value?.families ?? [])
          .map((one) => one.field)
          .filter((one) => !fieldsKept.value.has(one))
      : null,
  )
  const goes = computed(() =>
    undo.value ? undo.value.leaves + undo.value.returns + undo.value.values - kept.value.size : 0,
  )
  const isPart = computed(
    () => !!undo.value && (kept.value.size > 0 || fieldsKept.value.size > 0 || undo.value.kept > 0),
  )
  const proposes = computed(() => !!undo.value?.why || level.value < APPROVE)
  const pages = usePages<UndoPerson>(async (start, limit) => {
    const found = await getUndo(id, chosenFields.value, start, limit)
    if (start === 0) {
      undo.value = found
      whole.value ??= found
    }
    return { total: found.total, rows: found.people }
  })
  /** The chosen person in full: a long value does not fit into its line of the list. */
  const person = computed(() => pages.at(selected.value))
  const sentence = computed(() => {
    if (!undo.value) return ''
    const { leaves, returns, values } = undo.value
    const parts = [
      leaves
        ? `${counted(leaves, 'person who joined leaves', 'people who joined leave')} the roster again`
        : '',
      returns ? `${counted(returns, 'person who left returns', 'people who left return')}` : '',
      values
        ? `${counted(values, 'record gets its', 'records get their')} earlier values back`
        : '',
    ]
    return parts.some(Boolean)
      ? `${listed(parts.filter(Boolean))}.`
      : 'There is nothing left of this to take back.'
  })
  const asked = () => ({ fields: chosenFields.value, but: [...kept.value], as_far: isPart.value })

  async function load(): Promise<void> {
    try {
      receipt.value = await getChangeSet(id)
      proposal.value = route.query.proposal ? await getProposal(Number(route.query.proposal)) : null
      await pages.restart()
      problem.value = pages.problem.value
    } catch (error) {
      problem.value = error instanceof Error ? error.message : String(error)
    }
  }

  function toggle(person: UndoPerson | undefined): void {
    if (!person?.does || proposal.value) return
    const next = new Set(kept.value)
    if (!next.delete(person.record)) next.add(person.record)
    kept.value = next
  }
  function toggleField(name: string): void {
    const next = new Set(fieldsKept.value)
    if (!next.delete(name)) next.add(name)
    fieldsKept.value = next
  }

  async function act(): Promise<void> {
    working.value = true
    problem.value = ''
    try {
      if (proposes.value) {
        const done = await proposeTakeBack(id, asked())
        await router.replace({ query: { proposal: done.proposal } })
        await load()
      } else {
        const done = await takeBack(id, asked())
        await shown(done.id)
      }
    } catch (error) {
      problem.value = error instanceof Error ? error.message : String(error)
    } finally {
      working.value = false
    }
  }
  async function shown(number: number): Promise<void> {
    void catalog.load().catch(() => undefined)
    await router.push(`/receipts/${number}`)
  }
  const approved = (done: ProposalDone) => void (done.change_set ? shown(done.change_set) : load())
  watch(fieldsKept, () => void pages.restart())
  onMounted(() => void load())

  return {
    ...{ receipt, undo, proposal, problem, working, selected, pages, whole, person },
    ...{ fieldsKept, kept, level, goes, isPart, proposes, sentence },
    ...{ load, toggle, toggleField, act, approved },
  }
}
