import { client, take } from './client'
import type { Copies } from './types'

export const listCopies = (): Promise<Copies> => take(client.GET('/api/copies'))
export const bringBack = (name: string) =>
  take(client.POST('/api/copies/{name}/bring-back', { params: { path: { name } } }))
export const orderCopy = () => take(client.POST('/api/copies'))
