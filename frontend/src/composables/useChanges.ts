import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { getChanges, getFamily, getRows } from '@/api/intakes'
import type {
  ChangedPerson,
  Changes,
  FamilyDetail,
  Field,
  Move,
  Roster,
  Row,
  Step,
} from '@/api/types'
import { useCatalog } from './useCatalog'
import { useIntake } from './useIntake'
import { usePages } from './usePages'
import { PREPARE } from './useSession'

export type Changed = ChangedPerson & { values?: Row['values'] }

/**
 * Of those who join, the fields that say who they are: the required and the coded ones that are no
 * names.
 */
export const tellingOf = (roster: Roster | undefined): Field[] =>
  roster?.fields
    .filter(
      (one) =>
        !one.is_key &&
        !one.means.endsWith('-name') &&
        !one.several &&
        (one.required || one.code_list),
    )
    .slice(0, 5) ?? []

/** A page of the people of one kind of change. */
export async function familyPeople(
  intake: number,
  key: string,
  telling: Field[],
  start: number,
  limit: number,
): Promise<{ total: number; rows: Changed[]; detail: FamilyDetail | null }> {
  if (key !== 'join') {
    const found = await getFamily(intake, key, start, limit)
    return { total: found.total, rows: found.people, detail: found }
  }
  const joining = await getRows(intake, {
    start,
    limit,
    outcome: 'new',
    cause: '',
    q: '',
    ready: true,
    fields: telling.map((one) => one.name).join(','),
  })
  const rows = joining.rows.map((one) => ({ ...one, old: null, new: null, act: '' }))
  return { total: joining.total, rows, detail: null }
}

/** What an intake would change: the kinds of change, and the people of the one looked at. */
export function useChanges() {
  const route = useRoute()
  const router = useRouter()
  const catalog = useCatalog()
  const open = useIntake()
  const { id, intake, revision } = open
  const changes = shallowRef<Changes | null>(null)
  const moves = shallowRef<Move[]>([])
  const detail = shallowRef<FamilyDetail | null>(null)
  const problem = ref('')
  const selected = ref(0)
  const may = computed(() => (intake.value?.level ?? 0) >= PREPARE && !open.working.value)
  const key = computed(() => {
    const known = changes.value?.families.filter((one) => one.count) ?? []
    return (
      known.find((one) => one.key === route.query.family)?.key ??
      String(route.query.family ?? known[0]?.key ?? 'join')
    )
  })
  const family = computed(() => changes.value?.families.find((one) => one.key === key.value))
  const field = computed(() => catalog.field(intake.value?.roster ?? '', key.value))
  const isField = computed(() => !!field.value)
  const telling = computed(() => tellingOf(catalog.roster(intake.value?.roster ?? '')))
  const pages = usePages<Changed>(async (start, limit) => {
    const found = await familyPeople(id, key.value, telling.value, start, limit)
    if (start === 0) {
      moves.value = found.detail?.moves ?? []
      detail.value = found.detail
    }
    return found
  })
  /**
   * Memberships that end because another takes their place; what is shown of them is their last day.
   */
  const isBeside = computed(() => key.value === 'beside')
  async function load(): Promise<void> {
    try {
      changes.value = await getChanges(id)
      detail.value = null
      if (field.value?.code_list) await catalog.loadList(field.value.code_list)
      selected.value = 0
      await pages.restart()
      problem.value = ''
    } catch (error) {
      problem.value = error instanceof Error ? error.message : String(error)
    }
  }

  const choose = (wanted: string) => void router.replace({ query: { family: wanted } })
  function move(by: number): void {
    const keys = changes.value?.families.filter((one) => one.count).map((one) => one.key) ?? []
    const next = keys[Math.max(0, Math.min(keys.length - 1, keys.indexOf(key.value) + by))]
    if (next) choose(next)
  }

  /**
   * Tick one person out: the roster's value stays for them; of the absent, nothing is done to them,
   * or what is done to all.
   */
  function tick(person: Changed | undefined): void {
    if (!person || !may.value) return
    if (isField.value && person.line)
      void open.add({ kind: 'update', field: key.value, rule: 'ours', lines: [person.line] })
    else if (key.value === 'absent' && person.record)
      void open.add(actOf(person.record, person.act === 'stay'))
  }
  function actOf(record: number, takesPart: boolean): Step {
    const said = detail.value
    if (!takesPart || !said || said.act === 'stay')
      return { kind: 'absent', act: 'stay', records: [record] }
    return {
      kind: 'absent',
      act: said.act,
      field: said.end_field,
      day: said.end_day,
      reason: said.act === 'hold' ? 'as the others' : '',
      records: [record],
    }
  }

  watch([revision, key], () => void load())
  onMounted(() => void load())
  return {
    ...{ changes, moves, detail, problem, selected, pages },
    ...{ key, family, field, isField, isBeside, telling, may },
    ...{ choose, move, tick },
  }
}
