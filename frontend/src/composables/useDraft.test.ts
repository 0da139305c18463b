// @vitest-environment happy-dom
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { nextTick, reactive, ref } from 'vue'
import { within } from '@/testing/within'
import { ask } from './useAsk'
import { forgetDrafts, useDraft } from './useDraft'

const state = reactive<{ me: { sign_in: string } | null }>({ me: null })
const guards: ((to: object, from: object) => Promise<boolean>)[] = []
vi.mock('./useSession', () => ({ useSession: () => ({ state }) }))
vi.mock('./useAsk', () => ({ ask: vi.fn() }))
vi.mock('vue-router', () => ({
  onBeforeRouteLeave: (guard: (to: object, from: object) => Promise<boolean>) => guards.push(guard),
  onBeforeRouteUpdate: () => undefined,
}))

const PORTS = ['KIR', 'DUN']
/** A list as a page shows it, freshly come from the server. */
async function open(version = 1, come = PORTS) {
  const draft = ref([...come])
  const { given, component } = within(() =>
    useDraft(
      'codes.port',
      draft,
      () => draft.value.join() !== come.join(),
      () => ({ version }),
    ),
  )
  const recalled = given.recall()
  await nextTick()
  return { draft, recalled, ...given, component }
}
async function write(text: string) {
  const page = await open()
  page.draft.value[0] = text
  await nextTick()
  page.component.unmount()
}

describe('what somebody writes', () => {
  beforeEach(() => {
    sessionStorage.clear()
    guards.length = 0
    vi.mocked(ask).mockReset()
    state.me = { sign_in: 'ada' }
  })

  it('is there again, with that over which it was written', async () => {
    await write('KRK')
    const again = await open()
    expect([again.recalled, ...again.draft.value]).toEqual([{ version: 1 }, 'KRK', 'DUN'])
    again.component.unmount()
    expect((await open(2)).recalled).toEqual({ version: 1 }) // not what is kept by now
  })
  it('is nobody else’s', async () => {
    await write('KRK')
    state.me = { sign_in: 'ben' }
    const other = await open()
    expect([other.recalled, ...other.draft.value]).toEqual([null, ...PORTS])
  })
  it('is gone once it is as it was, is forgotten, or its writer signs out', async () => {
    await write('KRK')
    await write('KIR')
    expect((await open()).recalled).toBeNull()
    await write('KRK')
    ;(await open()).forget()
    await nextTick()
    expect((await open()).recalled).toBeNull()
    await write('KRK')
    forgetDrafts()
    expect(sessionStorage.length).toBe(0)
  })
  it('stays when the session ends, which asks nothing', async () => {
    const page = await open()
    page.draft.value[0] = 'KRK'
    await nextTick()
    state.me = null
    expect(await guards.at(-1)!({ path: '/sign-in' }, { path: '/codes/port' })).toBe(true)
    expect(ask).not.toHaveBeenCalled()
    page.component.unmount()
    state.me = { sign_in: 'ada' }
    expect((await open()).draft.value[0]).toBe('KRK')
  })
  it.each([true, false])('asks who leaves: %s', async (leaves) => {
    vi.mocked(ask).mockResolvedValue(leaves)
    const page = await open()
    const to = [{ path: '/' }, { path: '/codes/port' }] as const
    expect(await guards.at(-1)!(...to)).toBe(true) // nothing is altered
    page.draft.value[0] = 'KRK'
    await nextTick()
    expect(await guards.at(-1)!(...to)).toBe(leaves)
    await nextTick()
    page.component.unmount()
    expect((await open()).recalled).toEqual(leaves ? null : { version: 1 })
  })
})
