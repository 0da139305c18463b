import { effectScope } from 'vue'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { useWait } from './useWait'

describe('waiting for another try', () => {
  beforeEach(() => vi.useFakeTimers())
  afterEach(() => vi.useRealTimers())

  it('counts down in words, and says once that it is over', () => {
    const over = vi.fn()
    effectScope().run(() => {
      const { wait, words, hold } = useWait(over)
      hold(130)
      expect(words.value).toBe('3 minutes')
      vi.advanceTimersByTime(129_000)
      expect([wait.value, words.value]).toEqual([1, '1 second'])
      expect(over).not.toHaveBeenCalled()
      vi.advanceTimersByTime(10_000)
      expect(wait.value).toBe(0)
      expect(over).toHaveBeenCalledTimes(1)
    })
  })
})
