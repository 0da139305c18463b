// @vitest-environment happy-dom
import { enableAutoUnmount, mount } from '@vue/test-utils'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { nextTick } from 'vue'
import MoreMenu from './MoreMenu.vue'

enableAutoUnmount(afterEach)

const settle = async () => {
  await nextTick()
  await new Promise((done) => setTimeout(done, 60))
}

describe('what is behind one button', () => {
  const act = vi.fn()
  const menu = () =>
    mount(MoreMenu, {
      props: {
        label: 'Download',
        items: [
          { title: 'CSV', href: '/x.csv' },
          { title: 'Copy', act },
        ],
      },
      attachTo: document.body,
    })
  const press = (key: string) =>
    document.activeElement!.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }))
  const here = () => document.activeElement?.textContent?.trim()

  it('is walked by arrows, and Escape leads back to the button', async () => {
    const shown = menu()
    const button = shown.get('button')
    expect(button.attributes('aria-expanded')).toBe('false')
    button.element.focus()
    await button.trigger('keydown', { key: 'ArrowDown' })
    await settle()
    expect(button.attributes('aria-expanded')).toBe('true')
    expect(here()).toBe('CSV')
    press('ArrowDown')
    expect(here()).toBe('Copy')
    press('ArrowDown')
    expect(here()).toBe('CSV')
    press('End')
    expect(here()).toBe('Copy')
    press('Escape')
    await settle()
    expect(document.activeElement).toBe(button.element)
    expect(button.attributes('aria-expanded')).toBe('false')
  })
  it('does what is chosen, and is closed then', async () => {
    const shown = menu()
    await shown.get('button').trigger('keydown', { key: 'ArrowDown' })
    await settle()
    document.querySelectorAll<HTMLElement>('[role="menuitem"]')[1]!.click()
    await settle()
    expect(act).toHaveBeenCalledOnce()
    expect(shown.get('button').attributes('aria-expanded')).toBe('false')
  })
})
