import { computed, ref, type ComputedRef, type Ref, type ShallowRef } from 'vue'
import { place } from '@/api/groups'
import type { Group, Groups, Member } from '@/api/types'

/** Of the parts of a group's key; no code has it in it. */
const BETWEEN = '\u001f'
const NOTED_SHOWN = 6

export const keyOf = (group: Group): string => group.key.join(BETWEEN)

/** Who is noted, from where to where, and what is lost by it. */
export interface Noted {
  own: number
  name: string
  from: string
  to: string
  lost: string[]
  since: string
}

export interface UseMoves {
  /** By the number of the record that says it, the own name of the group that somebody joins. */
  moves: Ref<Map<number, string>>
  /** How many each group gets and loses, by its key. */
  gets: ComputedRef<Map<string, number>>
  loses: ComputedRef<Map<string, number>>
  noted: ComputedRef<Noted[]>
  move: (people: Member[], to: string) => void
  forget: () => void
  /** Keep the moves as an intake, and give its number. */
  review: () => Promise<number>
}

/**
 * Moves that are noted before anything is changed.
 *
 * @param chosen the key of the group that is open: out of it people are moved
 */
export function useMoves(
  groups: ShallowRef<Groups | null>,
  chosen: ComputedRef<string>,
  roster: ComputedRef<string>,
  kind: ComputedRef<string>,
): UseMoves {
  const moves = ref(new Map<number, string>())
  const from = ref(new Map<number, string>())
  const seen = ref(new Map<number, Member>())

  /** The own name of the group that somebody leaves; '' for one who has none. */
  const nameOf = (own: number) =>
    (from.value.get(own) ?? '').split(BETWEEN).at(-1)!.replace(/^-$/, '')
  const target = (own: number, to: string) =>
    [...(from.value.get(own) ?? '').split(BETWEEN).slice(0, -1), to].join(BETWEEN)

  function tally(of: (own: number, to: string) => string): Map<string, number> {
    const counts = new Map<string, number>()
    for (const [own, to] of moves.value) {
      const key = of(own, to)
      if (key) counts.set(key, (counts.get(key) ?? 0) + 1)
    }
    return counts
  }
  const gets = computed(() => tally(target))
  const loses = computed(() => tally((own) => from.value.get(own) ?? ''))

  function move(people: Member[], to: string): void {
    const now = new Map(moves.value)
    for (const person of people) {
      if (person.record === null) continue
      if (person.name || person.key) seen.value.set(person.own, person)
      if (!from.value.has(person.own)) from.value.set(person.own, chosen.value)
      if (nameOf(person.own) === to) now.delete(person.own)
      else now.set(person.own, to)
    }
    moves.value = now
  }

  function lost(member: Member | undefined, leaves: Group, joins: Group | undefined): string[] {
    const least = groups.value?.least ?? 0
    const may = leaves.may.filter((right) => !joins?.may.includes(right))
    return [
      member?.is_lead ? `${leaves.label} is without its lead` : '',
      least && leaves.size - (loses.value.get(keyOf(leaves)) ?? 0) < least
        ? `${leaves.label} is under its least`
        : '',
      may.length ? `may no more ${may.join(', ')}` : '',
    ].filter(Boolean)
  }
  const noted = computed(() =>
    [...moves.value].slice(0, NOTED_SHOWN).map(([own, to]) => {
      const member = seen.value.get(own)
      const leaves = groups.value?.groups.find((group) => keyOf(group) === from.value.get(own))
      const joins = groups.value?.groups.find(
        (group) => group.key.at(-1) === to && (!leaves || group.part === leaves.part),
      )
      return {
        own,
        name: member?.name || member?.key || `record ${own}`,
        from: leaves?.label ?? '',
        to: joins?.label ?? to,
        lost: leaves ? lost(member, leaves, joins) : [],
        since: leaves ? (member?.since ?? '') : '',
      }
    }),
  )

  function forget(): void {
    moves.value = new Map()
    from.value = new Map()
  }

  async function review(): Promise<number> {
    const all = [...moves.value]
    const leaving = all.map(([own]) => [String(own), nameOf(own)]).filter(([, name]) => name)
    const joining = all.map(([own, to]) => [String(own), to])
    const made = await place(
      roster.value,
      kind.value,
      Object.fromEntries(joining),
      false,
      Object.fromEntries(leaving),
    )
    return made.intake
  }

  return { moves, gets, loses, noted, move, forget, review }
}
