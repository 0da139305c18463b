import { computed, onMounted, ref } from 'vue'
import { beginDestination, proposeShare } from '@/api/passing'
import { useCatalog } from './useCatalog'
import { nameOf } from '@/logic/names'
import { byTitle } from '@/logic/choices'
import { readDestination, type DestinationDocument, type Way, type When } from '@/logic/passing'

// those that we do not turn to: they come, or somebody takes it there
const NOWHERE: Way['kind'][] = ['file', 'asked']

/** What a destination begins with; `begin` gives its name, or '' where it could not be. */
export function useBeginDestination(taken: () => string[]) {
  const catalog = useCatalog()
  const title = ref('')
  const roster = ref('')
  const way = ref<Way>({ kind: 'file', format: 'csv' })
  const when = ref<When>({ kind: 'by hand' })
  const brought = ref<DestinationDocument | null>(null)
  const busy = ref(false)
  const problem = ref('')
  onMounted(() => catalog.load().catch((error: Error) => (problem.value = error.message)))
  const rosters = computed(() => byTitle(catalog.state.rosters))
  const ready = computed(
    () =>
      !!title.value.trim() &&
      (!!brought.value ||
        (!!roster.value && (NOWHERE.includes(way.value.kind) || !!way.value.address))),
  )
  const kind = (chosen: Way['kind'] | null) =>
    (way.value =
      !chosen || chosen === 'file'
        ? { kind: 'file', format: 'csv' }
        : chosen === 'asked'
          ? { kind: chosen, writes: 'refused' }
          : { kind: chosen, address: '' })

  async function bring(file: File): Promise<void> {
    problem.value = ''
    try {
      brought.value = readDestination(await file.text())
      title.value ||= brought.value.title
    } catch (error) {
      problem.value = error instanceof Error ? error.message : String(error)
    }
  }
  async function begin(): Promise<string> {
    if (!ready.value || busy.value) return ''
    busy.value = true
    problem.value = ''
    try {
      const called = {
        name: nameOf(title.value, taken(), 'destination'),
        title: title.value.trim(),
      }
      const document: DestinationDocument = brought.value
        ? { ...brought.value, ...called }
        : {
            ...called,
            way: way.value,
            when: when.value,
            shares: [await proposeShare(roster.value, way.value)],
          }
      return await beginDestination(document)
    } catch (error) {
      problem.value = error instanceof Error ? error.message : String(error)
      return ''
    } finally {
      busy.value = false
    }
  }
  return { title, roster, rosters, way, when, brought, busy, problem, ready, kind, bring, begin }
}
