import { defineComponent, h } from 'vue'
import { enableAutoUnmount, mount, type VueWrapper } from '@vue/test-utils'
import { afterEach } from 'vitest'

enableAutoUnmount(afterEach)

/** Run a composable as a component would, for tests: what it gives, and the component to unmount. */
export function within<Given>(
  setup: () => Given,
  plugins: unknown[] = [],
): { given: Given; component: VueWrapper } {
  let given: Given | undefined
  const component = mount(
    defineComponent({
      setup() {
        given = setup()
        return () => h('div')
      },
    }),
    { attachTo: document.body, global: { plugins: plugins as never[] } },
  )
  return { given: given as Given, component }
}
