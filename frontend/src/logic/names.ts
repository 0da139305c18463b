const MOST = 40

/**
 * A name as designs and destinations have it, which none has yet: at most 40 small letters, digits
 * and hyphens, beginning with a letter.
 */
export const nameOf = (
  title: string,
  taken: readonly string[] = [],
  otherwise = 'card',
): string => {
  const plain = title
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^[^a-z]+|-+$/g, '')
  const within = (most: number) => (plain || otherwise).slice(0, most).replace(/-+$/, '')
  let [free, number] = [within(MOST), 2]
  for (; taken.includes(free); number += 1)
    free = `${within(MOST - 1 - String(number).length)}-${number}`
  return free
}
