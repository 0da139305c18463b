import { ref, type Ref } from 'vue'
import { listKinds } from '@/api/groups'
import { listShortlists } from '@/api/shortlists'
import type { GroupKind, Shortlist } from '@/api/types'

export interface UseKinds {
  kinds: Ref<GroupKind[]>
  shortlists: Ref<(Shortlist & { roster: string })[]>
  loadKinds: () => Promise<void>
  /** Of the rosters that have kinds of group. */
  loadShortlists: () => Promise<void>
}

/** The kinds of group that one may see, and the shortlists of their rosters. */
export function useKinds(): UseKinds {
  const kinds = ref<GroupKind[]>([])
  const shortlists = ref<(Shortlist & { roster: string })[]>([])

  async function loadShortlists(): Promise<void> {
    const rosters = [...new Set(kinds.value.map((one) => one.roster))]
    const lists = rosters.map(async (roster) =>
      (await listShortlists(roster)).map((one) => ({ ...one, roster })),
    )
    shortlists.value = (await Promise.all(lists)).flat()
  }

  return {
    kinds,
    shortlists,
    loadKinds: async () => void (kinds.value = await listKinds()),
    loadShortlists,
  }
}
