import { computed, ref, type ComputedRef, type Ref } from 'vue'
import { useEventListener } from '@vueuse/core'
import type { Row, Step } from '@/api/types'
import { typed } from '@/logic/words'
import { openDialogs } from '@/logic/focus'
import { block, cells, spread } from '@/logic/block'

export interface UseCells {
  /** The field whose cell is the active one, as a place in the fields in front. */
  column: Ref<number>
  field: ComputedRef<string>
  first: ComputedRef<number>
  last: ComputedRef<number>
  editing: Ref<boolean>
  draft: Ref<string>
  go: (by: number) => void
  /** Begin or go on with a range of rows, or let it go. */
  hold: (extending: boolean) => void
  edit: () => void
  write: (text: string) => void
  done: () => void
  leave: () => void
}

interface Bench {
  fields: ComputedRef<string[]>
  selected: Ref<number>
  at: (index: number) => Row | undefined
  locked: ComputedRef<boolean>
  add: (step: Step) => Promise<boolean>
  say: (text: string) => void
}

const busy = (target: EventTarget | null) =>
  (target instanceof HTMLElement &&
    target.closest('input, textarea, select, [contenteditable], [role="combobox"]')) ||
  openDialogs().length > 0

/**
 * Cells of the grid as in a spreadsheet: one is active, a range of rows is copied, pasted into,
 * filled down, typed into.
 */
export function useCells(bench: Bench): UseCells {
  const column = ref(0)
  const from = ref<number | null>(null)
  const editing = ref(false)
  const draft = ref('')
  const field = computed(
    () => bench.fields.value[Math.min(column.value, bench.fields.value.length - 1)] ?? '',
  )
  const first = computed(() => Math.min(from.value ?? bench.selected.value, bench.selected.value))
  const last = computed(() => Math.max(from.value ?? bench.selected.value, bench.selected.value))
  const valueAt = (index: number, name: string) => {
    const row = bench.at(index)
    const finding = row?.findings.find((one) => one.field === name && one.weight === 'stop')
    return finding?.value ?? typed(row?.values[name])
  }

  const lines = (start: number, end: number) =>
    Array.from({ length: end - start + 1 }, (_, place) => bench.at(start + place)?.line).filter(
      (line) => line !== undefined,
    )

  function set(texts: string[][], start: number, end: number): void {
    const step = cells(
      texts,
      lines(start, end),
      bench.fields.value.slice(bench.fields.value.indexOf(field.value)),
    )
    if (step.length && !bench.locked.value) void bench.add({ kind: 'set', cells: step })
  }

  function copy(event: ClipboardEvent): void {
    if (busy(event.target) || String(window.getSelection()) || !bench.at(first.value)) return
    const texts = Array.from({ length: last.value - first.value + 1 }, (_, place) => [
      valueAt(first.value + place, field.value),
    ])
    event.clipboardData?.setData('text/plain', block(texts))
    event.preventDefault()
    bench.say(`${texts.length} ${texts.length === 1 ? 'cell' : 'cells'} copied`)
  }

  function paste(event: ClipboardEvent): void {
    if (busy(event.target) || bench.locked.value) return
    const texts = spread(event.clipboardData?.getData('text/plain') ?? '')
    if (!texts.length) return
    event.preventDefault()
    const one = texts.length === 1 && last.value > first.value
    const end = one ? last.value : first.value + texts.length - 1
    set(
      one ? Array.from({ length: end - first.value + 1 }, () => texts[0]!) : texts,
      first.value,
      end,
    )
  }

  function hear(event: KeyboardEvent): void {
    if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'd' || busy(event.target))
      return
    event.preventDefault()
    const top = valueAt(first.value, field.value)
    if (last.value > first.value)
      set(
        Array.from({ length: last.value - first.value + 1 }, () => [top]),
        first.value,
        last.value,
      )
    else
      bench.say(
        'Choose rows with Shift and the arrows first; the value of the top one fills the others.',
      )
  }

  function edit(): void {
    if (bench.locked.value || !bench.at(bench.selected.value) || !field.value) return
    draft.value = valueAt(bench.selected.value, field.value)
    editing.value = true
  }

  function done(): void {
    if (!editing.value) return
    editing.value = false
    set(
      Array.from({ length: last.value - first.value + 1 }, () => [draft.value]),
      first.value,
      last.value,
    )
  }

  useEventListener(document, 'copy', copy)
  useEventListener(document, 'paste', paste)
  useEventListener(document, 'keydown', hear)
  return {
    column,
    field,
    first,
    last,
    editing,
    draft,
    edit,
    done,
    go: (by) =>
      (column.value = Math.max(0, Math.min(bench.fields.value.length - 1, column.value + by))),
    hold: (extending) => (from.value = extending ? (from.value ?? bench.selected.value) : null),
    write: (text) => (draft.value = text),
    leave: () => (editing.value = false),
  }
}
