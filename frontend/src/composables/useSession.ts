import { reactive, readonly } from 'vue'
import { beginSession, endOtherSessions, endSession, getSession, putKeys } from '@/api/session'
import { setToken, whenSignedOut } from '@/api/client'
import { setZone } from '@/logic/clock'
import type { KeysChosen, Me } from '@/api/types'

export const LEVELS = ['none', 'look', 'prepare', 'approve', 'administer'] as const
export const PREPARE = 2
export const APPROVE = 3
export const ADMINISTER = 4

const state = reactive<{ me: Me | null; asked: boolean }>({ me: null, asked: false })

function hold(me: Me | null): void {
  state.me = me
  state.asked = true
  setToken(me?.token ?? '')
  setZone(me?.zone ?? '')
}
whenSignedOut(() => hold(null))

export interface UseSession {
  state: { readonly me: Me | null; readonly asked: boolean }
  find: () => Promise<void>
  /** Look again, and leave all as it is when nothing answers. */
  look: () => Promise<void>
  begin: (name: string, password: string, code?: string) => Promise<void>
  end: () => Promise<void>
  endOthers: () => Promise<void>
  /** Choose the keys by which one works. */
  chooseKeys: (keys: KeysChosen) => Promise<void>
}

/** The one session of this window. */
export function useSession(): UseSession {
  return {
    state: readonly(state) as UseSession['state'],
    find: async () => hold(await getSession().catch(() => null)),
    look: async () => {
      await getSession().then(hold, () => undefined)
    },
    begin: async (name, password, code = '') => hold(await beginSession(name, password, code)),
    end: async () => {
      await endSession().catch(() => undefined)
      hold(null)
    },
    endOthers: async () => {
      await endOtherSessions()
      hold(await getSession())
    },
    chooseKeys: async (keys) => {
      const kept = await putKeys(keys)
      if (state.me) state.me = { ...state.me, keys: kept }
    },
  }
}
