import { client, take } from './client'
import type { Doubles, MergedRecords } from './types'

export const listDoubles = (name: string): Promise<Doubles> =>
  take(
    client.GET('/api/rosters/{name}/doubles', {
      params: { path: { name }, query: { start: 0, limit: 50 } },
    }),
  )
export const sayTwo = (name: string, one: number, other: number): Promise<unknown> =>
  take(client.POST('/api/rosters/{name}/two', { params: { path: { name } }, body: { one, other } }))
export const mergeRecords = (
  name: string,
  asked: { keep: number; gone: number; take: string[]; version: number },
): Promise<MergedRecords> =>
  take(client.POST('/api/rosters/{name}/merge', { params: { path: { name } }, body: asked }))
