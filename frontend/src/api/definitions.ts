import { client, take } from './client'
import type {
  Definition,
  DefinitionDocument,
  DefinitionVersion,
  FieldValues,
  ProposalDone,
  Tried,
} from './types'

const at = (name: string) => ({ params: { path: { name } } })

export const getDefinition = (name: string): Promise<Definition> =>
  take(client.GET('/api/rosters/{name}/definition', at(name)))
export const getVersion = (name: string, number: number): Promise<DefinitionVersion> =>
  take(
    client.GET('/api/rosters/{name}/definition/versions/{number}', {
      params: { path: { name, number } },
    }),
  )
export const tryDefinition = (name: string, document: DefinitionDocument): Promise<Tried> =>
  take(
    client.POST('/api/rosters/{name}/definition/try', {
      ...at(name),
      body: { document: { ...document }, seen: 0 },
    }),
  )
export const putDefinition = (name: string, document: DefinitionDocument, seen: number) =>
  take(
    client.PUT('/api/rosters/{name}/definition', {
      ...at(name),
      body: { document: { ...document }, seen },
    }),
  )
export const proposeDefinition = (
  name: string,
  document: DefinitionDocument,
  seen: number,
): Promise<ProposalDone> =>
  take(
    client.POST('/api/rosters/{name}/definition/propose', {
      ...at(name),
      body: { document: { ...document }, seen },
    }),
  )
export const openRoster = (document: DefinitionDocument) =>
  take(client.POST('/api/definitions', { body: { document: { ...document }, seen: 0 } }))
export const definitionAddress = (name: string): string =>
  `/api/rosters/${encodeURIComponent(name)}/definition/document`
export const getFieldValues = (name: string, field: string): Promise<FieldValues> =>
  take(
    client.GET('/api/rosters/{name}/fields/{field}/values', { params: { path: { name, field } } }),
  )
/** Gives the name of the code list. */
export const makeListOf = async (name: string, field: string): Promise<string> =>
  (
    await take(
      client.POST('/api/rosters/{name}/fields/{field}/list', { params: { path: { name, field } } }),
    )
  ).name
