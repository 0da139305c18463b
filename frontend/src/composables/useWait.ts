import { computed, ref, type Ref } from 'vue'
import { useIntervalFn } from '@vueuse/core'
import { counted } from '@/logic/words'

export interface UseWait {
  /** Seconds until another try is taken; 0 when one is. */
  wait: Ref<number>
  /** The same in words. */
  words: Readonly<Ref<string>>
  hold: (seconds: number) => void
}

/** After several tries that did not fit each one makes the next wait longer. */
export function useWait(whenOver: () => void): UseWait {
  const wait = ref(0)
  let until = 0
  const clock = useIntervalFn(tick, 250, { immediate: false })

  function tick(): void {
    wait.value = Math.max(0, Math.ceil((until - Date.now()) / 1000))
    if (wait.value) return
    whenOver()
    clock.pause()
  }
  function hold(seconds: number): void {
    until = Date.now() + seconds * 1000
    clock.resume()
    tick()
  }
  const words = computed(() =>
    wait.value < 120
      ? counted(wait.value, 'second')
      : counted(Math.ceil(wait.value / 60), 'minute'),
  )
  return { wait, words, hold }
}
