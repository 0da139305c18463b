import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { beginDesign, beginWithRegister, getDesign } from '@/api/cards'
import type { Field } from '@/api/types'
import { useCatalog } from './useCatalog'
import { ADMINISTER, useSession } from './useSession'
import { begin, guess, guessStates } from '@/logic/begincards'
import { nameOf } from '@/logic/names'
import { byTitle } from '@/logic/choices'
import { readDesign, type DesignDocument } from '@/logic/design'

/** In place of a roster: one that is opened for the cards. */
const OPENED = ' opened'

/** What a card design begins with: whose cards, where they are kept, and which fields say what. */
export function useBeginCards(taken: () => string[]) {
  const catalog = useCatalog()
  const title = ref('')
  const people = ref('')
  const register = ref('')
  const chosen = ref<Record<string, string>>({})
  const busy = ref(false)
  const problem = ref('')

  onMounted(() => catalog.load().catch((error: Error) => (problem.value = error.message)))
  const rosters = computed(() => byTitle(catalog.state.rosters))
  const session = useSession()
  const registers = computed(() => [
    ...((session.state.me?.everywhere ?? 0) >= ADMINISTER
      ? [{ value: OPENED, label: 'a new roster, opened for them' }]
      : []),
    ...rosters.value.filter((one) => one.value !== people.value),
  ])
  const opens = computed(() => register.value === OPENED)
  const fieldsOf = (name: string): Field[] => catalog.roster(name)?.fields ?? []
  const guessed = computed(() => guess(fieldsOf(people.value), fieldsOf(register.value)))
  const value = (name: string) => chosen.value[name] ?? guessed.value[name] ?? ''
  const stateList = computed(
    () => fieldsOf(register.value).find((one) => one.name === guessed.value.state)?.code_list ?? '',
  )
  watch(stateList, (name) =>
    catalog.loadList(name).catch((error: Error) => (problem.value = error.message)),
  )
  const codes = computed(() => catalog.state.lists[stateList.value]?.codes ?? [])
  const inUse = ref('')
  const states = computed(() => {
    const found = guessStates(codes.value)
    return inUse.value ? { ...found, in_use: inUse.value } : found
  })
  const choose = (name: string, field: string | null) =>
    (chosen.value = { ...chosen.value, [name]: field ?? '' })
  const asked = computed(() => {
    const key = ['key', people.value, 'By which number the people are known'] as const
    if (opens.value) return [key]
    return [
      key,
      ['number', register.value, 'The card’s number'],
      ['holder', register.value, 'Whose it is'],
      ['facility', register.value, 'Its facility, if there is one'],
    ] as const
  })
  /** Another design, or one from a file, of which this one is a copy. */
  const like = shallowRef<DesignDocument | null>(null)
  async function take(from: string | File | null): Promise<void> {
    problem.value = ''
    like.value = null
    if (!from) return
    try {
      like.value =
        typeof from === 'string'
          ? ((await getDesign(from)).document as unknown as DesignDocument)
          : readDesign(await from.text())
    } catch (error) {
      problem.value = error instanceof Error ? error.message : String(error)
    }
  }
  const ready = computed(() => !!title.value.trim() && (!!like.value || isComplete.value))
  const isComplete = computed(
    () =>
      !!people.value &&
      !!register.value &&
      (opens.value ? ['key'] : ['key', 'number', 'holder']).every((name) => value(name)) &&
      // without it, cards that are lost would count as in use
      (!stateList.value || !!states.value.in_use),
  )

  /** Begin it; gives its name, or '' where it could not be. */
  async function start(): Promise<string> {
    busy.value = true
    problem.value = ''
    try {
      if (like.value) {
        const called = { name: nameOf(title.value, taken()), title: title.value.trim() }
        return await beginDesign({ ...like.value, ...called })
      }
      const named = { ...guessed.value, ...chosen.value }
      const [whose, kept] = [people.value, register.value]
      const document = begin(title.value.trim(), whose, kept, named, states.value, taken())
      return await (opens.value ? beginWithRegister(document) : beginDesign(document))
    } catch (error) {
      problem.value = error instanceof Error ? error.message : String(error)
      return ''
    } finally {
      busy.value = false
    }
  }
  return {
    title,
    people,
    register,
    busy,
    problem,
    rosters,
    registers,
    fieldsOf,
    value,
    choose,
    asked,
    codes,
    inUse,
    states,
    like,
    take,
    ready,
    start,
  }
}
