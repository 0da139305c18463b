// @vitest-environment happy-dom
import { h, nextTick, ref } from 'vue'
import { enableAutoUnmount, mount } from '@vue/test-utils'
import { createRouter, createMemoryHistory } from 'vue-router'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { decide, getPersonOf, getRulesOf, getSubmission } from '@/api/submissions'
import type { PersonInFull, RulesHere, Submission } from '@/api/types'
import { provideSubmission } from '@/composables/useSubmission'
import Rejected from './Rejected.vue'

vi.mock('@/api/submissions', () => ({
  decide: vi.fn(async () => undefined),
  getHeld: vi.fn(),
  getPersonOf: vi.fn(),
  getRulesOf: vi.fn(),
  getSubmission: vi.fn(),
  takeTheirs: vi.fn(),
}))

const submission = {
  ...{ id: 3, touched: 1, level: 4, rounds: [], tally: { rejected: 2 } },
  ...{ roster: 'leden', roster_title: 'Leden', authority: 'het register', can_reach: true },
} as unknown as Submission
const rule = (name: string, records: number[]) => ({
  rule: name,
  text: name,
  records,
  people: [],
  follows: '',
})
const person = (record: number, of: string) =>
  ({
    ...{ record, rule: of, key: `K${record}`, name: `Person ${record}`, text: of, number: '9' },
    ...{ round: 1, reads: [], rules: [of], requests: [], fields: [], has_held: true },
  }) as unknown as PersonInFull
const settled = async () => {
  for (let turn = 0; turn < 8; turn++) await nextTick()
}

enableAutoUnmount(afterEach)

describe('a rejected record', () => {
  it('cannot be decided while the pane still shows the one before', async () => {
    vi.mocked(getSubmission).mockResolvedValue(submission)
    const rules = { rules: [rule('A1', [1]), rule('B2', [2, 7])], records: 3 }
    vi.mocked(getRulesOf).mockResolvedValue(rules as unknown as RulesHere)
    let arrive: (person: PersonInFull) => void = () => undefined
    const promise = new Promise<PersonInFull>((done) => (arrive = done))
    vi.mocked(getPersonOf).mockImplementation(async (_, record) =>
      record === 1 ? person(1, 'A1') : promise,
    )
    const router = createRouter({
      history: createMemoryHistory(),
      routes: [{ path: '/:all(.*)', component: {} }],
    })
    const shown = ref(submission)
    mount(
      {
        setup() {
          provideSubmission(3)
          return () => h(Rejected, { submission: shown.value })
        },
      },
      { attachTo: document.body, global: { plugins: [router] } },
    )
    await settled()
    const pane = () => document.querySelector<HTMLFieldSetElement>('.pane fieldset')!
    const checked = () => pane().querySelector('[aria-checked="true"]')?.textContent ?? ''
    const press = (key: string) =>
      document.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }))
    expect(document.querySelector('.pane h2')?.textContent).toBe('Person 1')
    expect(pane().disabled).toBe(false)

    // the first is decided by somebody, and the list goes on to the next rule
    vi.mocked(getRulesOf).mockResolvedValue({
      ...rules,
      rules: rules.rules.slice(1),
    } as unknown as RulesHere)
    shown.value = { ...submission, touched: 2 }
    await settled()
    expect(document.querySelector('.pane h2')?.textContent).toBe('Person 1')
    expect(pane().disabled).toBe(true)
    press('2')
    await settled()
    expect(checked()).toContain('Ours is right')

    arrive(person(2, 'B2'))
    await settled()
    expect(document.querySelector('.pane h2')?.textContent).toBe('Person 2')
    expect(pane().disabled).toBe(false)
    press('2')
    await settled()
    expect(checked()).toContain('Ours is wrong')
    expect(decide).not.toHaveBeenCalled()
  })
})
