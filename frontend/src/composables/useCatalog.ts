import { reactive } from 'vue'
import { getCodeList, listRosters } from '@/api/rosters'
import type { CodeList, Field, Roster } from '@/api/types'

const state = reactive<{ rosters: Roster[]; lists: Record<string, CodeList> }>({
  rosters: [],
  lists: {},
})

export interface UseCatalog {
  state: { rosters: Roster[]; lists: Record<string, CodeList> }
  load: () => Promise<void>
  loadList: (name: string) => Promise<void>
  forget: () => void
  roster: (name: string) => Roster | undefined
  field: (roster: string, name: string) => Field | undefined
  label: (list: string, code: string) => string
}

/** The rosters with their fields, and the code lists as far as they were asked for. */
export function useCatalog(): UseCatalog {
  const roster = (name: string) => state.rosters.find((one) => one.name === name)
  return {
    state,
    load: async () => void (state.rosters = await listRosters()),
    loadList: async (name) => {
      if (name && !state.lists[name]) state.lists[name] = await getCodeList(name)
    },
    forget: () => {
      state.rosters = []
      state.lists = {}
    },
    roster,
    field: (rosterName, name) => roster(rosterName)?.fields.find((one) => one.name === name),
    label: (list, code) => state.lists[list]?.codes.find((one) => one.code === code)?.label ?? '',
  }
}
