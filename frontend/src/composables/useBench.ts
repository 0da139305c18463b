import {
  computed,
  nextTick,
  ref,
  shallowRef,
  watch,
  type ComputedRef,
  type Ref,
  type ShallowRef,
} from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { getRow, getRows } from '@/api/intakes'
import type { Cause, Row, RowDetail } from '@/api/types'
import { afterGone, inOrder } from '@/logic/causes'
import { useIntake } from './useIntake'
import { usePages, type UsePages } from './usePages'

export interface UseBench {
  pages: UsePages<Row>
  cause: ComputedRef<Cause | undefined>
  outcome: ComputedRef<string>
  text: Ref<string>
  selected: Ref<number>
  row: ComputedRef<Row | undefined>
  detail: ShallowRef<RowDetail | null>
  fields: ComputedRef<string[]>
  openCause: (id: string) => void
  moveCause: (by: number) => void
  moveRow: (by: number) => void
  start: () => Promise<void>
  /**
   * Wait until the rows shown are those of the last step, so that a quick key never acts on a row
   * that has gone.
   */
  ready: () => Promise<void>
}

/**
 * Which cause or outcome is looked at, its rows, and the row that is open; the address holds all
 * three.
 */
export function useBench(usualFields: () => string[]): UseBench {
  const route = useRoute()
  const router = useRouter()
  const { id, causes, revision, idle } = useIntake()
  const text = ref('')
  const selected = ref(0)
  const detail = shallowRef<RowDetail | null>(null)
  const outcome = computed(() => String(route.query.outcome ?? ''))
  const line = computed(() => Number(route.query.line ?? 0))
  const open = computed(() => inOrder(causes.value))
  /** The cause that was looked at last, and the list as it stood then. */
  const looked = ref('')
  const stood = shallowRef<Cause[]>([])
  const cause = computed(() => {
    if (outcome.value || line.value) return undefined
    const wanted = String(route.query.cause ?? '') || looked.value
    return (
      open.value.find((one) => one.id === wanted) ??
      afterGone(wanted, stood.value, open.value) ??
      open.value.find((one) => one.weight !== 'note')
    )
  })
  // The cause that is looked at stays so until it is empty, whatever else is sorted before it; then
  // the next one takes its place.
  watch(
    [cause, open],
    ([now]) => {
      if (!now) return
      if (route.query.cause && now.id !== route.query.cause)
        void router.replace({ query: { ...route.query, cause: now.id } })
      looked.value = now.id
      stood.value = open.value
    },
    { flush: 'post' },
  )
  const fields = computed(() => (cause.value?.fields.length ? cause.value.fields : usualFields()))
  const pages = usePages<Row>(async (start, limit) => {
    const wanted = outcome.value === 'all' ? '' : outcome.value
    const search = line.value ? String(line.value) : text.value
    if (!cause.value && !outcome.value && !line.value && !search) return { total: 0, rows: [] }
    return getRows(id, {
      start,
      limit,
      outcome: wanted,
      cause: cause.value?.id ?? '',
      q: search,
      fields: fields.value.join(','),
    })
  })
  const row = computed(() => (selected.value >= 0 ? pages.at(selected.value) : undefined))

  let starting: Promise<void> = Promise.resolve()
  const start = (): Promise<void> => (starting = load())

  async function ready(): Promise<void> {
    await idle()
    await nextTick() // lets the watchers below begin
    await starting
    await nextTick()
    await opening
    await nextTick()
  }

  async function load(): Promise<void> {
    await pages.restart()
    const wanted = line.value
      ? (pages.pages.value.get(0)?.findIndex((one) => one.line === line.value) ?? -1)
      : selected.value
    selected.value = Math.max(0, Math.min(pages.total.value - 1, wanted))
    await openRow()
  }

  let opening: Promise<void> = Promise.resolve()
  const openRow = (): Promise<void> => (opening = loadRow())

  async function loadRow(): Promise<void> {
    const wanted = row.value?.line
    if (wanted === undefined) {
      detail.value = null
      return
    }
    const found = await getRow(id, wanted).catch(() => null)
    if (row.value?.line === wanted) detail.value = found
  }

  function openCause(wanted: string): void {
    text.value = ''
    selected.value = 0
    void router.replace({ query: { cause: wanted } })
  }

  function moveCause(by: number): void {
    const list = open.value
    const at = list.findIndex((one) => one.id === cause.value?.id)
    const next = list[at < 0 ? 0 : Math.max(0, Math.min(list.length - 1, at + by))]
    if (next) openCause(next.id)
  }

  const moveRow = (by: number) =>
    (selected.value = Math.max(0, Math.min(pages.total.value - 1, selected.value + by)))

  watch([() => cause.value?.id, outcome, line, text], () => {
    selected.value = 0
    void start()
  })
  watch(revision, () => void start())
  watch(
    () => row.value?.line,
    () => void openRow(),
  )
  return {
    pages,
    cause,
    outcome,
    text,
    selected,
    row,
    detail,
    fields,
    openCause,
    moveCause,
    moveRow,
    start,
    ready,
  }
}
