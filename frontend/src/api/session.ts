import { client, take } from './client'
import type { Desk, Place, Job, KeysChosen, Me } from './types'

/** Who is signed in; null when nobody is. */
export const getSession = async (): Promise<Me | null> =>
  (await take<Me | undefined>(client.GET('/api/session'))) ?? null
export const beginSession = (name: string, password: string): Promise<Me> =>
  take(client.POST('/api/session', { body: { name, password } }))
export const endSession = (): Promise<unknown> => take(client.DELETE('/api/session'))
export const endOtherSessions = (): Promise<unknown> => take(client.POST('/api/session/others/end'))
export const putKeys = (body: KeysChosen): Promise<KeysChosen> =>
  take(client.PUT('/api/session/keys', { body }))
export const getDesk = (): Promise<Desk> => take(client.GET('/api/desk'))
export const getJob = (job_id: number): Promise<Job> =>
  take(client.GET('/api/jobs/{job_id}', { params: { path: { job_id } } }))
export const search = async (q: string): Promise<Place[]> =>
  (await take(client.GET('/api/search', { params: { query: { q } } }))).places
