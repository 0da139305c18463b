import { computed, ref, shallowRef, watch, type ComputedRef, type Ref, type ShallowRef } from 'vue'
import { layCard, tryDesign } from '@/api/cards'
import type { Card, CardTried, CardTrouble } from '@/api/types'
import { useAnswer } from './useAnswer'
import { useCards } from './useCards'
import { useDraft } from './useDraft'
import type { DesignDocument } from '@/logic/design'
import { newest } from '@/logic/newest'

export interface UseDesign {
  document: Ref<DesignDocument>
  changed: ComputedRef<boolean>
  card: ShallowRef<Card | null>
  troubles: ShallowRef<CardTrouble[]>
  tried: ShallowRef<CardTried | null>
  trying: Ref<boolean>
  /** What cannot be in the document as it stands. */
  wrong: Ref<string>
  /** Whose card is shown; null for the first of the face. */
  record: Ref<number | null>
  face: Ref<string>
  put: (next: DesignDocument) => void
  undo: () => void
  redo: () => void
  canUndo: ComputedRef<boolean>
  canRedo: ComputedRef<boolean>
  keep: () => Promise<boolean>
  /** Leave what was changed, and take what is kept. */
  leave: () => void
}

const TRY_MS = 400
const MOST_STEPS = 200

/**
 * A design while it is changed: each change is one step that can be undone, is laid on somebody at
 * once, and tried on everybody after a rest. What is laid last is shown, never an older answer.
 */
export function useDesign(): UseDesign {
  const cards = useCards()
  const kept = () => cards.design.value!.document as unknown as DesignDocument
  const document = ref(kept()) as Ref<DesignDocument>
  const base = shallowRef(JSON.stringify(kept()))
  const over = ref(cards.design.value!.version)
  const past = shallowRef<DesignDocument[]>([])
  const future = shallowRef<DesignDocument[]>([])
  const card = shallowRef<Card | null>(null)
  const troubles = shallowRef<CardTrouble[]>([])
  const tried = shallowRef<CardTried | null>(null)
  const wrong = ref('')
  const record = ref<number | null>(null)
  const face = ref(kept().faces[0]!.name)

  const changed = computed(() => JSON.stringify(document.value) !== base.value)
  const { recall } = useDraft(
    `card-design.${cards.name}`,
    document,
    () => changed.value,
    () => ({ version: over.value }),
  )
  const before = recall()
  if (before) over.value = before.version

  const lay = newest(async (isNewest) => {
    try {
      const found = await layCard(cards.name, document.value, record.value, face.value)
      if (!isNewest()) return
      card.value = found.card
      troubles.value = found.troubles
      wrong.value = ''
    } catch (error) {
      if (isNewest()) wrong.value = error instanceof Error ? error.message : String(error)
    }
  })
  const { answer, waiting, again } = useAnswer(() => tryDesign(cards.name, document.value), TRY_MS)
  watch(answer, (found) => {
    if (found) tried.value = found
  })
  watch(
    [document, record, face],
    () => {
      void lay()
    },
    { immediate: true },
  )
  watch(document, again, { immediate: true })

  function put(next: DesignDocument): void {
    past.value = [...past.value, document.value].slice(-MOST_STEPS)
    future.value = []
    document.value = next
  }
  function undo(): void {
    const last = past.value.at(-1)
    if (!last) return
    future.value = [document.value, ...future.value]
    past.value = past.value.slice(0, -1)
    document.value = last
  }
  function redo(): void {
    const next = future.value[0]
    if (!next) return
    past.value = [...past.value, document.value]
    future.value = future.value.slice(1)
    document.value = next
  }
  function take(): void {
    base.value = JSON.stringify(kept())
    over.value = cards.design.value!.version
    document.value = kept()
    past.value = []
    future.value = []
  }
  async function keep(): Promise<boolean> {
    const done = await cards.keep(document.value, over)
    if (done) take()
    return done
  }
  // somebody else kept a version, and nothing is changed here
  watch(
    () => cards.design.value?.version,
    (version) => {
      if (version !== over.value && !changed.value) take()
    },
  )
  return {
    document,
    changed,
    card,
    troubles,
    tried,
    trying: waiting,
    wrong,
    record,
    face,
    put,
    undo,
    redo,
    canUndo: computed(() => past.value.length > 0),
    canRedo: computed(() => future.value.length > 0),
    keep,
    leave: take,
  }
}
