import { computed, ref, shallowRef, watch, type Ref } from 'vue'
import { getLetter, listLetters } from '@/api/letters'
import type { Addressee, LetterBrief, LetterOpen } from '@/api/types'
import { useLookingAgain } from './useLookingAgain'

const PAUSE_MS = 4000

/** The letters of a roster, and the one that is open: who of it is shown, looked at again by itself. */
export function useLetters(roster: Ref<string>, letter: Ref<number>, part: Ref<string>) {
  const all = shallowRef<LetterBrief[] | null>(null)
  const open = shallowRef<LetterOpen | null>(null)
  const people = shallowRef<Addressee[]>([])
  const problem = ref('')
  let latest = 0

  async function look(): Promise<void> {
    const mine = ++latest
    const many = open.value?.letter.id === letter.value ? people.value.length : 0
    try {
      const [found, one] = await Promise.all([
        listLetters(roster.value),
        letter.value ? getLetter(letter.value, part.value, 0) : null,
      ])
      if (mine !== latest) return
      all.value = found
      open.value = one
      // what was asked for beyond the first page stays
      people.value = one ? [...one.people, ...people.value.slice(one.people.length, many)] : []
      problem.value = ''
    } catch (error) {
      if (mine === latest) problem.value = error instanceof Error ? error.message : String(error)
    }
  }
  async function more(): Promise<void> {
    if (!open.value) return
    const mine = latest
    const next = await getLetter(letter.value, part.value, people.value.length)
    if (mine === latest) people.value = [...people.value, ...next.people]
  }
  const { again } = useLookingAgain(look, PAUSE_MS)
  watch([roster, letter, part], () => {
    people.value = []
    void look().then(again)
  })
  const left = computed(() => (open.value ? open.value.total - people.value.length : 0))
  return { all, open, people, left, problem, look, more }
}
