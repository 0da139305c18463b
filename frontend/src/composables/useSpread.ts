import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { StorageSerializers, useStorage } from '@vueuse/core'
import { useRouter } from 'vue-router'
import { askSpread, getGroups, place } from '@/api/groups'
import { listShortlists } from '@/api/shortlists'
import type { Groups, Shortlist, Spread } from '@/api/types'
import { useCatalog } from './useCatalog'

/** How people are to be spread. */
export interface Asks {
  /** Whether who has a group already may be moved. */
  anew: boolean
  /** Fields in which the groups are to be alike. */
  even: string[]
  apart: string
  together: string
  sizes: boolean
  oneBand: boolean
}
const PLAIN: Asks = { anew: false, even: [], apart: '', together: '', sizes: true, oneBand: true }

/** People of a roster spread over the groups of a kind: what is asked, and what comes of it. */
export function useSpread(name: string, kind: string, shortlist: number) {
  const router = useRouter()
  const catalog = useCatalog()
  const asks = ref<Asks>(PLAIN)
  /** What was asked the last time for this kind of groups, on this machine. */
  const last = useStorage<Asks | null>(`nevefield.spread.${name}.${kind}`, null, undefined, {
    serializer: StorageSerializers.object,
  })
  const groups = shallowRef<Groups | null>(null)
  const shortlists = ref<Shortlist[]>([])
  const who = ref(shortlist)
  const found = shallowRef<Spread | null>(null)
  const given = ref<Record<number, string>>({})
  const asking = ref(false)
  const problem = ref('')
  const fields = computed(() =>
    (catalog.roster(name)?.fields ?? []).filter((one) => groups.value?.fields.includes(one.name)),
  )
  /** People can be even in what many share: codes, yes and no, small numbers. */
  const evenly = computed(() =>
    fields.value.filter((one) => one.code_list || one.type === 'boolean'),
  )
  const altered = computed(
    () =>
      (found.value?.placed ?? []).filter(
        (one) => given.value[one.record] && given.value[one.record] !== one.group,
      ).length,
  )
  /** How many come to and leave a group, what was altered here counted in. */
  function moving(key: string[], part: string): { gets: number; loses: number } {
    const own = key.at(-1)
    const people = (found.value?.placed ?? []).filter((one) => one.part === part)
    const label = found.value?.sizes.find((one) => one.key.join('/') === key.join('/'))?.label
    return {
      gets: people.filter(
        (one) => (given.value[one.record] ?? one.group) === own && one.had !== label,
      ).length,
      loses: people.filter(
        (one) => one.had === label && (given.value[one.record] ?? one.group) !== own,
      ).length,
    }
  }
  function troubles(one: Spread['sizes'][number]): string[] {
    if (one.after === null) return ['no arrangement']
    const { gets, loses } = moving(one.key, one.part)
    const size = one.before + gets - loses
    const { most = 0, least = 0 } = groups.value ?? {}
    return [
      most && size > most ? `${size - most} over` : '',
      least && size && size < least ? `${least - size} too few` : '',
    ].filter(Boolean)
  }

  async function ask(): Promise<void> {
    problem.value = ''
    last.value = { ...asks.value }
    asking.value = true
    found.value = null
    given.value = {}
    try {
      found.value = await askSpread(name, kind, {
        records: null,
        shortlist: who.value || null,
        part: [],
        groups: [],
        anew: asks.value.anew,
        even: asks.value.even,
        apart: asks.value.apart ? [asks.value.apart] : [],
        together: asks.value.together ? [asks.value.together] : [],
        sizes: asks.value.sizes,
        one_band: asks.value.oneBand,
      })
    } catch (error) {
      problem.value = error instanceof Error ? error.message : String(error)
    } finally {
      asking.value = false
    }
  }
  async function review(): Promise<void> {
    if (!found.value) return
    try {
      const moves = Object.fromEntries(
        found.value.placed.map((one) => [String(one.record), given.value[one.record] ?? one.group]),
      )
      const made = await place(name, kind, moves, true)
      await router.push(`/intakes/${made.intake}/changes`)
    } catch (error) {
      problem.value = error instanceof Error ? error.message : String(error)
    }
  }

  watch(
    [who, asks],
    () => {
      found.value = null
      problem.value = ''
    },
    { deep: true },
  )
  onMounted(async () => {
    try {
      await catalog.load()
      ;[groups.value, shortlists.value] = await Promise.all([
        getGroups(name, kind, ''),
        listShortlists(name),
      ])
      if (!who.value && !groups.value.without && shortlists.value[0])
        who.value = shortlists.value[0].id
      const known = new Set(evenly.value.map((field) => field.name))
      const even = last.value?.even.filter((field) => known.has(field)) ?? [...known].slice(0, 2)
      asks.value = { ...PLAIN, ...last.value, even }
    } catch (error) {
      problem.value = error instanceof Error ? error.message : String(error)
    }
  })

  return {
    ...{ groups, shortlists, who, asks, found, given, asking, problem, fields, evenly, altered },
    ...{ moving, troubles, ask, review },
  }
}
