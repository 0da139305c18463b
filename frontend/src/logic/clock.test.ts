import { afterEach, describe, expect, it } from 'vitest'
import { clockTime, dayPlus, setZone } from './clock'
import { moment, momentInFull } from './words'

afterEach(() => setZone(''))

describe('the clock of the institution', () => {
  const at = new Date('2026-08-31T22:30:00Z')
  it.each([
    ['Europe/Prague', '2026-09-01', '00:30'],
    ['America/St_Johns', '2026-08-31', '20:00'],
    ['Pacific/Auckland', '2026-09-01', '10:30'],
  ])('of %s', (zone, day, time) => {
    setZone(zone)
    expect(clockTime(at)).toEqual({ day, time })
  })
  it('says a moment by the day there', () => {
    setZone('Europe/Prague')
    expect(momentInFull(at.toISOString())).toBe('1 Sep 2026, 00:30')
    expect(moment(at.toISOString(), new Date('2026-09-01T05:00:00Z'))).toBe('00:30')
    expect(moment('2026-08-31T21:30:00Z', new Date('2026-09-01T05:00:00Z'))).toBe('31 Aug')
    expect(moment('2025-12-31T23:30:00Z', new Date('2026-09-01T05:00:00Z'))).toBe('1 Jan')
  })
  it('is the browser’s where its zone is unknown', () => {
    const before = clockTime(at)
    setZone('Moon/Tycho')
    expect(clockTime(at)).toEqual(before)
  })
  it.each([
    ['2026-03-28', 1, '2026-03-29'],
    ['2026-10-25', 1, '2026-10-26'],
    ['2026-01-01', -1, '2025-12-31'],
    ['2028-02-28', 1, '2028-02-29'],
  ])('%s and %i days', (day, days, other) => expect(dayPlus(day, days)).toBe(other))
})
