import { client, take } from './client'
import type { ScheduledDone } from './types'

export const scheduleIntake = (
  intake_id: number,
  steps: number,
  roster_version: number,
  typed: number | null,
  day: string,
): Promise<ScheduledDone> =>
  take(
    client.POST('/api/intakes/{intake_id}/schedule', {
      params: { path: { intake_id } },
      body: { steps, roster_version, typed, day },
    }),
  )
export const callOff = (scheduled_id: number, reason: string): Promise<ScheduledDone> =>
  take(
    client.POST('/api/scheduled/{scheduled_id}/call-off', {
      params: { path: { scheduled_id } },
      body: { reason },
    }),
  )
