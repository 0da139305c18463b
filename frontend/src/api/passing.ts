import { client, take } from './client'
import type {
  Delivered,
  Destination,
  DestinationList,
  DestinationVersion,
  FetchAddress,
  PassedRows,
  Went,
} from './types'
import type { DestinationDocument, Share, Way } from '@/logic/passing'

/** A document as the client sends it: what it holds is the server's to check. */
const asJson = (document: unknown) => document as Record<string, unknown>
const path = (destination: string) => ({ path: { destination } })

export const listDestinations = (): Promise<DestinationList> =>
  take(client.GET('/api/destinations'))
export const getDestination = (name: string): Promise<Destination> =>
  take(client.GET('/api/destinations/{destination}', { params: path(name) }))
export const beginDestination = (document: DestinationDocument): Promise<string> =>
  take(client.POST('/api/destinations', { body: { document: asJson(document) } })).then(
    (made) => made.name,
  )
export const proposeShare = (roster: string, way: Way): Promise<Share> =>
  take(client.POST('/api/destinations/propose', { body: { roster, way: asJson(way) } })).then(
    (made) => made.share as unknown as Share,
  )
export const keepDestination = (
  name: string,
  document: DestinationDocument,
  version: number,
): Promise<number> =>
  take(
    client.PUT('/api/destinations/{destination}', {
      params: path(name),
      body: { document: asJson(document), version },
    }),
  ).then((made) => made.version)
export const listDestinationVersions = (name: string): Promise<DestinationVersion[]> =>
  take(client.GET('/api/destinations/{destination}/versions', { params: path(name) })).then(
    (found) => found.versions,
  )
export type Place = '' | 'in step' | 'to send' | 'refused' | 'held' | 'to end' | 'not theirs'
export interface RowsQuery {
  place: Place
  text: string
  code?: string
  start: number
  limit: number
}
export const listPassed = (name: string, query: RowsQuery): Promise<PassedRows> =>
  take(client.GET('/api/destinations/{destination}/records', { params: { ...path(name), query } }))
export const listDelivered = (name: string, before: number): Promise<Delivered[]> =>
  take(
    client.GET('/api/destinations/{destination}/delivered', {
      params: { ...path(name), query: { before } },
    }),
  ).then((found) => found.acts)
export const tell = (name: string, seen: number, ends: number | null): Promise<number> =>
  take(
    client.POST('/api/destinations/{destination}/tell', {
      params: path(name),
      body: { seen, ends },
    }),
  ).then((made) => made.job)
export const compareWith = (name: string): Promise<number> =>
  take(client.POST('/api/destinations/{destination}/compare', { params: path(name) })).then(
    (made) => made.job,
  )
export const makeAddress = (name: string): Promise<FetchAddress> =>
  take(client.POST('/api/destinations/{destination}/address', { params: path(name) }))
export const holdBack = (name: string, records: number[], reason: string): Promise<number> =>
  take(
    client.POST('/api/destinations/{destination}/hold', {
      params: path(name),
      body: { records, reason },
    }),
  ).then((made) => made.records)
export const decideOf = (
  name: string,
  records: number[],
  what: 'again' | 'anew' | 'same',
): Promise<number> =>
  take(
    client.POST('/api/destinations/{destination}/decide', {
      params: path(name),
      body: { records, what },
    }),
  ).then((made) => made.records)
export const keepToken = (name: string, token: string): Promise<unknown> =>
  take(client.PUT('/api/destinations/{destination}/token', { params: path(name), body: { token } }))
export const switchOn = (name: string, on: boolean): Promise<unknown> =>
  take(client.POST('/api/destinations/{destination}/switch', { params: path(name), body: { on } }))
export const traceRecord = (record_id: number): Promise<Went[]> =>
  take(client.GET('/api/records/{record_id}/passing', { params: { path: { record_id } } })).then(
    (found) => found.destinations,
  )
