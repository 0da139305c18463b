import type { DefinitionDocument } from '@/api/types'

/** A reference as a definition has it: fields here, and those of a record of a roster. */
export interface Reference {
  fields: string | string[]
  reference: { resource: string; fields: string | string[] }
  nevefield?: { hierarchy?: boolean }
}
export interface Likeness {
  certain?: number
  nobody?: number
  off?: boolean
}
export interface Approval {
  from?: number
  raising?: boolean
}

export const CERTAIN = 98
export const NOBODY = 4

const several = (one: unknown): string[] => [one ?? []].flat() as string[]
/** One name stands alone, as people write it; several as a list. */
const short = (names: string[]): string | string[] => (names.length === 1 ? names[0]! : names)
const own = (document: DefinitionDocument) => document.nevefield ?? {}

/** Names in one text, as the choice of several has them. */
export const joined = (names: string[]): string => names.join('; ')
export const parted = (text: string): string[] =>
  text
    .split(';')
    .map((part) => part.trim())
    .filter(Boolean)

/** The fields of the primary key. */
export const primaryOf = (document: DefinitionDocument): string[] => several(document.primaryKey)
/** Keys beside the primary one: each alone is enough. */
export function keysOf(document: DefinitionDocument): string[][] {
  const primary = joined(primaryOf(document))
  return ((own(document).keys as unknown[]) ?? [])
    .map(several)
    .filter((key) => joined(key) !== primary)
}
export const uniqueOf = (document: DefinitionDocument): string[][] =>
  ((document.uniqueKeys as unknown[]) ?? []).map(several)
export const referencesOf = (document: DefinitionDocument): Reference[] =>
  (document.foreignKeys as Reference[]) ?? []
export const likenessOf = (document: DefinitionDocument): Likeness =>
  (own(document).likeness as Likeness) ?? {}
export const approvalOf = (document: DefinitionDocument): Approval =>
  (own(document).approval as Approval) ?? {}

/** The document with one property of its own set; an empty one goes. */
function withOwn(document: DefinitionDocument, name: string, value: unknown): DefinitionDocument {
  const nevefield: Record<string, unknown> = { ...own(document), [name]: value }
  const isEmpty =
    value === undefined ||
    (typeof value === 'object' && value !== null && !Object.keys(value).length)
  if (isEmpty) delete nevefield[name]
  return { ...document, nevefield }
}
function withPart(
  document: DefinitionDocument,
  name: string,
  value: unknown[],
): DefinitionDocument {
  const altered: DefinitionDocument = { ...document, [name]: value }
  if (!value.length) delete altered[name]
  return altered
}

/** Keys stay as they are when the primary one becomes another: it is no second key of its own. */
export function putPrimary(document: DefinitionDocument, names: string[]): DefinitionDocument {
  const keys = keysOf(document)
  return putKeys({ ...document, primaryKey: short(names) }, keys)
}
export const putKeys = (document: DefinitionDocument, keys: string[][]): DefinitionDocument =>
  withOwn(
    document,
    'keys',
    keys.length ? [primaryOf(document), ...keys].filter((key) => key.length).map(short) : undefined,
  )
export const putUnique = (document: DefinitionDocument, keys: string[][]): DefinitionDocument =>
  withPart(document, 'uniqueKeys', keys)
export const putReferences = (document: DefinitionDocument, all: Reference[]): DefinitionDocument =>
  withPart(document, 'foreignKeys', all)
export function putLikeness(document: DefinitionDocument, to: Likeness): DefinitionDocument {
  const kept: Likeness = { ...to }
  if (!kept.off) delete kept.off
  if (kept.certain === CERTAIN || !kept.certain) delete kept.certain
  if (kept.nobody === NOBODY || kept.nobody === undefined) delete kept.nobody
  return withOwn(document, 'likeness', kept)
}
export function putApproval(document: DefinitionDocument, to: Approval): DefinitionDocument {
  const kept: Approval = { ...to }
  if (!kept.from) delete kept.from
  if (!kept.raising) delete kept.raising
  return withOwn(document, 'approval', kept)
}

/** A reference of one field to one, or of several to as many. */
export const makeReference = (
  fields: string[],
  resource: string,
  targets: string[],
  hierarchy: boolean,
): Reference => ({
  fields: short(fields),
  reference: { resource, fields: short(targets) },
  ...(hierarchy ? { nevefield: { hierarchy } } : {}),
})
