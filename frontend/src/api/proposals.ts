import { client, take } from './client'
import type { Proposal, ProposalDone, Undo } from './types'

/** What of a change set is to be taken back: null for all of it. */
export interface UndoAsked {
  fields: string[] | null
  but: number[]
  as_far: boolean
}

const of = (proposal_id: number) => ({ params: { path: { proposal_id } } })
const back = (change_set_id: number, asked: UndoAsked) => ({
  params: { path: { change_set_id } },
  body: { records: null, ...asked },
})

export const getProposal = (id: number): Promise<Proposal> =>
  take(client.GET('/api/proposals/{proposal_id}', of(id)))
export const proposeIntake = (
  intake_id: number,
  steps: number,
  roster_version: number,
  typed: number | null,
  day = '',
): Promise<ProposalDone> =>
  take(
    client.POST('/api/intakes/{intake_id}/propose', {
      params: { path: { intake_id } },
      body: { steps, roster_version, typed, day: day || null },
    }),
  )
export const approveProposal = (id: number): Promise<ProposalDone> =>
  take(client.POST('/api/proposals/{proposal_id}/approve', of(id)))
export const sendBack = (id: number, reason: string): Promise<ProposalDone> =>
  take(client.POST('/api/proposals/{proposal_id}/send-back', { ...of(id), body: { reason } }))
export const withdraw = (id: number): Promise<ProposalDone> =>
  take(client.POST('/api/proposals/{proposal_id}/withdraw', of(id)))

export const getUndo = (
  change_set_id: number,
  fields: string[] | null,
  start: number,
  limit: number,
): Promise<Undo> =>
  take(
    client.GET('/api/change-sets/{change_set_id}/undo', {
      params: { path: { change_set_id }, query: { ...(fields ? { fields } : {}), start, limit } },
    }),
  )
export const takeBack = (change_set_id: number, asked: UndoAsked) =>
  take(client.POST('/api/change-sets/{change_set_id}/take-back', back(change_set_id, asked)))
export const proposeTakeBack = (change_set_id: number, asked: UndoAsked): Promise<ProposalDone> =>
  take(
    client.POST('/api/change-sets/{change_set_id}/propose-take-back', back(change_set_id, asked)),
  )
