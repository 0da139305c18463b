export const MM_PER_POINT = 25.4 / 72

/** The runs of dark modules of a row: where each begins, and how many they are. */
export function runsOf(row: string): [number, number][] {
  return [...row.matchAll(/1+/g)].map((run) => [run.index, run[0].length])
}
