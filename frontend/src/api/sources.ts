import { client, take } from './client'
import type { Source, SourceBrief } from './types'

const at = (source_id: number) => ({ params: { path: { source_id } } })

export const listSources = async (): Promise<SourceBrief[]> =>
  (await take(client.GET('/api/sources'))).sources
export const getSource = (id: number): Promise<Source> =>
  take(client.GET('/api/sources/{source_id}', at(id)))
export const putRecipe = (id: number, recipe: Record<string, unknown>) =>
  take(client.PUT('/api/sources/{source_id}/recipe', { ...at(id), body: { recipe } }))
export const recipeAddress = (id: number): string => `/api/sources/${id}/recipe`
