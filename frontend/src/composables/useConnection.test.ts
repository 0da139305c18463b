// @vitest-environment happy-dom
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { take } from '@/api/client'
import { within } from '@/testing/within'
import { useConnection } from './useConnection'

const asked = vi.fn<() => Promise<Response>>()

describe('a connection that is lost', () => {
  beforeEach(() => {
    vi.useFakeTimers()
    vi.stubGlobal('fetch', asked)
  })
  afterEach(() => {
    vi.useRealTimers()
    vi.unstubAllGlobals()
  })

  it('is said, asked for again, and the page looks again when it is back', async () => {
    const looked = vi.fn()
    document.addEventListener('visibilitychange', looked)
    asked.mockRejectedValue(new TypeError('fetch failed'))
    const { given, component } = within(useConnection)
    expect(given.isLost.value).toBe(false)
    await expect(take(asked() as never)).rejects.toThrow('does not answer')
    expect(given.isLost.value).toBe(true)
    await vi.advanceTimersByTimeAsync(10_000)
    expect(given.isLost.value).toBe(true)
    expect(asked.mock.calls.length).toBeGreaterThan(3)
    expect(looked).not.toHaveBeenCalled()
    asked.mockResolvedValue(new Response('ok'))
    await vi.advanceTimersByTimeAsync(3000)
    expect(given.isLost.value).toBe(false)
    expect(looked).toHaveBeenCalledOnce()
    component.unmount()
  })
})
