import { client, take } from './client'
import type { Erasure, Goes, Keeping, Lapses } from './types'

const at = (record_id: number) => ({ params: { path: { record_id } } })

export const getKeeping = (record: number): Promise<Keeping> =>
  take(client.GET('/api/records/{record_id}/keeping', at(record)))
/** Gives the number of the job that does it. */
export const erasePerson = async (
  record: number,
  asked_by: string,
  reason: string,
): Promise<number> =>
  (
    await take(
      client.POST('/api/records/{record_id}/erase', { ...at(record), body: { asked_by, reason } }),
    )
  ).job_id
export const holdBack = (record: number, reason: string) =>
  take(client.POST('/api/records/{record_id}/hold-back', { ...at(record), body: { reason } }))
export const release = (record: number) =>
  take(client.POST('/api/records/{record_id}/release', at(record)))
export const listErasures = async (): Promise<Erasure[]> =>
  (await take(client.GET('/api/erasures'))).erasures
/** Where all that is held about a person is to be had. */
export const heldAddress = (record: number, format: 'html' | 'json'): string =>
  `/api/records/${record}/held?format=${format}`
export const listLapses = (): Promise<Lapses> => take(client.GET('/api/keeping'))
/** What would go if something were kept for so many days. */
export const lookAtTerm = (kind: string, days: number): Promise<Goes> =>
  take(client.POST('/api/keeping/look', { body: { kind, days } }))
export const setTerm = (kind: string, days: number | null): Promise<Lapses> =>
  take(client.PUT('/api/keeping', { body: { kind, days } }))
