import { client, take } from './client'
import type { Desk, Place, Job, KeysChosen, Me, Second, SecondBegun } from './types'

/** Who is signed in; null when nobody is. */
export const getSession = async (): Promise<Me | null> =>
  (await take<Me | undefined>(client.GET('/api/session'))) ?? null
export const beginSession = (name: string, password: string, code: string): Promise<Me> =>
  take(client.POST('/api/session', { body: { name, password, code } }))
export const getSecond = (): Promise<Second> => take(client.GET('/api/session/second-step'))
export const beginSecond = (): Promise<SecondBegun> => take(client.POST('/api/session/second-step'))
export const confirmSecond = async (code: string): Promise<string[]> =>
  (await take(client.PUT('/api/session/second-step', { body: { code } }))).codes
export const makeCodes = async (password: string): Promise<string[]> =>
  (await take(client.POST('/api/session/second-step/codes', { body: { password } }))).codes
export const endSecond = (password: string) =>
  take(client.POST('/api/session/second-step/off', { body: { password } }))
export const endSession = (): Promise<unknown> => take(client.DELETE('/api/session'))
export const endOtherSessions = (): Promise<unknown> => take(client.POST('/api/session/others/end'))
export const putKeys = (body: KeysChosen): Promise<KeysChosen> =>
  take(client.PUT('/api/session/keys', { body }))
export const getDesk = (): Promise<Desk> => take(client.GET('/api/desk'))
export const getJob = (job_id: number): Promise<Job> =>
  take(client.GET('/api/jobs/{job_id}', { params: { path: { job_id } } }))
export const search = async (q: string): Promise<Place[]> =>
  (await take(client.GET('/api/search', { params: { query: { q } } }))).places
