import { client, take } from './client'
import type { Practice } from './types'

export const getPractice = (): Promise<Practice> => take(client.GET('/api/practice'))
export const orderPractice = (): Promise<Practice> => take(client.POST('/api/practice'))
export const throwPracticeAway = (): Promise<Practice> => take(client.DELETE('/api/practice'))
