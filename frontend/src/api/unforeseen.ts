import { client, take } from './client'
import type { Unforeseen } from './types'

export const listUnforeseen = (): Promise<Unforeseen[]> =>
  take(client.GET('/api/unforeseen')).then((found) => found.unforeseen)
export const settleUnforeseen = (number: number) =>
  take(client.POST('/api/unforeseen/{number}/settle', { params: { path: { number } } }))
