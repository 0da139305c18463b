import { ref, type Ref } from 'vue'
import { useEventListener, useTimeoutFn } from '@vueuse/core'
import { whenUnanswered } from '@/api/client'

const AGAIN_MS = 3000

export interface UseConnection {
  /** Whether nothing answers at the moment. */
  isLost: Ref<boolean>
}

/**
 * Notice that nothing answers, ask every few seconds until it does, and then tell the page, as it
 * is told when somebody comes back to the window: it looks again by itself.
 */
export function useConnection(): UseConnection {
  const isLost = ref(false)
  const { start } = useTimeoutFn(() => void ask(), AGAIN_MS, { immediate: false })

  async function ask(): Promise<void> {
    const answer = await fetch('/api/health').catch(() => null)
    if (!answer?.ok) return start()
    isLost.value = false
    document.dispatchEvent(new Event('visibilitychange'))
  }
  function lose(): void {
    if (isLost.value) return
    isLost.value = true
    start()
  }
  whenUnanswered(lose)
  useEventListener(window, 'offline', lose)
  useEventListener(window, 'online', () => isLost.value && void ask())
  return { isLost }
}
