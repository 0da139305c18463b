import { count, counted } from './words'

const WORDS: Record<string, [string, string]> = {
  versions: ['version of the record', 'versions of the record'],
  rows: ['row of a file', 'rows of files'],
  steps: ['step', 'steps'],
  lines: ['line of a receipt', 'lines of receipts'],
  submitted: ['record as sent', 'records as sent'],
  rounds: ['round as sent or answered', 'rounds as sent or answered'],
  approvals: ['approval', 'approvals'],
  'put off': ['change put off', 'changes put off'],
}

/** What was taken out of where, in words; what is of no use to people is passed over. */
export function erasedWords(counts: Record<string, number>): string {
  const parts = Object.entries(WORDS).flatMap(([name, [one, several]]) =>
    counts[name] ? [counted(counts[name], one, several)] : [],
  )
  return parts.length ? parts.join(', ') : 'the record'
}

/** What remains of somebody who was erased, and until when, in sentences. */
export function remainsWords(counts: Record<string, number>, isRenewed: boolean): string[] {
  const said = isRenewed
    ? []
    : ['What the database keeps in free pages, until its files are written anew at the next start.']
  if (counts['copies before'])
    said.push(
      counts['copies before'] === 1
        ? '1 copy made before holds them until it is deleted by its time.'
        : `${count(counts['copies before'])} copies made before hold them until these are deleted by their time.`,
    )
  if (counts.trail)
    said.push(`${counted(counts.trail, 'line', 'lines')} of the trail, which is sealed.`)
  if (counts['files not read'])
    said.push(
      counts['files not read'] === 1
        ? '1 file could not be read again and was left as it is.'
        : `${count(counts['files not read'])} files could not be read again and were left as they are.`,
    )
  return said.length ? said : ['Nothing.']
}
