import type { CardMark } from '@/api/types'

export const MM_PER_POINT = 25.4 / 72

/** The runs of dark modules of a row: where each begins, and how many they are. */
export function runsOf(row: string): [number, number][] {
  return [...row.matchAll(/1+/g)].map((run) => [run.index, run[0].length])
}

/** The dark modules of a code as one path, those that touch side by side as one. */
export function barsOf(mark: CardMark): string {
  const high = mark.height / mark.rows.length
  const bar = (first: number, many: number, row: number) =>
    `M${mark.x + first * mark.module} ${mark.y + row * high}h${many * mark.module}v${high}h${-many * mark.module}z`
  return mark.rows
    .flatMap((row, number) => runsOf(row).map(([first, many]) => bar(first, many, number)))
    .join('')
}
