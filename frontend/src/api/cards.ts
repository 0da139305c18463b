import { client, take } from './client'
import { saveMade, sendForm } from './files'
import type {
  Card,
  CardDesign,
  CardDesignBrief,
  CardPeople,
  CardRun,
  CardRunRow,
  CardTried,
  CardsOfPerson,
  CardTrouble,
  CardVersion,
  CardWhose,
  PhotosBrought,
  Work,
} from './types'
import type { DesignDocument } from '@/logic/design'

/** A document as the client sends it: what it holds is the server's to check. */
const asJson = (document: DesignDocument) => document as unknown as Record<string, unknown>
const path = (design: string) => ({ path: { design } })

export const listDesigns = (): Promise<CardDesignBrief[]> =>
  take(client.GET('/api/cards')).then((found) => found.designs)
export const getDesign = (design: string): Promise<CardDesign> =>
  take(client.GET('/api/cards/{design}', { params: path(design) }))
export const beginDesign = (document: DesignDocument): Promise<string> =>
  take(client.POST('/api/cards', { body: { document: asJson(document) } })).then(
    (made) => made.name,
  )
/** Begin a design, and open the roster in which its cards are kept. */
export const beginWithRegister = (document: DesignDocument): Promise<string> =>
  take(client.POST('/api/cards/with-register', { body: { document: asJson(document) } })).then(
    (made) => made.name,
  )
export const keepDesign = (
  design: string,
  document: DesignDocument,
  version: number,
): Promise<number> =>
  take(
    client.PUT('/api/cards/{design}', {
      params: path(design),
      body: { document: asJson(document), version },
    }),
  ).then((made) => made.version)
export const listVersions = (design: string): Promise<CardVersion[]> =>
  take(client.GET('/api/cards/{design}/versions', { params: path(design) })).then(
    (found) => found.versions,
  )
export interface PeopleQuery {
  need: '' | 'has' | 'make' | 'anew' | 'photo' | 'unfit' | 'take in'
  text: string
  shortlist?: number
  start: number
  limit: number
}
export const listPeople = (design: string, query: PeopleQuery): Promise<CardPeople> =>
  take(client.GET('/api/cards/{design}/people', { params: { ...path(design), query } }))
export const layCard = (
  design: string,
  document: DesignDocument | null,
  record: number | null,
  face: string,
): Promise<{ card: Card | null; troubles: CardTrouble[] }> =>
  take(
    client.POST('/api/cards/{design}/card', {
      params: path(design),
      body: { document: document && asJson(document), record, face },
    }),
  )
export const tryDesign = (design: string, document: DesignDocument | null): Promise<CardTried> =>
  take(
    client.POST('/api/cards/{design}/try', {
      params: path(design),
      body: { document: document && asJson(document), record: null, face: '' },
    }),
  )
export const listRuns = (design: string): Promise<CardRunRow[]> =>
  take(client.GET('/api/cards/{design}/runs', { params: path(design) })).then((found) => found.runs)
export const makeRun = (
  design: string,
  asked: {
    records: number[] | null
    anew: boolean
    count: number | null
    seen: number | null
    work: string
  },
): Promise<number> =>
  take(client.POST('/api/cards/{design}/runs', { params: path(design), body: asked })).then(
    (made) => made.run,
  )
export const getRun = (design: string, run_id: number): Promise<CardRun> =>
  take(client.GET('/api/cards/{design}/runs/{run_id}', { params: { path: { design, run_id } } }))
export const handOver = (
  design: string,
  given: { cards: number[]; scanned: string; is_over: boolean },
): Promise<{ cards: number; name: string }> =>
  take(client.POST('/api/cards/{design}/handed', { params: path(design), body: given }))
export const markCard = (
  design: string,
  card_id: number,
  what: 'lost' | 'spoiled' | 'returned',
): Promise<unknown> =>
  take(
    client.POST('/api/cards/{design}/register/{card_id}', {
      params: { path: { design, card_id } },
      body: { what },
    }),
  )
export const findWhose = (design: string, scanned: string): Promise<CardWhose> =>
  take(client.GET('/api/cards/{design}/whose', { params: { ...path(design), query: { scanned } } }))
export const bringPhotos = (
  design: string,
  file: File,
  onPart: (part: number) => void,
  onWork: (work: Work) => void,
): Promise<PhotosBrought> => sendForm(`/api/cards/${design}/photos`, file, {}, onPart, onWork)
export const bringPicture = (design: string, file: File): Promise<string> =>
  sendForm<{ digest: string }>(
    `/api/cards/${design}/pictures`,
    file,
    {},
    () => undefined,
    () => undefined,
  ).then((made) => made.digest)
export const getCardsOf = (record_id: number): Promise<CardsOfPerson> =>
  take(client.GET('/api/records/{record_id}/cards', { params: { path: { record_id } } }))
export const setFrame = (record_id: number, frame: number[]): Promise<unknown> => {
  const [x, y, width, height] = frame as [number, number, number, number]
  return take(
    client.PUT('/api/records/{record_id}/photo', {
      params: { path: { record_id } },
      body: { x, y, width, height },
    }),
  )
}
export const forgetPhoto = (record_id: number): Promise<unknown> =>
  take(client.DELETE('/api/records/{record_id}/photo', { params: { path: { record_id } } }))
export const saveSheets = (
  design: string,
  run: number,
  paper: string,
  work: string,
): Promise<void> =>
  saveMade(
    `/api/cards/${design}/runs/${run}/sheets?paper=${paper}&work=${work}`,
    `${design} run ${run} ${paper}.pdf`,
  )
