import { LEVELS } from '@/composables/useSession'
import type { Account, AccountIn } from '@/api/types'

/** What a level is called: may prepare. */
export const levelWords = (level: number): string =>
  level > 0 ? `may ${LEVELS[level]}` : 'does not see it'

/** What somebody may do in a roster: more there, or what they may do everywhere. */
export const levelIn = (one: Pick<Account, 'level' | 'rosters'>, roster: string): number =>
  Math.max(one.level, one.rosters[roster] ?? 0)

/** What somebody may do, as it is written. Levels in single rosters that say no more fall away. */
export function mayOf(one: Pick<Account, 'name' | 'level' | 'rosters' | 'last_day'>): AccountIn {
  const more = Object.entries(one.rosters).filter(([, level]) => level > one.level)
  return {
    name: one.name,
    level: one.level,
    rosters: Object.fromEntries(more),
    last_day: one.last_day || null,
  }
}

/** Why somebody cannot sign in; '' where they can. */
export function standing(one: Account): string {
  if (one.is_closed) return 'closed'
  if (one.is_over) return 'last day is over'
  if (!one.has_password) return one.link_until ? 'invited' : 'invitation ran out'
  return ''
}

/** A sign-in name that is proposed for somebody: the family name in small letters. */
export const signInFor = (name: string): string =>
  (name.trim().split(/\s+/).at(-1) ?? '')
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}.-]/gu, '')
