import type { Pattern, Piece } from '@/api/types'

/** What a piece is of: a field, or a column of the file. */
export const COLUMN = 'column '
const BLANK: Piece = { text: '', field: '', heading: '', letters: 0, word: 0 }

export const blankPattern = (): Pattern => ({
  pieces: [],
  case: 'lower',
  plain: true,
  unique: true,
})
export const addPiece = (pattern: Pattern, piece: Partial<Piece>): Pattern => ({
  ...pattern,
  pieces: [...pattern.pieces, { ...BLANK, ...piece }],
})
export const sourceOf = (piece: Piece): string =>
  piece.heading ? COLUMN + piece.heading : (piece.field ?? '')
export function takeFrom(source: string): Partial<Piece> {
  const heading = source.startsWith(COLUMN) ? source.slice(COLUMN.length) : ''
  return { heading, field: heading ? '' : source }
}
/** Whether each piece is of something. */
export const isComplete = (pattern: Pattern): boolean =>
  pattern.pieces.length > 0 &&
  pattern.pieces.every((one) => !!(one.field || one.heading || one.text))

const WORD: Record<number, string> = { 1: ', first word', 2: ', second word', [-1]: ', last word' }
/** "Given names 1 + “.” + Family name": a pattern in words. */
export const sayPattern = (pattern: Pattern, title: (field: string) => string): string =>
  pattern.pieces
    .map((piece) =>
      piece.field
        ? `${title(piece.field)}${WORD[piece.word ?? 0] ?? ''}${piece.letters ? ` 1–${piece.letters}` : ''}`
        : `“${piece.text || piece.heading}”`,
    )
    .join(' + ')
