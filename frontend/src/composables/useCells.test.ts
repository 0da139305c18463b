// @vitest-environment happy-dom
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { computed, ref } from 'vue'
import type { Row } from '@/api/types'
import { within } from '@/testing/within'
import { useCells } from './useCells'

const row = (line: number, watch: string, wrong = ''): Row => ({
  line,
  outcome: wrong ? 'stopped' : 'new',
  record: null,
  key: '',
  name: '',
  values: { watch: wrong ? null : watch, port: 'A' },
  findings: wrong
    ? [
        {
          cause: 'c',
          field: 'watch',
          weight: 'stop',
          value: wrong,
          message: '',
          suggestions: [],
          waived: false,
          approval: '',
        },
      ]
    : [],
})
const ROWS = [row(4, 'SKUA'), row(5, 'TERN'), row(7, '', 'Skuaa')]

function clip(kind: 'copy' | 'paste', text = ''): { event: ClipboardEvent; taken: () => string } {
  let held = text
  const event = new Event(kind, { bubbles: true, cancelable: true }) as ClipboardEvent
  Object.defineProperty(event, 'clipboardData', {
    value: { getData: () => held, setData: (_: string, now: string) => (held = now) },
  })
  document.dispatchEvent(event)
  return { event, taken: () => held }
}

function open(isLocked = false) {
  const add = vi.fn(async () => true)
  const say = vi.fn()
  const selected = ref(0)
  const { given } = within(() =>
    useCells({
      fields: computed(() => ['watch', 'port']),
      selected,
      at: (index) => ROWS[index],
      locked: computed(() => isLocked),
      add,
      say,
    }),
  )
  return { cells: given, add, say, selected }
}

describe('cells as in a spreadsheet', () => {
  beforeEach(() => (document.body.innerHTML = ''))

  it('copies what is chosen, of a wrong cell what the file says', () => {
    const { cells, say, selected } = open()
    cells.hold(true)
    selected.value = 2
    cells.hold(true)
    expect(clip('copy').taken()).toBe('SKUA\nTERN\nSkuaa')
    expect(say).toHaveBeenCalledWith('3 cells copied')
  })

  it('pastes a block from the active cell on, as one step', () => {
    const { add } = open()
    const { event } = clip('paste', 'TERN\tB\r\nSKUA\tC\r\n')
    expect(event.defaultPrevented).toBe(true)
    expect(add).toHaveBeenCalledExactlyOnceWith({
      kind: 'set',
      cells: [
        { line: 4, field: 'watch', value: 'TERN' },
        { line: 4, field: 'port', value: 'B' },
        { line: 5, field: 'watch', value: 'SKUA' },
        { line: 5, field: 'port', value: 'C' },
      ],
    })
  })

  it('fills down with the value of the top one', () => {
    const { cells, add, selected } = open()
    cells.hold(true)
    selected.value = 1
    document.dispatchEvent(new KeyboardEvent('keydown', { key: 'd', ctrlKey: true }))
    expect(add).toHaveBeenCalledExactlyOnceWith({
      kind: 'set',
      cells: [
        { line: 4, field: 'watch', value: 'SKUA' },
        { line: 5, field: 'watch', value: 'SKUA' },
      ],
    })
  })

  it('says what to do first when there is nothing to fill', () => {
    const { add, say } = open()
    document.dispatchEvent(new KeyboardEvent('keydown', { key: 'd', ctrlKey: true }))
    expect(add).not.toHaveBeenCalled()
    expect(say.mock.lastCall?.[0]).toContain('Choose rows')
  })

  it('alters nothing of what is locked', () => {
    const { cells, add } = open(true)
    clip('paste', 'TERN')
    cells.edit()
    cells.done()
    expect(add).not.toHaveBeenCalled()
  })
})
