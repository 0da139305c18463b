import { computed, ref, shallowRef, watch, type ComputedRef, type Ref, type ShallowRef } from 'vue'
import { message } from 'ant-design-vue'
import { useRoute, useRouter } from 'vue-router'
import { getDefinition, proposeDefinition, putDefinition, tryDefinition } from '@/api/definitions'
import { getProposal } from '@/api/proposals'
import type {
  CheckDocument,
  Definition,
  DefinitionDocument,
  FieldDocument,
  Proposal,
  Tried,
} from '@/api/types'
import { useAnswer } from './useAnswer'
import { useCatalog } from './useCatalog'
import { useDraft } from './useDraft'
import { ADMINISTER } from './useSession'

const TRY_MS = 500

export interface UseDefinition {
  /** The definition in force. */
  inForce: ShallowRef<Definition | null>
  /** What stands there, altered or not. */
  document: Ref<DefinitionDocument | null>
  proposal: ShallowRef<Proposal | null>
  locked: ComputedRef<boolean>
  altered: ComputedRef<boolean>
  recalled: Ref<string>
  checks: ComputedRef<CheckDocument[]>
  /** What it would break in the records; null while it is not known. */
  tried: ShallowRef<Tried | null>
  problem: Ref<string>
  wrong: Ref<string>
  load: () => Promise<void>
  /** Put it in force, or propose it where two have to approve. */
  write: () => Promise<void>
  putFields: (fields: FieldDocument[]) => void
  putChecks: (checks: CheckDocument[]) => void
  /** Throw away what was altered. */
  letGo: () => Promise<void>
  /** Leave a proposal, and show what is in force. */
  leave: () => Promise<void>
  approved: () => Promise<void>
}

const inForceNow = (number: number) =>
  `version ${number} is in force; every intake is worked out by it from now on.`

/** A roster's definition as it is edited: tried against the records while it is typed. */
export function useDefinition(name: string): UseDefinition {
  const route = useRoute()
  const router = useRouter()
  const catalog = useCatalog()
  const inForce = shallowRef<Definition | null>(null)
  const document = ref<DefinitionDocument | null>(null)
  const proposal = shallowRef<Proposal | null>(null)
  const problem = ref('')
  const level = computed(() => catalog.roster(name)?.level ?? 0)
  /** What is proposed is looked at as it is: nobody alters what somebody approves. */
  const locked = computed(() => level.value < ADMINISTER || proposal.value !== null)
  const checks = computed(() => document.value?.nevefield?.checks ?? [])
  const altered = computed(
    () => JSON.stringify(document.value) !== JSON.stringify(inForce.value?.document),
  )
  const draft = useDraft(
    `definition.${name}`,
    document,
    () => altered.value && !proposal.value && !!inForce.value,
    () => inForce.value,
  )
  /** What is to be said of what stands there, where it was written before a reload or a sign-in. */
  const recalled = ref('')
  const tell = (error: unknown) =>
    (problem.value = error instanceof Error ? error.message : String(error))
  const {
    answer,
    problem: wrong,
    again,
    forget,
  } = useAnswer(
    () => (document.value && !locked.value ? tryDefinition(name, document.value) : null),
    TRY_MS,
  )

  async function load(): Promise<void> {
    try {
      if (!catalog.state.rosters.length) await catalog.load()
      const now = await getDefinition(name)
      inForce.value = now
      proposal.value = route.query.proposal ? await getProposal(Number(route.query.proposal)) : null
      const isInForce = proposal.value?.state === 'approved'
      const shown = isInForce ? now.document : (proposal.value?.document ?? now.document)
      document.value = JSON.parse(JSON.stringify(shown)) as DefinitionDocument
      forget()
      problem.value = ''
      recalled.value = proposal.value ? '' : sayRecalled(now)
    } catch (error) {
      tell(error)
    }
  }

  function sayRecalled(now: Definition): string {
    const over = draft.recall()
    if (!over) return ''
    inForce.value = over // so that it cannot be put over what came between
    const said = 'What you altered before is here again, and not in force yet.'
    if (over.number === now.number) return said
    return (
      `${said} Version ${now.number} came into force meanwhile, and yours does not know it: take ` +
      `yours as JSON, leave it, and alter what is in force.`
    )
  }

  function putFields(fields: FieldDocument[]): void {
    if (document.value) document.value = { ...document.value, fields }
  }

  function putChecks(list: CheckDocument[]): void {
    if (!document.value) return
    const nevefield = { ...document.value.nevefield, checks: list }
    document.value = { ...document.value, nevefield }
  }

  async function write(): Promise<void> {
    if (!document.value || !inForce.value) return
    try {
      if (answer.value?.why) {
        const made = await proposeDefinition(name, document.value, inForce.value.number)
        draft.forget()
        await router.replace({ query: { proposal: made.proposal } })
        await load()
        return
      }
      const done = await putDefinition(name, document.value, inForce.value.number)
      draft.forget()
      void message.success(`V${inForceNow(done.number).slice(1)}`)
      await catalog.load()
      await load()
    } catch (error) {
      tell(error)
    }
  }

  async function letGo(): Promise<void> {
    draft.forget()
    await load()
  }

  async function leave(): Promise<void> {
    draft.forget()
    await router.replace({ query: {} })
    await load()
  }

  async function approved(): Promise<void> {
    void message.success(`Approved: ${inForceNow((inForce.value?.number ?? 0) + 1)}`)
    await catalog.load()
    await leave()
  }

  watch(
    document,
    () => {
      problem.value = ''
      if (altered.value && !proposal.value) again()
    },
    { deep: true },
  )
  return {
    inForce,
    document,
    proposal,
    locked,
    altered,
    recalled,
    checks,
    tried: answer,
    problem,
    wrong,
    load,
    write,
    putFields,
    putChecks,
    letGo,
    leave,
    approved,
  }
}
