import { client, take } from './client'
import { sendForm } from './files'
import type {
  Cause,
  Changes,
  Columns,
  ComposePreview,
  Created,
  Effect,
  FamilyDetail,
  Intake,
  IntakeList,
  Lines,
  Moved,
  Pattern,
  Pulse,
  Rehearsal,
  Replaced,
  RowDetail,
  Rows,
  Step,
  Where,
  Work,
} from './types'

export interface RemedyAsked {
  cause: string
  kind: string
  value?: string | null
  reason?: string
  until?: string
  lines?: number[] | null
}

const at = (intake_id: number) => ({ params: { path: { intake_id } } })
const asked = <Q>(intake_id: number, query: Q) => ({ params: { path: { intake_id }, query } })
const lineAt = (intake_id: number, line: number) => ({ params: { path: { intake_id, line } } })

export const listIntakes = (query: {
  start: number
  limit: number
  thrown: boolean
}): Promise<IntakeList> => take(client.GET('/api/intakes', { params: { query } }))
export const putDue = (id: number, day: string | null) =>
  take(client.PUT('/api/intakes/{intake_id}/due', { ...at(id), body: { day } }))
export const throwAway = (id: number, back: boolean) =>
  take(client.POST('/api/intakes/{intake_id}/throw-away', { ...at(id), body: { back } }))
export const getIntake = (id: number): Promise<Intake> =>
  take(client.GET('/api/intakes/{intake_id}', at(id)))
export const getLines = (id: number, start: number, limit: number): Promise<Lines> =>
  take(client.GET('/api/intakes/{intake_id}/lines', asked(id, { start, limit })))
export const getColumns = (id: number): Promise<Columns> =>
  take(client.GET('/api/intakes/{intake_id}/columns', at(id)))
export const getCauses = async (id: number): Promise<Cause[]> =>
  (await take(client.GET('/api/intakes/{intake_id}/causes', at(id)))).causes
export const getRows = (
  id: number,
  query: {
    start: number
    limit: number
    outcome: string
    cause: string
    q: string
    fields: string
    ready?: boolean
  },
): Promise<Rows> => take(client.GET('/api/intakes/{intake_id}/rows', asked(id, query)))
export const getRow = (id: number, line: number): Promise<RowDetail> =>
  take(client.GET('/api/intakes/{intake_id}/rows/{line}', lineAt(id, line)))
export const getWhere = (id: number, line: number): Promise<Where> =>
  take(client.GET('/api/intakes/{intake_id}/where/{line}', lineAt(id, line)))
export const getChanges = (id: number): Promise<Changes> =>
  take(client.GET('/api/intakes/{intake_id}/changes', at(id)))
export const getFamily = (
  id: number,
  family: string,
  start: number,
  limit: number,
): Promise<FamilyDetail> =>
  take(client.GET('/api/intakes/{intake_id}/family', asked(id, { family, start, limit })))
export const postStep = (id: number, step: Step, seen: number | null = null) =>
  take(client.POST('/api/intakes/{intake_id}/steps', { ...at(id), body: { step, seen } }))
export const postRemedy = (id: number, remedy: RemedyAsked) =>
  take(
    client.POST('/api/intakes/{intake_id}/remedies', {
      ...at(id),
      body: { reason: '', until: '', value: null, lines: null, seen: null, ...remedy },
    }),
  )
export const previewRemedy = (id: number, remedy: RemedyAsked): Promise<Effect> =>
  take(
    client.POST('/api/intakes/{intake_id}/remedies/preview', {
      ...at(id),
      body: { reason: '', until: '', value: null, lines: null, seen: null, ...remedy },
    }),
  )
export const postReplace = (
  id: number,
  asked: { field: string; find: string; put: string; whole: boolean; cause: string },
): Promise<Replaced> =>
  take(client.POST('/api/intakes/{intake_id}/replace', { ...at(id), body: asked }))
export const getPulse = (id: number): Promise<Pulse> =>
  take(client.GET('/api/intakes/{intake_id}/pulse', at(id)))
export const getMoved = (id: number, version: number): Promise<Moved> =>
  take(client.GET('/api/intakes/{intake_id}/moved', asked(id, { version })))
export const postApply = (
  id: number,
  steps: number,
  roster_version: number,
  typed: number | null,
) =>
  take(
    client.POST('/api/intakes/{intake_id}/apply', {
      ...at(id),
      body: { steps, roster_version, typed },
    }),
  )

export const previewPattern = (
  id: number,
  field: string,
  pattern: Pattern,
): Promise<ComposePreview> =>
  take(
    client.POST('/api/intakes/{intake_id}/compose-preview', {
      ...at(id),
      body: { field, pattern: { ...pattern } },
    }),
  )
export const getRehearsal = (
  id: number,
  of: 'five' | 'sample' | 'all',
  start: number,
  limit: number,
): Promise<Rehearsal> =>
  take(client.GET('/api/intakes/{intake_id}/rehearsal', asked(id, { of, start, limit })))

export const errorSheetAddress = (id: number, format: 'xlsx' | 'csv'): string =>
  `/api/intakes/${id}/errors?format=${format}`

/** Send a file that becomes an intake. */
export const sendFile = (
  file: File,
  roster: string,
  onPart: (part: number) => void,
  onWork: (work: Work) => void,
): Promise<Created> =>
  sendForm<Created>('/api/intakes', file, roster ? { roster } : {}, onPart, onWork)
