import { LEVELS } from '@/composables/useSession'
import type { Account, AccountIn, Condition } from '@/api/types'

/** What a level is called: may prepare. */
export const levelWords = (level: number): string =>
  level > 0 ? `may ${LEVELS[level]}` : 'does not see it'

/** What somebody may do in a roster: more there, or what they may do everywhere. */
export const levelIn = (one: Pick<Account, 'level' | 'rosters'>, roster: string): number =>
  Math.max(one.level, one.rosters[roster] ?? 0)

/** Whether a level can be for a part of a roster: who administers it, or sees all, has all of it. */
export const canBePart = (everywhere: number, level: number): boolean =>
  everywhere === 0 && level > 0 && level < 4

/**
 * What somebody may do, as it is written. Levels in single rosters that say no more fall away, and
 * so do parts of what is theirs as a whole.
 */
export function mayOf(one: {
  name: string
  level: number
  rosters: Record<string, number>
  parts: Record<string, Condition | null>
  last_day: string | null
  may_uncover: boolean
}): AccountIn {
  const more = Object.entries(one.rosters).filter(([, level]) => level > one.level)
  const parts = more.flatMap(([roster, level]) => {
    const part = one.parts[roster]
    return part && canBePart(one.level, level) ? [[roster, part] as const] : []
  })
  return {
    name: one.name,
    level: one.level,
    rosters: Object.fromEntries(more),
    parts: Object.fromEntries(parts),
    last_day: one.last_day || null,
    may_uncover: one.may_uncover,
  }
}

/** Nobody in particular, who may do nothing yet. */
export const NOBODY: AccountIn = {
  name: '',
  level: 0,
  rosters: {},
  parts: {},
  last_day: null,
  may_uncover: false,
}
/** The same again, whole. */
export const asWritten = (one: AccountIn): Required<AccountIn> =>
  mayOf({
    ...one,
    rosters: one.rosters ?? {},
    parts: (one.parts ?? {}) as Record<string, Condition>,
    last_day: one.last_day ?? null,
    may_uncover: one.may_uncover ?? false,
  }) as Required<AccountIn>

/** What somebody may do now, as it is written. */
export const mayNow = (one: Account): AccountIn =>
  mayOf({
    ...one,
    parts: Object.fromEntries(Object.entries(one.parts).map(([name, part]) => [name, part.when])),
    last_day: one.last_day ?? null,
  })

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
