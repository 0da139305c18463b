import type { Code } from '@/api/types'

export interface TreeRow {
  /** The code's place in the list. */
  index: number
  depth: number
  /** A parent that is no code of this list, said above the first of its codes. */
  under: string
}

/**
 * Order codes as a tree: those without a parent first, each with its own below it; parents of
 * another list become headings.
 */
export function asTree(codes: Pick<Code, 'code' | 'parent'>[]): TreeRow[] {
  const own = new Set(codes.map((one) => one.code))
  const below = new Map<string, number[]>()
  codes.forEach((one, index) => {
    const parent = one.parent && one.parent !== one.code ? one.parent : ''
    below.set(parent, [...(below.get(parent) ?? []), index])
  })
  const rows: TreeRow[] = []
  const seen = new Set<number>()
  const walk = (indexes: number[], depth: number): void => {
    for (const index of indexes) {
      if (seen.has(index)) continue
      seen.add(index)
      rows.push({ index, depth, under: '' })
      const code = codes[index]!.code
      if (code) walk(below.get(code) ?? [], depth + 1)
    }
  }
  walk(below.get('') ?? [], 0)
  for (const [parent, indexes] of below) {
    if (!parent || own.has(parent)) continue
    const first = rows.length
    walk(indexes, 1)
    if (rows[first]) rows[first].under = parent
  }
  walk([...codes.keys()], 0) // those in a circle, which the list itself refuses
  return rows
}

/**
 * Where in a year a code may be used: the part of the year before its first day, and up to its
 * last, from 0 to 1.
 */
export function daysInYear(
  first: string | null | undefined,
  last: string | null | undefined,
  year: number,
): { from: number; to: number } {
  const begin = Date.UTC(year, 0, 1)
  const length = Date.UTC(year + 1, 0, 1) - begin
  const at = (day: string, add: number): number =>
    Math.min(1, Math.max(0, (Date.parse(`${day}T00:00:00Z`) + add - begin) / length))
  const from = first && !Number.isNaN(Date.parse(first)) ? at(first, 0) : 0
  const to = last && !Number.isNaN(Date.parse(last)) ? at(last, 86_400_000) : 1
  return { from, to: Math.max(from, to) }
}
