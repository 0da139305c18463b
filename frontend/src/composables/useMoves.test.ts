import { describe, expect, it, vi } from 'vitest'
import { computed, ref, shallowRef } from 'vue'
import { place } from '@/api/groups'
import type { Group, Groups, Member } from '@/api/types'
import { keyOf, useMoves } from './useMoves'

vi.mock('@/api/groups', () => ({ place: vi.fn(async () => ({ intake: 9 })) }))

const group = (part: string, name: string, more: Partial<Group> = {}): Group => ({
  key: [part, name],
  label: name,
  part,
  size: 3,
  leads: [],
  ages: '',
  troubles: [],
  weight: null,
  may: [],
  ...more,
})
const member = (own: number, more: Partial<Member> = {}): Member =>
  ({ own, record: own, name: `N${own}`, key: '', is_lead: false, since: null, ...more }) as Member
const SKUA = group('north', 'SKUA', { may: ['open the armoury'] })
const TERN = group('north', 'TERN')
const PUFFIN = group('south', 'TERN') // of the same name in another part

function open(chosen: Group | null = SKUA, least = 3) {
  const key = ref(chosen ? keyOf(chosen) : '-')
  const groups = shallowRef({ groups: [SKUA, TERN, PUFFIN], least } as unknown as Groups)
  return useMoves(
    groups,
    computed(() => key.value),
    computed(() => 'crew'),
    computed(() => 'watch'),
  )
}

describe('moves that are noted', () => {
  it('count for the group that is left and the one of its own part that is joined', () => {
    const moves = open()
    moves.move([member(1), member(2)], 'TERN')
    expect([...moves.loses.value]).toEqual([[keyOf(SKUA), 2]])
    expect([...moves.gets.value]).toEqual([[keyOf(TERN), 2]])
  })

  it('say what is lost by them', () => {
    const moves = open()
    moves.move([member(1, { is_lead: true, since: '2026-01-05' })], 'TERN')
    expect(moves.noted.value).toEqual([
      {
        own: 1,
        name: 'N1',
        from: 'SKUA',
        to: 'TERN',
        lost: [
          'SKUA is without its lead',
          'SKUA is under its least',
          'may no more open the armoury',
        ],
        since: '2026-01-05',
      },
    ])
  })

  it('are none for who goes back, or is nobody', () => {
    const moves = open()
    moves.move([member(1), member(2, { record: null })], 'TERN')
    moves.move([member(1)], 'SKUA')
    expect(moves.moves.value.size).toBe(0)
  })

  it('become a plan that says what is left only where something is', async () => {
    const moves = open(null, 0)
    moves.move([member(4)], 'TERN')
    expect(await moves.review()).toBe(9)
    expect(place).toHaveBeenLastCalledWith('crew', 'watch', { 4: 'TERN' }, false, {})
    const others = open()
    others.move([member(5)], 'TERN')
    await others.review()
    expect(place).toHaveBeenLastCalledWith('crew', 'watch', { 5: 'TERN' }, false, { 5: 'SKUA' })
    others.forget()
    expect(others.noted.value).toEqual([])
  })
})
