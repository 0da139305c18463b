import { client, take } from './client'
import type { Waivers } from './types'

export const listWaivers = (
  name: string,
  query: { start: number; limit: number; record?: number },
): Promise<Waivers> =>
  take(client.GET('/api/rosters/{name}/waivers', { params: { path: { name }, query } }))
export const withdrawWaiver = (waiver_id: number) =>
  take(client.POST('/api/waivers/{waiver_id}/withdraw', { params: { path: { waiver_id } } }))
