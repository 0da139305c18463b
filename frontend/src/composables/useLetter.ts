import { computed, reactive, ref, shallowRef, watch } from 'vue'
import { useDebounceFn } from '@vueuse/core'
import { lookAtLetter, lookAtReminder, sendLetter, sendReminder } from '@/api/letters'
import type { Meant } from '@/api/shortlists'
import type { Asks, LetterOut, LetterSent, LetterText, Roster } from '@/api/types'
import { firstLetter, type Written } from '@/logic/letters'

const WAIT_MS = 400

/** To whom it is written: chosen records, or those who have not answered a letter. */
export type LetterTo =
  | { meant: Meant; number: number }
  | { reminds: number; number: number; first: Written; hasMail: boolean }

/** A letter: a text with fields, filled for a few of those whom it goes to as it is written. */
export function useLetter(roster: Roster, to: LetterTo) {
  const addresses = roster.fields.filter((one) => one.is_mail)
  const isReminder = 'reminds' in to
  const field = ref(addresses[0]?.name ?? '')
  const written = ref<Written>(isReminder ? to.first : { subject: '', text: '', address: '' })
  const mayMail = isReminder ? to.hasMail : addresses.length > 0
  const paper = ref<LetterText['paper']>(mayMail ? 'nobody' : 'all')
  const asks = ref<Asks | null>(null)
  const looked = shallowRef<LetterOut | null>(null)
  const problem = ref('')
  const busy = ref(false)
  const sent = shallowRef<LetterSent | null>(null)
  const once = crypto.randomUUID()
  let latest = 0
  let proposed = ''
  const isWritten = computed(() => !!written.value.subject.trim() && !!written.value.text.trim())
  const lacksFields = computed(
    () => !!asks.value && !asks.value.fields.length && !asks.value.password_at,
  )
  const text = (): LetterText => ({
    ...written.value,
    address: paper.value === 'nobody' ? '' : written.value.address,
    paper: paper.value,
  })
  const letter = (meant: Meant) => ({
    ...meant,
    ...text(),
    field: paper.value === 'all' ? '' : field.value,
    asks: asks.value,
  })
  const said = (error: unknown) =>
    (problem.value = error instanceof Error ? error.message : String(error))
  const look = useDebounceFn(async () => {
    if (!isWritten.value || lacksFields.value) return
    const mine = ++latest
    try {
      const found =
        'reminds' in to
          ? await lookAtReminder(to.reminds, text())
          : await lookAtLetter(roster.name, letter(to.meant))
      if (mine !== latest) return
      looked.value = found
      problem.value = ''
    } catch (error) {
      if (mine !== latest) return
      looked.value = null
      said(error)
    }
  }, WAIT_MS)
  watch(
    [field, written, paper, asks],
    () => {
      latest++ // what is under way is of another text
      looked.value = null
      problem.value = ''
      void look()
    },
    { deep: true, immediate: true },
  )
  const many = computed(() => (looked.value?.mails ?? 0) + (looked.value?.papers ?? 0))
  /** Who is asked something gets a text that says so, unless one was written already. */
  function ask(wanted: Asks | null, place: string): void {
    const isOurs = !isWritten.value || JSON.stringify(written.value) === proposed
    if (wanted && isOurs) {
      written.value = firstLetter(roster, wanted.fields.length > 0, place)
      proposed = JSON.stringify(written.value)
    }
    asks.value = wanted
  }
  async function send(): Promise<void> {
    if (!many.value || busy.value) return
    busy.value = true
    problem.value = ''
    try {
      sent.value =
        'reminds' in to
          ? await sendReminder(to.reminds, text(), many.value, once)
          : await sendLetter(roster.name, letter(to.meant), many.value, once)
    } catch (error) {
      said(error)
      void look()
    } finally {
      busy.value = false
    }
  }
  return reactive({
    addresses,
    isReminder,
    mayMail,
    field,
    written,
    paper,
    asks,
    looked,
    many,
    problem,
    busy,
    sent,
    isWritten,
    lacksFields,
    ask,
    send,
  })
}

export type UseLetter = ReturnType<typeof useLetter>
