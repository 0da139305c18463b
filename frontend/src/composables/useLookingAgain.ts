import { onBeforeUnmount, type Ref } from 'vue'
import { useTimeoutFn } from '@vueuse/core'

/**
 * Look at once, and again after each pause while the page is seen; leaving it stops that. What is
 * given back begins the pause anew.
 */
export function useLookingAgain(look: () => Promise<void>, pause: number | Ref<number>) {
  let gone = false
  const { start, stop } = useTimeoutFn(
    async () => {
      if (document.visibilityState === 'visible') await look()
      again()
    },
    pause,
    { immediate: false },
  )
  const again = () => {
    if (!gone) start()
  }
  void look().then(again)
  onBeforeUnmount(() => {
    gone = true
    stop()
  })
  return { again, stop }
}
