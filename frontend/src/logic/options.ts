/** What the options of checks are, between the editor's words and the definition's JSON; the kinds are the server's. */

export const HOWS = ['same', 'different', 'less', 'more', 'at-most', 'at-least']

const listOf = (said: string): string[] =>
  said
    .split(';')
    .map((one) => one.trim())
    .filter(Boolean)

/** Read pairs of ages, as in "16-17; 18-99"; undefined where one is none. */
function bandsOf(said: string): number[][] | undefined {
  const bands = listOf(said).map((one) => one.match(/^(\d+)\s*[-–]\s*(\d+)$/))
  return bands.length && bands.every(Boolean) ? bands.map((one) => [Number(one![1]), Number(one![2])]) : undefined
}

/** Read what somebody typed for an option; what cannot be read stays as it is, for the server to say what is wrong with it. */
export function readOption(kind: string, said: string): unknown {
  if (said === '') return undefined
  switch (kind) {
    case 'texts':
    case 'fields':
      return listOf(said)
    case 'number':
      return Number.isNaN(Number(said)) ? said : Number(said)
    case 'bands':
      return bandsOf(said) ?? said
    case 'rosters': {
      const pairs = listOf(said).map((one) => one.split('.').map((part) => part.trim()))
      return Object.fromEntries(pairs.map(([roster = '', field = '']) => [roster, field]))
    }
    default:
      return said
  }
}

/** Write an option as it is typed. */
export function showOption(kind: string, value: unknown): string {
  if (value === undefined || value === null) return ''
  if (kind === 'bands' && Array.isArray(value))
    return value.map((one) => (Array.isArray(one) ? one.join('-') : String(one))).join('; ')
  if (kind === 'rosters' && typeof value === 'object')
    return Object.entries(value as Record<string, string>)
      .map((one) => one.join('.'))
      .join('; ')
  return Array.isArray(value) ? value.join('; ') : String(value)
}
