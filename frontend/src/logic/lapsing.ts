import { counted } from './words'

interface Words {
  title: string
  said: string
  /** One of what is counted, and several. */
  one: string
  many: string
}

/** What is kept for some days, in words. */
export const KEPT: Record<string, Words> = {
  files: {
    title: 'Files',
    said: 'that were applied or thrown away, since the last that was done with them. Receipts stay.',
    one: 'file',
    many: 'files',
  },
  rows: {
    title: 'Rows of receipts',
    said: 'which line of a file went where. The counts of receipts stay.',
    one: 'row',
    many: 'rows',
  },
  left: {
    title: 'People who left',
    said: 'since they left: they are erased. Who is in the roster again, or kept from it, stays.',
    one: 'person',
    many: 'people',
  },
  trail: {
    title: 'The trail',
    said: 'who did what. What stays can still be checked.',
    one: 'line',
    many: 'lines',
  },
  looked: {
    title: 'Looked at',
    said: 'who saw sensitive fields, and uncovered them.',
    one: 'note',
    many: 'notes',
  },
  letters: {
    title: 'Mails and letters',
    said: 'since they went, and nobody can answer them any more: their texts, and what was answered.',
    one: 'letter',
    many: 'letters',
  },
  passed: {
    title: 'What was sent elsewhere',
    said: 'when a destination was told of whom. What it holds stays known.',
    one: 'time',
    many: 'times',
  },
}

/** What goes tonight, and within thirty days, in words; "nothing" where nothing does. */
export function goesWords(kind: string, goes: { tonight: number; soon: number }): string {
  const words = KEPT[kind]
  if (!words || !goes.soon) return 'nothing within 30 days'
  const some = (n: number) => counted(n, words.one, words.many)
  if (goes.tonight === goes.soon) return `${some(goes.tonight)} tonight`
  const soon = `${some(goes.soon)} within 30 days`
  return goes.tonight ? `${some(goes.tonight)} tonight, ${soon} in all` : soon
}
