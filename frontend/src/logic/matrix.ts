import type { Move } from '@/api/types'

export interface Matrix {
  names: string[]
  cells: number[][]
  leaving: number[]
  most: number
}

const NONE = '' // shown as "none", always last

/**
 * Lay moves out from old (rows) to new (columns) over one list of names; people without a value
 * come last.
 */
export function matrixOf(moves: Move[]): Matrix {
  const names = [...new Set(moves.flatMap((move) => [move.old ?? NONE, move.new ?? NONE]))]
  names.sort((a, b) => Number(a === NONE) - Number(b === NONE) || a.localeCompare(b))
  const place = new Map(names.map((name, index) => [name, index]))
  const cells = names.map(() => names.map(() => 0))
  for (const move of moves) {
    const row = cells[place.get(move.old ?? NONE)!]!
    row[place.get(move.new ?? NONE)!]! += move.count
  }
  return {
    names: names.map((name) => name || 'none'),
    cells,
    leaving: cells.map((row) => row.reduce((sum, cell) => sum + cell, 0)),
    most: Math.max(0, ...cells.flat()),
  }
}
