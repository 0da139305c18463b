import type { CodeList } from '@/api/types'

type Codes = CodeList['codes']

/** Whether a text that is no code looks like one of the list's, or like what a code is called. */
export function asCode(text: string, codes: Codes): { code: string; label: string } {
  const longest = Math.max(0, ...codes.map((one) => one.code.length))
  const spaced = codes.some((one) => one.code.includes(' '))
  const isCode = !codes.length || (text.length <= longest && (spaced || !text.includes(' ')))
  return isCode ? { code: text, label: '' } : { code: '', label: text }
}

/**
 * What codes of the list may belong to: what some belong to already, and the list's own codes where
 * those are among them.
 */
export function parentsOf(codes: Codes): { value: string; label: string }[] {
  const parents = new Set(codes.map((one) => one.parent).filter(Boolean))
  const own = codes.some((one) => parents.has(one.code))
  const all = own ? [...new Set([...codes.map((one) => one.code), ...parents])] : [...parents]
  return parents.size
    ? all.sort().map((value) => ({
        value,
        label: `${value} ${codes.find((one) => one.code === value)?.label ?? ''}`.trim(),
      }))
    : []
}

/**
 * What somebody else wrote into a list since it was looked at: codes that are not here, and those
 * that are not as they were.
 */
export function writtenMeanwhile(
  before: Codes,
  theirs: Codes,
  draft: Codes,
): { added: Codes; altered: string[] } {
  const [had, here] = [
    new Map(before.map((one) => [one.code, one])),
    new Set(draft.map((one) => one.code)),
  ]
  const told = (one: Codes[number]) => JSON.stringify({ ...one, used: 0 })
  const altered = theirs
    .filter((one) => had.has(one.code) && told(had.get(one.code)!) !== told(one))
    .map((one) => one.code)
  return { added: theirs.filter((one) => !had.has(one.code) && !here.has(one.code)), altered }
}
