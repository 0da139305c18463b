import { client, take } from './client'
import type { Limits, People, Person } from './types'

export type PeopleState = 'possible' | 'certain' | 'nobody' | 'chosen'

export const getPeople = (
  intake_id: number,
  state: PeopleState,
  start: number,
  limit: number,
): Promise<People> =>
  take(
    client.GET('/api/intakes/{intake_id}/people', {
      params: { path: { intake_id }, query: { state, start, limit } },
    }),
  )
export const getPerson = (intake_id: number, line: number): Promise<Person> =>
  take(
    client.GET('/api/intakes/{intake_id}/people/{line}', { params: { path: { intake_id, line } } }),
  )
export const tryLimits = (intake_id: number, certain: number, nobody: number): Promise<Limits> =>
  take(
    client.GET('/api/intakes/{intake_id}/people/limits', {
      params: { path: { intake_id }, query: { certain, nobody } },
    }),
  )
