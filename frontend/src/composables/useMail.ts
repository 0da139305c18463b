import { computed, onMounted, reactive, ref, shallowRef, watch } from 'vue'
import { useIntervalFn } from '@vueuse/core'
import {
  bringReturned,
  decideOfMails,
  keepServer,
  listMails,
  lookAtPost,
  sendTest,
  switchPost,
  type MailState,
} from '@/api/mail'
import type { Mail, MailsReturned, Post } from '@/api/types'
import { count } from '@/logic/words'

/** What messages of mail servers were about, in words. */
export function sayReturned(found: MailsReturned): string {
  const parts = [
    [found.returned, 'came back'],
    [found.late, 'late, and tried still'],
    [found.known, 'known already'],
    [found.unknown, 'about mails that are not from here'],
    [found.others, 'no report of a mail server'],
  ] as const
  const said = parts.filter(([many]) => many).map(([many, words]) => `${count(many)} ${words}`)
  return said.join(', ') || 'There was nothing in it.'
}

const ASK_MS = 2_500
const EMPTY = {
  host: '',
  port: 587,
  security: 'starttls',
  user: '',
  address: '',
  name: '',
  reply_to: '',
  per_minute: 60,
  shown_at: '',
}
export type ServerForm = typeof EMPTY

/** The mail server and the mails: as they are, kept, tried, decided of. */
export function useMail() {
  const post = shallowRef<Post | null>(null)
  const mails = shallowRef<Mail[]>([])
  const state = ref<MailState>('')
  const form = reactive<ServerForm>({ ...EMPTY })
  const password = ref('')
  const problem = ref('')
  const said = ref('')
  const busy = ref(false)
  const isMoving = computed(
    () => !!(post.value?.counts.waiting || post.value?.counts.handing) && post.value.is_on,
  )

  async function load(): Promise<void> {
    await run(async () => {
      ;[post.value, mails.value] = await Promise.all([lookAtPost(), listMails(state.value, 0)])
    })
  }
  async function run(what: () => Promise<unknown>): Promise<boolean> {
    try {
      await what()
      problem.value = ''
      return true
    } catch (error) {
      problem.value = error instanceof Error ? error.message : String(error)
      return false
    }
  }
  async function act(what: () => Promise<unknown>, words = ''): Promise<boolean> {
    if (busy.value) return false
    busy.value = true
    said.value = ''
    const done = await run(what)
    if (done) {
      said.value = words
      await load()
    }
    busy.value = false
    return done
  }
  /** Take what is kept into the form, once: what somebody types meanwhile stays. */
  const fill = () => Object.assign(form, EMPTY, post.value?.server ?? {})
  async function keep(): Promise<void> {
    const kept = await act(
      () => keepServer({ ...form, port: Number(form.port) }, password.value || null),
      'Kept. Send a test message to see whether it works.',
    )
    if (kept) password.value = ''
  }
  const test = (address: string) =>
    act(() => sendTest(address.trim()), 'It waits to go; below is what becomes of it.')
  const turn = (on: boolean) => act(() => switchPost(on))
  const decide = (numbers: number[], what: 'again' | 'drop') =>
    act(() => decideOfMails(numbers, what))

  async function returned(files: File[]): Promise<void> {
    let words = ''
    await act(async () => (words = sayReturned(await bringReturned(files))))
    said.value = words
  }

  onMounted(async () => {
    await load()
    fill()
  })
  watch(state, load)
  useIntervalFn(() => (isMoving.value || post.value?.problem) && !busy.value && void load(), ASK_MS)
  return reactive({
    post,
    mails,
    state,
    form,
    password,
    problem,
    said,
    busy,
    keep,
    test,
    turn,
    decide,
    returned,
  })
}
export type UseMail = ReturnType<typeof useMail>
