import type { components } from './schema'

type Schemas = components['schemas']

export type KeysChosen = Schemas['Keys']
export type Me = Schemas['Me']
export type Desk = Schemas['DeskOut']
export type OpenItem = Schemas['OpenItem']
export type RosterOnDesk = Schemas['RosterOnDesk']
export type PastChange = Schemas['PastChange']
export type Tally = Schemas['TallyOut']
export type Job = Schemas['JobOut']
export type Place = Schemas['Place']
export type Roster = Schemas['RosterOut']
export type Field = Schemas['FieldOut']
export type RecordRow = Schemas['RecordRow']
export type Records = Schemas['RecordsOut']
export type Life = Schemas['LifeOut']
export type LifeEntry = Schemas['LifeEntry']
export type ChangeSet = Schemas['ChangeSetOut']
export type ReceiptLines = Schemas['ReceiptLines']
export type CodeListBrief = Schemas['CodeListBrief']
export type CodeList = Schemas['CodeListOut']
export type Code = Schemas['CodeInUse']
export type IntakeBrief = Schemas['IntakeBrief']
export type Fill = Schemas['FillOut']
export type IntakeList = Schemas['IntakeList']
export type Intake = Schemas['IntakeOut']
export type Created = Schemas['Created']
export type Corrections = Schemas['CorrectionsOut']
export type StepEntry = Schemas['StepOut']
export type Lines = Schemas['LinesOut']
export type Line = Schemas['LineOut']
export type Columns = Schemas['ColumnsOut']
export type Column = Schemas['ColumnOut']
export type SparkPart = Schemas['SparkPart']
export type Unfilled = Schemas['UnfilledOut']
export type Cause = Schemas['CauseOut']
export type Remedy = Schemas['RemedyOut']
export type People = Schemas['PeopleOut']
export type PersonBrief = Schemas['PersonBrief']
export type Person = Schemas['PersonOut']
export type Candidate = Schemas['CandidateOut']
export type PersonField = Schemas['PersonField']
export type Limits = Schemas['LimitsOut']
export type KeyChoice = Schemas['KeyChoice']
export type Takes = Schemas['IntakeOut']['takes']
export type Row = Schemas['RowOut']
export type Rows = Schemas['RowsOut']
export type RowDetail = Schemas['RowDetail']
export type RowField = Schemas['RowField']
export type Finding = Schemas['FindingOut']
export type Changes = Schemas['ChangesOut']
export type Family = Schemas['FamilyOut']
export type FamilyDetail = Schemas['FamilyDetail']
export type ChangedPerson = Schemas['ChangedPerson']
export type Move = Schemas['Move']
export type ComposePreview = Schemas['ComposePreview']
export type Rehearsal = Schemas['RehearsalOut']
export type RehearsedRow = Schemas['RehearsedRow']
export type SourceBrief = Schemas['SourceBrief']
export type Source = Schemas['SourceOut']
export type Effect = Schemas['EffectOut']
export type Pulse = Schemas['PulseOut']
export type Replaced = Schemas['ReplaceOut']
export type Definition = Schemas['DefinitionOut']
export type CheckKind = Schemas['CheckKind']
export type CheckOption = Schemas['CheckOption']
export type Tried = Schemas['TriedOut']
/** A field of a Table Schema document, with our own properties under `nevefield`. */
export interface FieldDocument {
  name: string
  title?: string
  type?: string
  format?: string
  constraints?: Record<string, unknown>
  nevefield?: Record<string, unknown>
}
export type CheckDocument = { check: string; fields: string[] } & Record<string, unknown>
export interface DefinitionDocument {
  name: string
  title?: string
  fields: FieldDocument[]
  primaryKey?: string | string[]
  nevefield?: { checks?: CheckDocument[] } & Record<string, unknown>
  [other: string]: unknown
}
/** A condition on a record: a comparison, or several joined. */
export type Condition = {
  field?: string
  all?: Condition[]
  any?: Condition[]
  none?: Condition[]
} & Record<string, unknown>
export type Proposal = Schemas['ProposalOut']
export type ProposalDone = Schemas['ProposalDone']
export type Undo = Schemas['UndoOut']
export type UndoPerson = Schemas['UndoPerson']
export type Edited = Schemas['EditOut']
export type Scheduled = Schemas['ScheduledOut']
export type ScheduledDone = Schemas['ScheduledDone']
export type Ahead = Schemas['AheadOut']
export type Compared = Schemas['ComparedOut']
export type ComparedPerson = Schemas['ComparedPerson']
export type Moved = Schemas['MovedOut']
export type Doubles = Schemas['DoublesOut']
export type Double = Schemas['DoubleOut']
export type DoubleField = Schemas['DoubleField']
export type MergedRecords = Schemas['MergedRecords']
export type Merged = Schemas['MergedOut']
export type CodesCompared = Schemas['CodesCompared']
export type Work = Schemas['WorkOut']
export type Where = Schemas['WhereOut']

export type Weight = 'stop' | 'ask' | 'note'
export type Outcome = Row['outcome']
export type Value = string | string[] | null
/** One piece of a pattern: a text as it stands, or letters of a field. */
export interface Piece {
  text: string
  field: string
  heading: string
  letters: number
  word: number
}
export interface Pattern {
  pieces: Piece[]
  case: 'lower' | 'upper' | 'as it is'
  plain: boolean
  unique: boolean
}
export type Step = { kind: string } & Record<string, unknown>
export type Shortlist = Schemas['ShortlistOut']
export type ShortlistIn = Schemas['ShortlistIn']
export type ActIn = Schemas['ActIn']
export type GroupKind = Schemas['GroupKindOut']
export type Groups = Schemas['GroupsOut']
export type Group = Schemas['GroupOut']
export type Members = Schemas['MembersOut']
export type Member = Schemas['MemberOut']
export type Spread = Schemas['SpreadOut']
export type SpreadIn = Schemas['SpreadIn']
export type Placed = Schemas['PlacedOut']
export type Rules = Schemas['RulesOut']
export type Rule = Schemas['RuleOut']
export type RuleIn = Schemas['RuleIn']
export type Submission = Schemas['SubmissionOut']
export type SubmissionLine = Schemas['SubmissionLine']
export type SubmissionList = Schemas['SubmissionList']
export type StandingTally = Schemas['StandingTally']
export type PeopleInSubmission = Schemas['PeopleHere']
export type PersonHere = Schemas['PersonHere']
export type PersonInFull = Schemas['PersonInFull']
export type FieldHere = Schemas['FieldHere']
export type Holder = Schemas['HolderOut']
export type RuleHere = Schemas['RuleHere']
export type RulesHere = Schemas['RulesHere']
export type Round = Schemas['RoundHere']
export type LayoutHere = Schemas['LayoutOut']
export type Waivers = Schemas['WaiverList']
export type Waiver = Schemas['WaiverOut']
export type Unforeseen = Schemas['UnforeseenOut']
export type ChangeRequests = Schemas['RequestsOut']
export type ChangeRequest = Schemas['RequestHere']
export type Counted = Schemas['CountOut']
export type Opening = Schemas['OpeningOut']
export type OpeningColumn = Schemas['OpeningColumn']
export type OpeningCode = Schemas['OpeningCode']
export type OpeningDraft = Schemas['DraftOut']
export type StartingPeople = Schemas['StartingPeople']
export type Account = Schemas['AccountOut']
export type Accounts = Schemas['AccountsOut']
export type Second = Schemas['SecondOut']
export type SecondBegun = Schemas['SecondBegun']
export type DefinitionVersion = Schemas['VersionOut']
export type Keeping = Schemas['KeepingOut']
export type Erasure = Schemas['ErasureOut']
export type Looked = Schemas['LookedOut']
export type Program = Schemas['ProgramOut']
export type TokenMade = Schemas['TokenMadeOut']
export type AccountIn = Schemas['AccountIn']
export type LinkMade = Schemas['LinkMadeOut']
export type LinkLook = Schemas['LinkOut']
export type Lapse = Schemas['LapseOut']
export type Lapses = Schemas['LapsesOut']
export type Goes = Schemas['GoesOut']
export type FieldValues = Schemas['FieldValues']
export type Practice = Schemas['PracticeOut']
export type FirstLook = Schemas['FirstOut']
export type Trail = Schemas['TrailOut']
export type TrailChecked = Schemas['TrailChecked']
export type Copies = Schemas['CopiesOut']
