import { watch } from 'vue'
import { useRoute } from 'vue-router'

import { useHouse } from './useHouse'

const PRODUCT = 'Nevefield'

/**
 * What the window is called: what the page shows, as soon as it is known, and before that what the
 * route says of itself.
 */
export function usePageTitle(title: () => string | null | undefined): void {
  const route = useRoute()
  const { isPractice } = useHouse()
  watch(
    [title, () => route.fullPath, isPractice],
    ([words]) => {
      const product = isPractice.value ? `Practice copy · ${PRODUCT}` : PRODUCT
      document.title = `${words || String(route.meta.title ?? '')} · ${product}`
    },
    { immediate: true, flush: 'post' },
  )
}
