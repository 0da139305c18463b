import type { CodeList } from '@/api/types'

type Codes = CodeList['codes']

/** Whether a text that is no code looks like one of the list's, or like what a code is called. */
export function asCode(text: string, codes: Codes): { code: string; label: string } {
  const longest = Math.max(0, ...codes.map((one) => one.code.length))
  const spaced = codes.some((one) => one.code.includes(' '))
  const isCode = !codes.length || (text.length <= longest && (spaced || !text.includes(' ')))
  return isCode ? { code: text, label: '' } : { code: '', label: text }
}

/** What codes of the list may belong to: what some belong to already, and the list's own codes where those are among them. */
export function parentsOf(codes: Codes): { value: string; label: string }[] {
  const parents = new Set(codes.map((one) => one.parent).filter(Boolean))
  const own = codes.some((one) => parents.has(one.code))
  const all = own ? [...new Set([...codes.map((one) => one.code), ...parents])] : [...parents]
  return parents.size ? all.sort().map((value) => ({ value, label: `${value} ${codes.find((one) => one.code === value)?.label ?? ''}`.trim() })) : []
}
