import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { decide, getHeld, getPersonOf, getRulesOf, takeTheirs } from '@/api/submissions'
import type { PersonInFull, RulesHere, Submission } from '@/api/types'
import { PREPARE } from './useSession'
import { useSubmission } from './useSubmission'

/** Who is right: we, they, or neither, because their record is somebody else's. */
export type Way = 'right' | 'wrong' | 'question'
/** A file that goes with a reason, in base64. */
export interface Attached {
  name: string
  data: string
}

/** What an authority rejected, rule by rule and person by person, and what is decided of it. */
export function useRejected(submission: () => Submission) {
  const open = useSubmission()
  const router = useRouter()
  const found = ref<RulesHere | null>(null)
  const rule = ref('')
  const record = ref<number | null>(null)
  const person = ref<PersonInFull | null>(null)
  const way = ref<Way>('right')
  const reason = ref('')
  const file = ref<Attached | null>(null)
  let named = '' // the rule whose people were looked at last
  const may = computed(() => submission().level >= PREPARE)
  const current = computed(() =>
    found.value?.rules.find((one) => one.rule === rule.value && !one.follows),
  )
  const place = computed(() =>
    current.value && record.value !== null ? current.value.records.indexOf(record.value) : -1,
  )
  /** Whether the pane shows whom the list has open: until then nothing can be decided there. */
  const isShown = computed(
    () => person.value?.record === record.value && person.value?.rule === rule.value,
  )
  const next = computed(() => submission().rounds.length + 1)
  const canRight = computed(() => !!person.value?.has_held)
  const canQuestion = computed(() => !!person.value?.number && !!person.value.round)
  const takes = computed(
    () =>
      person.value?.fields
        .filter((one) => one.is_read && !one.is_same && one.source)
        .map((one) => one.title) ?? [],
  )

  async function load(): Promise<void> {
    found.value = await getRulesOf(open.id, 'rejected')
    const here = found.value.rules.filter((one) => !one.follows)
    const same = here.find((one) => one.rule === rule.value) ?? here[0]
    rule.value = same?.rule ?? ''
    if (!same?.records.includes(record.value ?? -1)) record.value = same?.records[0] ?? null
  }
  function choose(name: string, number: number): void {
    rule.value = name
    record.value = number
  }
  /** What they hold may be another by now than when they answered. */
  async function look(): Promise<void> {
    const now = person.value
    if (!now) return
    await open.act(async () => {
      const fields = await getHeld(open.id, now.record, rule.value)
      if (person.value === now) person.value = { ...now, fields, answered_at: null }
    })
  }
  function step(by: number): void {
    const list = current.value?.records ?? []
    const to = list[place.value + by]
    if (to !== undefined) record.value = to
  }
  /** Decide for the person who is shown, or for everybody of the rule. */
  async function done(everybody: boolean): Promise<void> {
    const records = everybody
      ? (current.value?.records ?? [])
      : record.value === null
        ? []
        : [record.value]
    if (!records.length || !may.value || !isShown.value) return
    if (way.value === 'wrong') {
      const fields = person.value?.fields.filter((one) => one.is_read).map((one) => one.field) ?? []
      let intake = 0
      if (
        await open.act(async () => (intake = (await takeTheirs(open.id, records, fields)).intake))
      )
        void router.push(`/intakes/${intake}/changes`)
      return
    }
    const decision = {
      records,
      kind: way.value,
      rule: rule.value,
      reason: reason.value,
      attached: file.value?.name ?? '',
      attachment: file.value?.data ?? '',
    }
    if (await open.act(() => decide(open.id, decision))) {
      reason.value = ''
      file.value = null
    }
  }
  watch(() => submission().touched, load, { immediate: true })
  watch(
    [record, rule, () => submission().touched],
    async () => {
      const [number, name] = [record.value, rule.value]
      const full =
        number === null || !may.value
          ? null
          : await getPersonOf(open.id, number, name).catch(() => null)
      if (number !== record.value || name !== rule.value) return
      person.value = full
      if (!full) return
      if (named !== name) way.value = 'right' // what was chosen for one person holds for the others of the rule
      named = name
      if (!canQuestion.value && way.value === 'question') way.value = 'right'
      if (!canRight.value && way.value === 'right') way.value = 'wrong'
    },
    { immediate: true },
  )

  return {
    ...{
      found,
      rule,
      record,
      person,
      way,
      may,
      current,
      place,
      next,
      canRight,
      canQuestion,
      takes,
    },
    ...{ isShown, reason, file, choose, look, step, done },
  }
}
