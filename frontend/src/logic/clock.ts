/** The institution's clock: what day it is there, and at what time there something was. */
export interface ClockTime {
  /** ISO 8601. */
  day: string
  /** 24 hours: 09:05. */
  time: string
}

let shown = formatOf('')

function formatOf(zone: string): Intl.DateTimeFormat {
  // Swedish dates are written as ISO 8601 has them.
  return new Intl.DateTimeFormat('sv-SE', {
    year: 'numeric',
    month: '2-digit',
    day: '2-digit',
    hour: '2-digit',
    minute: '2-digit',
    ...(zone ? { timeZone: zone } : {}),
  })
}

/** Take the institution's time zone, by its IANA name; without one it is the browser's. */
export function setZone(zone: string): void {
  try {
    shown = formatOf(zone)
  } catch {
    shown = formatOf('') // a zone that this browser does not know
  }
}

/** Tell day and time of a moment where the institution is. */
export function clockTime(at: Date): ClockTime {
  const [day = '', time = ''] = shown.format(at).split(' ')
  return { day, time }
}

/** Today where the institution is, as ISO 8601. */
export const today = (): string => clockTime(new Date()).day

/** A day so many days later, or earlier, as ISO 8601. */
export function dayPlus(day: string, days: number): string {
  const at = new Date(`${day}T12:00:00Z`)
  at.setUTCDate(at.getUTCDate() + days)
  return at.toISOString().slice(0, 10)
}
