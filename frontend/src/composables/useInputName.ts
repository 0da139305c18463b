import { nextTick, onMounted, onUpdated, useTemplateRef } from 'vue'

/** A control of the library as we use it. */
interface Control {
  focus: () => void
  $el: HTMLElement
}

/**
 * The library names the frame of a control, or nothing; who does not see it needs the name where
 * the focus is: at its input. `name` says it anew, after a list was closed.
 */
export function useInputName(key: string, label: () => string) {
  const control = useTemplateRef<Control>(key)
  function name(): void {
    const input = control.value?.$el.querySelector('input')
    input?.setAttribute('aria-label', label())
    // a list that is closed is said to be so
    if (input?.role === 'combobox' && !input.hasAttribute('aria-expanded'))
      input.setAttribute('aria-expanded', 'false')
    // and an option of it that is not there is not the one that is looked at
    const option = input?.getAttribute('aria-activedescendant')
    if (option && !document.getElementById(option)) input?.removeAttribute('aria-activedescendant')
  }
  onMounted(name)
  onUpdated(name)
  return { control, name: () => void nextTick(name) }
}
