import { client, take } from './client'
import type { ActIn, Created, Shortlist, ShortlistIn } from './types'

/**
 * Which records are meant: those named, those of a shortlist, or all that the filters let through.
 */
export interface Meant {
  records: number[] | null
  shortlist: number | null
  q: string
  filter: string[]
  everybody: boolean
}

export const listShortlists = async (name: string): Promise<Shortlist[]> =>
  (await take(client.GET('/api/rosters/{name}/shortlists', { params: { path: { name } } })))
    .shortlists
export const keepShortlist = (
  name: string,
  asked: Partial<ShortlistIn> & { title: string },
): Promise<Shortlist> =>
  take(
    client.POST('/api/rosters/{name}/shortlists', {
      params: { path: { name } },
      body: {
        records: [],
        change_set: null,
        live: null,
        q: '',
        filter: [],
        is_shared: true,
        outcome: 'new',
        ...asked,
      },
    }),
  )
export const changeShortlist = (
  shortlist_id: number,
  add: number[],
  remove: number[],
): Promise<Shortlist> =>
  take(
    client.POST('/api/shortlists/{shortlist_id}/records', {
      params: { path: { shortlist_id } },
      body: { add, remove },
    }),
  )
export const dropShortlist = (shortlist_id: number) =>
  take(client.DELETE('/api/shortlists/{shortlist_id}', { params: { path: { shortlist_id } } }))
export const changeMany = (
  name: string,
  meant: Meant,
  acts: ActIn[],
  work = '',
): Promise<Created> =>
  take(
    client.POST('/api/rosters/{name}/change-many', {
      params: { path: { name } },
      body: { ...meant, acts, title: '', work },
    }),
  )
