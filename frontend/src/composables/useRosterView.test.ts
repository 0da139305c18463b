// @vitest-environment happy-dom
import { beforeEach, describe, expect, it } from 'vitest'
import { computed, nextTick } from 'vue'
import { createMemoryHistory, createRouter } from 'vue-router'
import type { Field, Roster } from '@/api/types'
import { within } from '@/testing/within'
import { useRosterView } from './useRosterView'

const field = (name: string, part: Partial<Field> = {}): Field =>
  ({ name, title: name, required: false, is_key: false, code_list: '', ...part }) as Field
const ROSTER = {
  fields: [field('no', { is_key: true }), field('name', { required: true }), field('note')],
} as Roster

async function open(address = '/rosters/crew') {
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [{ path: '/rosters/:name', component: { render: () => null } }],
  })
  await router.push(address)
  const { given, component } = within(
    () =>
      useRosterView(
        'crew',
        computed(() => ROSTER),
      ),
    [router],
  )
  return { view: given, component, router }
}
const names = (fields: Field[]) => fields.map((one) => one.name)

describe('what of a roster is looked at', () => {
  beforeEach(() => localStorage.clear())

  it('begins with what matters, and keeps the columns that somebody chose', async () => {
    const first = await open()
    expect(names(first.view.columns.value)).toEqual(['no', 'name'])
    first.view.chosen.value = ['note']
    await nextTick()
    first.component.unmount()
    const again = await open()
    expect(names(again.view.columns.value)).toEqual(['note'])
  })

  it.each([['{"half'], ['{"a":1}'], ['null']])(
    'passes over what is no list of columns: %s',
    async (kept) => {
      localStorage.setItem('nevefield:columns:crew', kept)
      expect(names((await open()).view.columns.value)).toEqual(['no', 'name'])
    },
  )

  it('is in the address, there and back', async () => {
    const { view, router } = await open('/rosters/crew?q=ines&filter=dept:DECK&sort=name&down=1')
    expect(view.asked.value).toEqual({ sort: 'name', down: true, q: 'ines', filter: ['dept:DECK'] })
    view.sortBy('name')
    view.text.value = ''
    await nextTick()
    await new Promise((resolve) => setTimeout(resolve))
    expect(router.currentRoute.value.query).toEqual({ filter: ['dept:DECK'], sort: 'name' })
    view.clear()
    expect(view.asked.value.filter).toEqual([])
  })
})
