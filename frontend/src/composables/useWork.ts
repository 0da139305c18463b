import { ref, type Ref } from 'vue'
import { client, take } from '@/api/client'
import type { Work } from '@/api/types'

const ASK_MS = 400

export interface UseWork {
  /** What the server does, and how far it is; null when nothing runs, or nothing was heard yet. */
  work: Ref<Work | null>
  /** Send a request that takes its time, under a token by which it is asked how far it is. */
  during: <T>(send: (token: string) => Promise<T>) => Promise<T>
}

/** Hear how far a request is while it runs. */
export function useWork(): UseWork {
  const work = ref<Work | null>(null)

  function during<T>(send: (token: string) => Promise<T>): Promise<T> {
    const token = crypto.randomUUID().replaceAll('-', '')
    const asking = setInterval(() => {
      take(client.GET('/api/work/{token}', { params: { path: { token } } })).then(
        (found) => found.doing && (work.value = found),
        () => undefined,
      )
    }, ASK_MS)
    return send(token).finally(() => {
      clearInterval(asking)
      work.value = null
    })
  }

  return { work, during }
}
