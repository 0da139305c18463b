import { watch } from 'vue'
import { useRoute } from 'vue-router'

const PRODUCT = 'Nevefield'

/**
 * What the window is called: what the page shows, as soon as it is known, and before that what the
 * route says of itself.
 */
export function usePageTitle(title: () => string | null | undefined): void {
  const route = useRoute()
  watch(
    [title, () => route.fullPath],
    ([words]) => {
      document.title = `${words || String(route.meta.title ?? '')} · ${PRODUCT}`
    },
    { immediate: true, flush: 'post' },
  )
}
