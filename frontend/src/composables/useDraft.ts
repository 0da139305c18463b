import { watch, type Ref } from 'vue'
import { StorageSerializers, useSessionStorage } from '@vueuse/core'
import {
  onBeforeRouteLeave,
  onBeforeRouteUpdate,
  type RouteLocationNormalized as Place,
} from 'vue-router'
import { ask } from './useAsk'
import { useSession } from './useSession'

interface Kept {
  /** Whose it is: somebody else who signs in at this window never sees it. */
  whose: string
  /** What it was written over, as JSON, and what was written. */
  over: string
  text: string
}

const PREFIX = 'nevefield.draft.'

/**
 * What somebody is writing, kept until it is saved or thrown away: over a reload, a session that
 * ends, a connection that is lost. It is kept in this window alone, and goes with it. Who leaves
 * the page is asked first.
 *
 * @param name what is written, such as `codes.ports`
 * @param draft what is written, as data
 * @param isChanged whether it is another than what is kept on the server
 * @param over what is kept on the server, over which it is written
 */
export function useDraft<Draft, Base extends object>(
  name: string,
  draft: Ref<Draft>,
  isChanged: () => boolean,
  over: () => Base | null,
) {
  const session = useSession()
  const kept = useSessionStorage<Kept | null>(`${PREFIX}${name}`, null, {
    serializer: StorageSerializers.object,
    flush: 'sync', // before the page goes, with whatever ended the session
  })
  const whose = () => session.state.me?.sign_in ?? ''
  let recalled = false

  watch(
    draft,
    () => {
      if (!recalled || !whose()) return
      kept.value = isChanged()
        ? { whose: whose(), over: JSON.stringify(over()), text: JSON.stringify(draft.value) }
        : null
    },
    { deep: true },
  )

  /**
   * Put back what was written, once what is kept on the server is there. Gives over what it was
   * written, or null for nothing: where that is older by now, saving has to meet what came between.
   */
  function recall(): Base | null {
    recalled = true
    const found = kept.value
    if (!found || found.whose !== whose()) return null
    draft.value = JSON.parse(found.text) as Draft
    return JSON.parse(found.over) as Base
  }
  const forget = () => void (kept.value = null)

  /** A session that has ended asks nothing: what was written is there after signing in again. */
  async function mayLeave(to: Place, from: Place): Promise<boolean> {
    if (!isChanged() || !session.state.me || to.path === from.path) return true
    const leaves = await ask({
      title: 'Not everything is saved',
      said: 'What you altered here is lost when you leave the page now.',
      act: 'Leave without saving',
      not: 'Stay here',
    })
    if (leaves) forget()
    return leaves
  }
  onBeforeRouteLeave(mayLeave)
  onBeforeRouteUpdate(mayLeave)
  return { recall, forget }
}

/** Whether who is signed in has something unsaved of a name, such as `edit.17`. */
export function hasDraft(name: string): boolean {
  const kept = JSON.parse(sessionStorage.getItem(`${PREFIX}${name}`) ?? 'null') as Kept | null
  return !!kept && kept.whose === useSession().state.me?.sign_in
}

/** Nothing that somebody wrote stays in the window after signing out. */
export function forgetDrafts(): void {
  for (const key of Object.keys(sessionStorage))
    if (key.startsWith(PREFIX)) sessionStorage.removeItem(key)
}
