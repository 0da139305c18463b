import { ref, shallowRef, type Ref, type ShallowRef } from 'vue'

const PAGE = 200

export interface Page<T> {
  total: number
  rows: T[]
}

export interface UsePages<T> {
  total: Ref<number>
  loading: Ref<boolean>
  problem: Ref<string>
  pages: ShallowRef<ReadonlyMap<number, T[]>>
  at: (index: number) => T | undefined
  need: (first: number, last: number) => void
  restart: () => Promise<void>
}

/**
 * Hold a long list of which only the pages looked at are fetched. Old rows stay until the first
 * page of a new start is there; answers that come after a newer start are thrown away.
 */
export function usePages<T>(
  fetchPage: (start: number, limit: number) => Promise<Page<T>>,
): UsePages<T> {
  const total = ref(0)
  const loading = ref(false)
  const problem = ref('')
  const pages = shallowRef<ReadonlyMap<number, T[]>>(new Map())
  const asked = new Set<number>()
  let turn = 0

  async function load(page: number, mine: number): Promise<void> {
    asked.add(page)
    try {
      const answer = await fetchPage(page * PAGE, PAGE)
      if (mine !== turn) return
      total.value = answer.total
      problem.value = ''
      pages.value =
        page === 0 && asked.size === 1
          ? new Map([[0, answer.rows]])
          : new Map(pages.value).set(page, answer.rows)
    } catch (error) {
      if (mine !== turn) return
      asked.delete(page)
      problem.value = String(error instanceof Error ? error.message : error)
    }
  }

  async function restart(): Promise<void> {
    turn += 1
    asked.clear()
    loading.value = true
    const mine = turn
    await load(0, mine)
    if (mine === turn) loading.value = false
  }

  function need(first: number, last: number): void {
    for (
      let page = Math.floor(first / PAGE);
      page <= Math.floor(Math.max(first, last) / PAGE);
      page += 1
    ) {
      if (!asked.has(page) && page * PAGE < total.value) void load(page, turn)
    }
  }

  const at = (index: number): T | undefined =>
    pages.value.get(Math.floor(index / PAGE))?.[index % PAGE]
  return { total, loading, problem, pages, at, need, restart }
}
