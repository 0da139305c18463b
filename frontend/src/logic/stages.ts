/** What the pages of an intake, of a submission and of a card design are called. */
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
  needed: 'Needed',
  design: 'Design',
  runs: 'Runs',
  ranges: 'Numbers',
}
export const STAGES: typeof TITLES & Record<string, string> = TITLES
