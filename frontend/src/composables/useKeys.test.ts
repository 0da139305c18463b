// @vitest-environment happy-dom
import { afterEach, describe, expect, it, vi } from 'vitest'
import { within } from '@/testing/within'
import { useKeys } from './useKeys'

const press = (key: string, on: Element = document.body, more: KeyboardEventInit = {}) => {
  const event = new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...more })
  on.dispatchEvent(event)
  return event
}
const put = (html: string): Element => {
  document.body.insertAdjacentHTML('beforeend', html)
  return document.body.lastElementChild!
}

describe('single keys', () => {
  afterEach(() => (document.body.innerHTML = ''))

  it('act while the component lives, and no longer', () => {
    const act = vi.fn()
    const { component } = within(() => useKeys({ h: act }))
    expect(press('h').defaultPrevented).toBe(true)
    press('H') // with Shift it is the same key
    expect(act).toHaveBeenCalledTimes(2)
    component.unmount()
    press('h')
    expect(act).toHaveBeenCalledTimes(2)
  })

  it.each([
    ['a field', '<input />'],
    ['a text', '<textarea></textarea>'],
    ['a choice', '<div role="combobox"></div>'],
  ])('typed into %s do nothing', (_, html) => {
    const act = vi.fn()
    within(() => useKeys({ h: act }))
    press('h', put(html))
    expect(act).not.toHaveBeenCalled()
  })

  it.each([['ctrlKey'], ['metaKey'], ['altKey']])('with %s are somebody else’s', (modifier) => {
    const act = vi.fn()
    within(() => useKeys({ h: act }))
    expect(press('h', document.body, { [modifier]: true }).defaultPrevented).toBe(false)
    expect(act).not.toHaveBeenCalled()
  })

  it('behind an open dialog do nothing, behind a closed one they do', () => {
    const act = vi.fn()
    within(() => useKeys({ h: act }))
    const dialog = put('<div class="ant-modal-wrap"></div>')
    press('h')
    expect(act).not.toHaveBeenCalled()
    dialog.setAttribute('style', 'display: none')
    press('h')
    expect(act).toHaveBeenCalledOnce()
  })

  it('leave Enter and the space bar to a button', () => {
    const act = vi.fn()
    within(() => useKeys({ Enter: act, ' ': act }))
    const button = put('<button>Apply</button>')
    press('Enter', button)
    press(' ', button)
    expect(act).not.toHaveBeenCalled()
    press('Enter')
    expect(act).toHaveBeenCalledOnce()
  })

  it('act once while they are held down, unless they move', () => {
    const [act, move] = [vi.fn(), vi.fn()]
    within(() => useKeys({ h: act, ArrowDown: move }))
    for (const repeat of [false, true, true]) {
      expect(press('h', document.body, { repeat }).defaultPrevented).toBe(true)
      press('ArrowDown', document.body, { repeat })
    }
    expect(act).toHaveBeenCalledOnce()
    expect(move).toHaveBeenCalledTimes(3)
  })

  it.each(['checkbox', 'radio'])(
    'also act while a %s has the focus, which keeps its own',
    (type) => {
      const [act, own] = [vi.fn(), vi.fn()]
      within(() => useKeys({ h: act, ' ': own, ArrowDown: own }))
      const tick = put(`<input type="${type}" />`)
      press('h', tick)
      press(' ', tick)
      press('ArrowDown', tick)
      expect(act).toHaveBeenCalledOnce()
      expect(own).not.toHaveBeenCalled()
    },
  )
})
