import { client, take } from './client'
import type {
  ChangeSet,
  CodeList,
  CodeListBrief,
  CodesCompared,
  Compared,
  Edited,
  Life,
  Merged,
  Outcome,
  ReceiptLines,
  Records,
  Roster,
} from './types'

export interface RecordsAsked {
  start: number
  limit: number
  sort: string
  down: boolean
  q: string
  filter: string[]
  as_of?: string
  shortlist?: number
}

export const uncoverRoster = (name: string, reason: string) =>
  take(client.POST('/api/rosters/{name}/uncover', { params: { path: { name } }, body: { reason } }))
export const coverRoster = (name: string) =>
  take(client.POST('/api/rosters/{name}/cover', { params: { path: { name } } }))
export const listRosters = async (): Promise<Roster[]> =>
  (await take(client.GET('/api/rosters'))).rosters
export const listRecords = (name: string, query: RecordsAsked): Promise<Records> =>
  take(client.GET('/api/rosters/{name}/records', { params: { path: { name }, query } }))
export const getRecord = (record_id: number): Promise<Life> =>
  take(client.GET('/api/records/{record_id}', { params: { path: { record_id } } }))
export const editRecord = (
  record_id: number,
  values: Record<string, string>,
  reason: string,
  day = '',
  until = '',
): Promise<Edited> =>
  take(
    client.POST('/api/records/{record_id}/edit', {
      params: { path: { record_id } },
      body: { values, reason, day: day || null, until: until || null },
    }),
  )
export const compareStates = (
  name: string,
  query: { old: string; new: string; family: string; start: number; limit: number },
): Promise<Compared> =>
  take(client.GET('/api/rosters/{name}/compare', { params: { path: { name }, query } }))
export const comparedAddress = (name: string, old: string, now: string): string =>
  `/api/rosters/${encodeURIComponent(name)}/compare/export?` +
  new URLSearchParams({ old, new: now }).toString()
export const listChangeSets = async (name: string): Promise<ChangeSet[]> =>
  (await take(client.GET('/api/rosters/{name}/change-sets', { params: { path: { name } } })))
    .change_sets
export const getChangeSet = (change_set_id: number): Promise<ChangeSet> =>
  take(client.GET('/api/change-sets/{change_set_id}', { params: { path: { change_set_id } } }))
export const getReceiptLines = (change_set_id: number, outcome: Outcome): Promise<ReceiptLines> =>
  take(
    client.GET('/api/change-sets/{change_set_id}/lines', {
      params: { path: { change_set_id }, query: { outcome, start: 0, limit: 1000 } },
    }),
  )
export const listCodeLists = async (): Promise<CodeListBrief[]> =>
  (await take(client.GET('/api/codes'))).lists
export const getCodeList = (name: string): Promise<CodeList> =>
  take(client.GET('/api/codes/{name}', { params: { path: { name } } }))
export const putCodeList = (
  name: string,
  codes: Omit<CodeList['codes'][number], 'used'>[],
  seen: number,
): Promise<CodeList> =>
  take(client.PUT('/api/codes/{name}', { params: { path: { name } }, body: { codes, seen } }))
export const postCode = (
  name: string,
  code: Omit<CodeList['codes'][number], 'used'>,
): Promise<unknown> =>
  take(client.POST('/api/codes/{name}/codes', { params: { path: { name } }, body: code }))
export function requestSheetAddress(
  name: string,
  format: 'xlsx' | 'csv',
  source: string,
  fields: string[],
): string {
  const query = new URLSearchParams([
    ['format', format],
    ['source', source],
    ...fields.map((one) => ['field', one]),
  ])
  return `/api/rosters/${encodeURIComponent(name)}/request-sheet?${query.toString()}`
}
export function exportAddress(name: string, format: string, asOf: string, shortlist = 0): string {
  const query = new URLSearchParams({ format })
  if (asOf) query.set('as_of', asOf)
  if (shortlist) query.set('shortlist', String(shortlist))
  return `/api/rosters/${encodeURIComponent(name)}/export?${query.toString()}`
}
export const mergeCode = async (
  name: string,
  asked: { code: string; into: string; retire: boolean; look: boolean },
): Promise<Merged[]> =>
  (await take(client.POST('/api/codes/{name}/merge', { params: { path: { name } }, body: asked })))
    .rosters
export const compareCodes = (name: string, file: File): Promise<CodesCompared> => {
  const form = new FormData()
  form.append('file', file)
  return take(
    client.POST('/api/codes/{name}/compare', { params: { path: { name } }, body: form as never }),
  )
}
export const codesAddress = (name: string): string => `/api/codes/${encodeURIComponent(name)}/file`
export const beginList = async (title: string): Promise<string> =>
  (await take(client.POST('/api/codes', { body: { title } }))).name
