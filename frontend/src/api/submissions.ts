import { ApiError, client, getToken, take, TOKEN_HEADER } from './client'
import type { LayoutDocument } from '@/logic/layout'
import type {
  ChangeRequests,
  Condition,
  Counted,
  FieldHere,
  LayoutHere,
  PersonInFull,
  PeopleInSubmission,
  RulesHere,
  Submission,
  SubmissionList,
} from './types'

export interface Decided {
  records: number[]
  kind: string
  value?: string
  rule?: string
  reason?: string
  attached?: string
  attachment?: string
}

const at = (submission_id: number) => ({ params: { path: { submission_id } } })
const whole = (said: Decided) => ({
  value: '',
  rule: '',
  reason: '',
  attached: '',
  attachment: '',
  ...said,
})

export const listSubmissions = (): Promise<SubmissionList> => take(client.GET('/api/submissions'))
export const beginSubmission = (
  name: string,
  body: {
    title: string
    side: 'practice' | 'live'
    day: string
    due: string | null
    like: number | null
    instead: boolean
    starts_from: number | null
    layout: LayoutDocument | null
    chosen: Condition | null
  },
): Promise<{ submission: number }> =>
  take(
    client.POST('/api/rosters/{name}/submissions', {
      params: { path: { name } },
      body: {
        roster: name,
        ...body,
        layout: body.layout as unknown as Record<string, never> | null,
        chosen: body.chosen as Record<string, never> | null,
      },
    }),
  )
export const planLayout = (name: string, side: 'practice' | 'live'): Promise<LayoutHere> =>
  take(
    client.GET('/api/rosters/{name}/submission-layout', {
      params: { path: { name }, query: { side } },
    }),
  )
export const getLayout = (id: number): Promise<LayoutHere> =>
  take(client.GET('/api/submissions/{submission_id}/layout', at(id)))
export const putLayout = (id: number, layout: LayoutDocument) =>
  take(
    client.PUT('/api/submissions/{submission_id}/layout', {
      ...at(id),
      body: { layout: layout as unknown as Record<string, never> },
    }),
  )
export const getSubmission = (id: number): Promise<Submission> =>
  take(client.GET('/api/submissions/{submission_id}', at(id)))
export const getPeopleOf = (
  submission_id: number,
  query: { state: string; rule: string; q: string; start: number; limit: number },
): Promise<PeopleInSubmission> =>
  take(
    client.GET('/api/submissions/{submission_id}/people', {
      params: { path: { submission_id }, query },
    }),
  )
export const getRulesOf = (
  submission_id: number,
  which: 'rejected' | 'before' | 'warned',
): Promise<RulesHere> =>
  take(
    client.GET('/api/submissions/{submission_id}/rules', {
      params: { path: { submission_id }, query: { which } },
    }),
  )
export const getPersonOf = (
  submission_id: number,
  record_id: number,
  rule = '',
): Promise<PersonInFull> =>
  take(
    client.GET('/api/submissions/{submission_id}/people/{record_id}', {
      params: { path: { submission_id, record_id }, query: { rule } },
    }),
  )
export const getHeld = async (
  submission_id: number,
  record_id: number,
  rule: string,
): Promise<FieldHere[]> =>
  (
    await take(
      client.GET('/api/submissions/{submission_id}/people/{record_id}/held', {
        params: { path: { submission_id, record_id }, query: { rule } },
      }),
    )
  ).fields
export const decide = (id: number, said: Decided) =>
  take(client.POST('/api/submissions/{submission_id}/decide', { ...at(id), body: whole(said) }))
export const decideNumber = (id: number, records: number[], value: string) =>
  take(
    client.POST('/api/submissions/{submission_id}/numbers', {
      ...at(id),
      body: whole({ records, kind: value ? 'number' : 'clear', value }),
    }),
  )
export const takeTheirs = (
  id: number,
  records: number[],
  fields: string[],
): Promise<{ intake: number }> =>
  take(
    client.POST('/api/submissions/{submission_id}/take-theirs', {
      ...at(id),
      body: { records, fields },
    }),
  )
export const translateCode = (id: number, field: string, ours: string, theirs: string) =>
  take(
    client.POST('/api/submissions/{submission_id}/translate', {
      ...at(id),
      body: { field, ours, theirs },
    }),
  )
export const setPolicy = (id: number, none: boolean, one: number | null) =>
  take(client.POST('/api/submissions/{submission_id}/policy', { ...at(id), body: { none, one } }))
export const takeIn = (id: number) =>
  take(client.POST('/api/submissions/{submission_id}/take-in', at(id)))
export const sendRound = (
  id: number,
  seen: number,
  by_hand: boolean,
  part = '',
  value = '',
): Promise<{ round: number }> =>
  take(
    client.POST('/api/submissions/{submission_id}/send', {
      ...at(id),
      body: { seen, by_hand, part, value },
    }),
  )
export const endRound = (round_id: number) =>
  take(client.POST('/api/rounds/{round_id}/end', { params: { path: { round_id } } }))
export const renameSubmission = (id: number, title: string) =>
  take(client.POST('/api/submissions/{submission_id}/rename', { ...at(id), body: { title } }))
export const closeSubmission = (id: number, back: boolean) =>
  take(client.POST('/api/submissions/{submission_id}/close', { ...at(id), body: { back } }))
export const listRequests = (id: number): Promise<ChangeRequests> =>
  take(client.GET('/api/submissions/{submission_id}/requests', at(id)))
export const countRecords = (
  name: string,
  body: { day: string; like: number | null; instead: boolean; chosen: Condition | null },
): Promise<Counted> =>
  take(
    client.POST('/api/rosters/{name}/submission-count', {
      params: { path: { name } },
      body: { ...body, chosen: body.chosen as Record<string, never> | null },
    }),
  )
export const sendAgain = (round_id: number) =>
  take(client.POST('/api/rounds/{round_id}/again', { params: { path: { round_id } } }))
export const bodyAddress = (round: number, kind: 'json' | 'csv'): string =>
  `/api/rounds/${round}/body?kind=${kind}`
export const answerAddress = (round: number): string => `/api/rounds/${round}/answer`

/** Bring the answer to a round as a file. */
export async function bringAnswer(round: number, file: File): Promise<void> {
  const form = new FormData()
  form.append('file', file)
  const url = `/api/rounds/${round}/answer`
  const response = await fetch(url, {
    method: 'POST',
    body: form,
    headers: { [TOKEN_HEADER]: getToken() },
  })
  if (!response.ok) {
    const problem = (await response.json().catch(() => ({}))) as { detail?: string }
    throw new ApiError(response.status, 'POST', url, problem.detail ?? 'The answer was not taken.')
  }
}
