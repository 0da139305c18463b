import { client, take } from './client'
import { sendForm } from './files'
import type { Choices } from '@/logic/opening'
import type { Opening, OpeningDraft, StartingPeople, Work } from './types'

const at = (opening_id: number) => ({ params: { path: { opening_id } } })

/** Send a file that may become a roster; gives the number under which it waits. */
export const sendForOpening = async (
  file: File,
  sent: (part: number) => void,
  working: (work: Work) => void,
): Promise<number> =>
  (await sendForm<{ opening: number }>('/api/openings', file, {}, sent, working)).opening
export const listDrafts = async (): Promise<OpeningDraft[]> =>
  (await take(client.GET('/api/openings'))).drafts
export const getOpening = (id: number): Promise<Opening> =>
  take(client.GET('/api/openings/{opening_id}', at(id)))
export const putChoices = (id: number, choices: Choices, seen: number): Promise<Opening> =>
  take(
    client.PUT('/api/openings/{opening_id}', {
      ...at(id),
      body: { choices: { ...choices }, seen },
    }),
  )
export const openRoster = (id: number, seen: number) =>
  take(client.POST('/api/openings/{opening_id}/open', { ...at(id), body: { seen } }))
export const forgetOpening = (id: number) =>
  take(client.DELETE('/api/openings/{opening_id}', at(id)))
export const listPeople = async (): Promise<StartingPeople[]> =>
  (await take(client.GET('/api/openings/people'))).people
export const openFromNothing = (people: string, title: string, leave: string[]) =>
  take(client.POST('/api/openings/from-nothing', { body: { people, title, leave } }))
const of = (name: string) => ({ params: { path: { name } } })
export const canTakeBack = async (name: string): Promise<boolean> =>
  (await take(client.GET('/api/rosters/{name}/opening', of(name)))).can_take_back
export const takeBackOpening = (name: string) =>
  take(client.POST('/api/rosters/{name}/opening/take-back', of(name)))
