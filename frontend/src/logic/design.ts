import { readDocument } from './documents'
import type { CardFits, Condition } from '@/api/types'
import { count } from './words'

/** A card design as it is kept, and how it is changed: nothing here alters what it is given. */
export type Kind = 'line' | 'band' | 'photo' | 'picture' | 'symbol'
export type Side = 'front' | 'back'

export interface Piece {
  text?: string
  field?: string
  card?: string
  form?: string
  letters?: number
  word?: number
}
export interface Letters {
  size?: number
  least?: number
  lines?: number
  bold?: boolean
  align?: string
  colour?: string
}
export interface Item {
  kind: Kind
  name: string
  pieces?: Piece[]
  letters?: Letters
  where?: Condition | null
  edge?: string
  width?: number
  height?: number
  fill?: string
  picture?: string
  symbol?: string
  above?: number
  is_needed?: boolean
  is_written?: boolean
  renews?: boolean
}
export interface FaceDocument {
  name: string
  title?: string
  roster: string
  holder: string
  where?: Condition | null
  until?: string
  site?: string
  front?: Item[]
  back?: Item[]
}
export interface NumberRange {
  facility?: number
  first?: number
  last?: number
  site?: string
}
export interface Numbering {
  facility_bits?: number
  number_bits?: number
  before?: string
  digits?: number
  ranges?: NumberRange[]
  rests?: number
  warns?: number
}
export interface DesignDocument {
  name: string
  title: string
  size?: { width?: number; height?: number; margin?: number }
  faces: FaceDocument[]
  register: Record<string, string | string[]>
  numbering?: Numbering
}

/** A card's number as it stands in the register. */
export const written = (number: number, { before, digits }: Numbering): string =>
  `${before ?? ''}${String(number).padStart(digits ?? 0, '0')}`

export const readDesign = (text: string): DesignDocument =>
  readDocument<DesignDocument>(text, 'faces', {
    title: 'card design',
    where: 'Versions',
    lacks: 'it has no faces',
  })

export const ID_1 = { width: 85.6, height: 53.98, margin: 3 }
export const sizeOf = (document: DesignDocument) => ({ ...ID_1, ...document.size })
export const KIND_WORDS: Record<Kind, string> = {
  line: 'line',
  band: 'band',
  photo: 'photograph',
  picture: 'picture',
  symbol: 'code',
}
export const KINDS = Object.keys(KIND_WORDS) as Kind[]
export const SYMBOLS = ['code 128', 'code 39', 'EAN-13', 'QR', 'data matrix'] as const
export const isSquare = (item: Item): boolean =>
  item.kind === 'symbol' && ['QR', 'data matrix'].includes(item.symbol ?? 'code 128')
const LETTERS: Required<Letters> = {
  size: 9,
  least: 7,
  lines: 1,
  bold: false,
  align: 'left',
  colour: 'ink',
}
const OF_BAND = { size: 11, least: 8, bold: true, colour: 'white' }
/** How the words of an item are set, with what is as usual filled in. */
export const lettersOf = (item: Item): Required<Letters> => ({
  ...LETTERS,
  ...(item.kind === 'band' ? OF_BAND : {}),
  ...item.letters,
})
export const isSet = (item: Item): boolean => item.kind === 'line' || item.kind === 'band'
export const hasPieces = (item: Item): boolean => isSet(item) || item.kind === 'symbol'

const EMPTY: Record<Kind, Partial<Item>> = {
  line: { pieces: [], letters: { size: 9, least: 7 } },
  band: { height: 10, fill: 'spruce', pieces: [] },
  photo: { edge: 'left', width: 22, height: 28, is_needed: true },
  picture: { edge: 'right', width: 12, height: 12 },
  symbol: { symbol: 'code 128', pieces: [], height: 8 },
}

/** A name that no item of a face has yet. */
export function freeName(face: FaceDocument, kind: Kind): string {
  const taken = new Set([...(face.front ?? []), ...(face.back ?? [])].map((item) => item.name))
  let number = 1
  while (taken.has(`${kind}-${number}`)) number += 1
  return `${kind}-${number}`
}

export const newItem = (face: FaceDocument, kind: Kind): Item => ({
  kind,
  name: freeName(face, kind),
  ...EMPTY[kind],
})

/** The document with another face in the place of the one of its name. */
export const withFace = (document: DesignDocument, face: FaceDocument): DesignDocument => ({
  ...document,
  faces: document.faces.map((one) => (one.name === face.name ? face : one)),
})

export const withItems = (
  document: DesignDocument,
  face: string,
  side: Side,
  items: Item[],
): DesignDocument => ({
  ...document,
  faces: document.faces.map((one) => (one.name === face ? { ...one, [side]: items } : one)),
})

/** The document with another face: a copy of one, for other people. */
export function copiedFace(document: DesignDocument, name: string): DesignDocument {
  const face = document.faces.find((one) => one.name === name)
  if (!face) return document
  const taken = new Set(document.faces.map((one) => one.name))
  let number = 2
  while (taken.has(`${name}-${number}`)) number += 1
  const title = `${face.title || face.name} ${number}`
  // of two faces the first that fits counts: the copy comes before what it was made of
  const faces = document.faces.flatMap((one) =>
    one.name === name ? [{ ...face, name: `${name}-${number}`, title }, one] : [one],
  )
  return { ...document, faces }
}

/** The list with one of it at another place. */
export function moved<T>(list: readonly T[], from: number, to: number): T[] {
  const rest = list.filter((_, place) => place !== from)
  const target = Math.min(Math.max(to, 0), rest.length)
  return [...rest.slice(0, target), list[from]!, ...rest.slice(target)]
}

/** Name an item by its kind and its place among those of its kind, as the server does. */
export function nameItem(items: readonly Item[], item: Item): string {
  const same = items.filter((one) => one.kind === item.kind)
  const word = KIND_WORDS[item.kind]
  return same.length === 1 && item.kind !== 'line' ? word : `${word} ${same.indexOf(item) + 1}`
}

export const DAY_FORMS = [
  '1 Sep 2026',
  '01.09.2026',
  '2026-09-01',
  '09/2026',
  'Sep 2026',
  '2026',
] as const
export const CARD_WORDS: Record<string, string> = {
  number: 'Card number',
  facility: 'Facility',
  until: 'Valid until, of the card',
  made: 'Day it was made',
}

/** What a piece is, for a person. */
export function sayPiece(piece: Piece, title: (field: string) => string): string {
  if (piece.text) return `“${piece.text}”`
  const name = piece.card ? (CARD_WORDS[piece.card] ?? piece.card) : title(piece.field ?? '')
  const word = piece.word === -1 ? ', last word' : piece.word ? `, word ${piece.word}` : ''
  const letters = piece.letters ? ` 1–${piece.letters}` : ''
  return `${name}${word}${letters}`
}

/** What stands beside an item in the list: its sizes. */
export function sayItem(item: Item): string {
  const letters = lettersOf(item)
  if (item.kind === 'line')
    return letters.least < letters.size
      ? `${letters.size} pt, to ${letters.least}`
      : `${letters.size} pt`
  if (item.kind === 'band') return `${item.height ?? 10} mm, ${item.edge ?? 'top'}`
  if (item.kind === 'symbol') return item.symbol ?? 'code 128'
  return `${item.width ?? 22} × ${item.height ?? 28} mm, ${item.edge ?? 'left'}`
}

/** What does not fit, with the item that it is about. */
export function sayFinding(items: readonly Item[], finding: { item: string; why: string }): string {
  const item = items.find((one) => one.name === finding.item)
  return item ? `${nameItem(items, item)}: ${finding.why}` : finding.why
}

/** How an item is set over everybody who has it. */
export const sayFits = (fits: CardFits): string =>
  [
    fits.plain && `${count(fits.plain)} as it is`,
    fits.smaller && `${count(fits.smaller)} smaller`,
    fits.lines && `${count(fits.lines)} on more lines`,
    fits.empty && `${count(fits.empty)} empty`,
    fits.fails && `${count(fits.fails)} ${fits.fails === 1 ? 'does' : 'do'} not fit`,
  ]
    .filter(Boolean)
    .join(' · ')

export const NEEDS = [
  { key: 'has', word: 'have it', look: 'l-same' },
  { key: 'make', word: 'to make', look: 'l-new' },
  { key: 'anew', word: 'to make anew', look: 'l-changed' },
  { key: 'photo', word: 'no photo', look: 'l-waiting' },
  { key: 'unfit', word: 'does not fit', look: 'l-stopped' },
] as const
export const TAKE_IN = { key: 'take in', word: 'to take in', look: 'l-absent' } as const

/** The words and the look of where somebody stands. */
export const needWords = (need: string) => [...NEEDS, TAKE_IN].find((one) => one.key === need)

/** How many need a card, whether it can be made yet or not. */
export const needOne = (counts: Record<string, number>): number =>
  ['make', 'anew', 'photo', 'unfit'].reduce((sum, key) => sum + (counts[key] ?? 0), 0)
/** How many can be made now. */
export const canMake = (counts: Record<string, number>): number =>
  (counts.make ?? 0) + (counts.anew ?? 0)
