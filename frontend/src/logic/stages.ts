/** What the pages of an intake and of a submission are called. */
const TITLES = {
  file: 'File',
  columns: 'Columns',
  problems: 'Problems',
  people: 'People',
  changes: 'Changes',
  rehearsal: 'Rehearsal',
  apply: 'Apply',
  contents: 'Contents',
  before: 'Before sending',
  rejected: 'Rejected',
  numbers: 'Numbers',
  layout: 'Layout',
  rounds: 'Rounds',
}
export const STAGES: typeof TITLES & Record<string, string> = TITLES
