import { ref } from 'vue'
import { isRefused } from '@/api/client'
import { keepDestination } from '@/api/passing'
import type { Destination } from '@/api/types'
import { usePassing } from '@/composables/usePassing'
import { differing, readDestination, type DestinationDocument } from '@/logic/passing'

/** What a destination gets, as it is altered: begun with what is in force, or with a version. */
export function useLayout(destination: Destination, taken: DestinationDocument | null) {
  const passing = usePassing()
  const document = ref(
    JSON.parse(JSON.stringify(taken ?? destination.document)) as DestinationDocument,
  )
  // as it was when this was opened: what somebody else keeps meanwhile is not written over
  const seen = ref(destination.version)
  const busy = ref(false)
  const problem = ref('')
  const say = (error: unknown) =>
    (problem.value = error instanceof Error ? error.message : String(error))

  async function read(file: File): Promise<void> {
    problem.value = ''
    try {
      document.value = { ...readDestination(await file.text()), name: destination.name }
    } catch (error) {
      say(error)
    }
  }
  /** Somebody kept a version meanwhile: whoever has read so, and where theirs is otherwise, may. */
  async function meet(): Promise<void> {
    await passing.refresh()
    const { version, document: theirs } = passing.one.value ?? destination
    const titles = (roster: string) =>
      destination.shares.find((one) => one.roster === roster)?.title ?? roster
    const parts = differing(document.value, theirs as unknown as DestinationDocument, titles)
    if (parts.length) problem.value += ` Theirs is otherwise in: ${parts.join(', ')}.`
    seen.value = version
  }
  /** Keep it as another version; tells whether it was. */
  async function keep(): Promise<boolean> {
    busy.value = true
    problem.value = ''
    try {
      await keepDestination(destination.name, document.value, seen.value)
      await passing.refresh()
      return true
    } catch (error) {
      say(error)
      if (isRefused(error, 'DestinationKept')) await meet()
      return false
    } finally {
      busy.value = false
    }
  }
  return { document, seen, busy, problem, read, keep }
}
