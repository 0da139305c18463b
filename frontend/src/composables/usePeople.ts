import { computed, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { getPeople, getPerson, type PeopleState } from '@/api/people'
import type { People, Person, PersonBrief } from '@/api/types'
import { queueOf } from '@/logic/people'
import { useIntake } from './useIntake'
import { PREPARE } from './useSession'

const PAGE = 200

/** The rows of an intake that must be told apart: which they are, the one looked at, and the acts. */
export function usePeople() {
  const route = useRoute()
  const router = useRouter()
  const open = useIntake()
  const { intake, id, revision } = open
  const people = shallowRef<People | null>(null)
  const decided = shallowRef<PersonBrief[]>([])
  const likely = shallowRef<PersonBrief[]>([])
  const person = shallowRef<Person | null>(null)
  const problem = ref('')
  const may = computed(() => (intake.value?.level ?? 0) >= PREPARE && !open.working.value)
  const possible = computed(() => people.value?.people ?? [])
  const groups = computed(() => queueOf(possible.value, decided.value, likely.value))
  const queue = computed(() => groups.value.flatMap((group) => group.people.map((row) => row.line)))
  const line = computed(() => Number(route.query.line) || queue.value[0] || 0)
  /** Whether the pane shows the row that is open: until then nothing can be decided there. */
  const isShown = computed(() => person.value?.line === line.value)
  /** Rows that claim the same record and are not known by a key: one can be kept for all. */
  const rivals = computed(() =>
    (person.value?.rivals ?? [])
      .map((rival) => rival.line)
      .filter((rival) => possible.value.some((row) => row.line === rival)),
  )

  async function load(): Promise<void> {
    try {
      const page = (state: PeopleState) => getPeople(id, state, 0, PAGE)
      const [asked, chosen, certain] = await Promise.all([
        page('possible'),
        page('chosen'),
        page('certain'),
      ])
      decided.value = chosen.people
      likely.value = certain.people
      people.value = asked
      problem.value = ''
    } catch (error) {
      problem.value = error instanceof Error ? error.message : String(error)
    }
  }
  async function show(): Promise<void> {
    const wanted = line.value
    if (!wanted) person.value = null
    else {
      const answer = await getPerson(id, wanted).catch(() => null)
      if (wanted === line.value) person.value = answer
    }
  }
  const pick = (to: number) =>
    void router.replace({ query: { ...route.query, line: to || undefined } })
  function move(by: number): void {
    const place = queue.value.indexOf(line.value)
    const to = queue.value[Math.min(queue.value.length - 1, Math.max(0, place + by))]
    if (to) pick(to)
  }

  /** Do a step for the row that is looked at, and go on to the next that is still to be decided. */
  async function decide(step: () => Promise<boolean>): Promise<void> {
    const here = line.value
    const rest = possible.value.map((row) => row.line)
    const next = rest[rest.indexOf(here) + 1] ?? rest.find((other) => other !== here) ?? 0
    if (await step()) pick(next === here ? 0 : next)
  }
  const choose = (record: number | null) =>
    may.value &&
    isShown.value &&
    void decide(() => open.add({ kind: 'person', choices: [{ line: line.value, record }] }))
  const keepOne = () =>
    may.value &&
    isShown.value &&
    void open.add({
      kind: 'leave_out',
      lines: rivals.value,
      reason: `the same person as line ${line.value}, which is kept`,
    })
  const leave = () =>
    may.value && isShown.value && void open.add({ kind: 'undecided', lines: [line.value] })
  const allNew = () =>
    may.value &&
    void open.add({
      kind: 'person',
      choices: possible.value.map((row) => ({ line: row.line, record: null })),
    })
  const setAside = (kind: 'hold' | 'leave_out', reason: string) =>
    void decide(() => open.add({ kind, lines: [line.value], reason }))

  watch(revision, () => void load(), { immediate: true })
  watch([line, people], () => void show(), { immediate: true })
  return {
    ...{ people, person, groups, line, isShown, rivals, may, problem },
    ...{ pick, move, choose, keepOne, leave, allNew, setAside },
  }
}
