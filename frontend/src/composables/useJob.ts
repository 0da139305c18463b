import { onBeforeUnmount, shallowRef, type ShallowRef } from 'vue'
import { promiseTimeout } from '@vueuse/core'
import { getJob } from '@/api/session'
import type { Job } from '@/api/types'

const PAUSE_MS = 250

export interface UseJob {
  /** The job while it waits or runs, else null. */
  job: ShallowRef<Job | null>
  follow: (id: number) => Promise<Job | null>
}

/** Follow a job to its end; leaving the page stops the asking, not the job. */
export function useJob(): UseJob {
  const job = shallowRef<Job | null>(null)
  let gone = false
  onBeforeUnmount(() => (gone = true))

  async function follow(id: number): Promise<Job | null> {
    while (!gone) {
      // An answer that does not come (the server starts again) is no end of the job: ask once more.
      const now = await getJob(id).catch(() => job.value)
      if (now && now.state !== 'queued' && now.state !== 'running') {
        job.value = null
        return now
      }
      job.value = now
      await promiseTimeout(PAUSE_MS)
    }
    return null
  }

  return { job, follow }
}
