import { computed, ref, watch, type ComputedRef, type Ref } from 'vue'
import { useLocalStorage } from '@vueuse/core'
import { useRoute, useRouter } from 'vue-router'
import type { RecordsAsked } from '@/api/rosters'
import type { Field, Roster } from '@/api/types'

const SHOWN = 8
const keptColumns = (name: string) => `nevefield:columns:${name}`

export interface UseRosterView {
  text: Ref<string>
  filters: Ref<string[]>
  sort: Ref<string>
  down: Ref<boolean>
  day: Ref<string>
  /** The number of the shortlist that is shown; 0 for all records. */
  shortlist: Ref<number>
  columns: ComputedRef<Field[]>
  chosen: Ref<string[]>
  asked: ComputedRef<Omit<RecordsAsked, 'start' | 'limit'>>
  sortBy: (key: string) => void
  clear: () => void
}

/** Read names that were kept; what is none, as somebody may have put there, counts for nothing. */
function readNames(text: string): string[] {
  try {
    const kept: unknown = JSON.parse(text)
    return Array.isArray(kept) ? kept.map(String) : []
  } catch {
    return []
  }
}

/**
 * What of a roster is looked at; the address holds it, the choice of columns stays in this browser.
 */
export function useRosterView(
  name: string,
  roster: ComputedRef<Roster | undefined>,
): UseRosterView {
  const route = useRoute()
  const router = useRouter()
  const text = ref(String(route.query.q ?? ''))
  const filters = ref([route.query.filter ?? []].flat().map(String))
  const sort = ref(String(route.query.sort ?? ''))
  const down = ref(route.query.down === '1')
  const day = ref(String(route.query.day ?? ''))
  const shortlist = ref(Number(route.query.shortlist ?? 0))
  const chosen = useLocalStorage<string[]>(keptColumns(name), [], {
    serializer: { read: readNames, write: JSON.stringify },
    writeDefaults: false,
  })
  const columns = computed(() => {
    const fields = roster.value?.fields ?? []
    const wanted = fields.filter((one) => chosen.value.includes(one.name))
    return wanted.length
      ? wanted
      : fields.filter((one) => one.required || one.is_key || one.code_list).slice(0, SHOWN)
  })
  const asked = computed(() => ({
    sort: sort.value,
    down: down.value,
    q: text.value,
    filter: filters.value,
    ...(day.value ? { as_of: day.value } : {}),
    ...(shortlist.value ? { shortlist: shortlist.value } : {}),
  }))

  function sortBy(key: string): void {
    down.value = sort.value === key ? !down.value : false
    sort.value = key
  }

  function clear(): void {
    text.value = ''
    filters.value = []
    day.value = ''
    shortlist.value = 0
  }

  watch(asked, () => {
    const query = {
      q: text.value || undefined,
      filter: filters.value,
      sort: sort.value || undefined,
      down: down.value ? '1' : undefined,
      day: day.value || undefined,
      shortlist: shortlist.value || undefined,
      record: route.query.record,
    }
    void router.replace({ query })
  })
  return { text, filters, sort, down, day, shortlist, columns, chosen, asked, sortBy, clear }
}
