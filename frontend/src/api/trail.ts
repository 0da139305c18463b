import { client, take } from './client'
import type { Looked, Trail, TrailChecked } from './types'

export interface TrailWanted {
  group: string
  account?: number
  q: string
  first?: string
  last?: string
}

export const listTrail = (query: TrailWanted & { start: number; limit: number }): Promise<Trail> =>
  take(client.GET('/api/trail', { params: { query } }))
export const listLooked = (query: {
  account?: number
  roster: string
  start: number
  limit: number
}): Promise<Looked> => take(client.GET('/api/looked', { params: { query } }))
export const checkTrail = (): Promise<TrailChecked> => take(client.POST('/api/trail/check'))

/** Where what is looked for is to be had as a file. */
export function trailAddress(wanted: TrailWanted): string {
  const said = Object.entries(wanted).filter(([, value]) => value !== undefined && value !== '')
  return `/api/trail/file?${new URLSearchParams(said.map(([name, value]) => [name, String(value)]))}`
}
