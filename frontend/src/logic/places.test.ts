// @vitest-environment happy-dom
import { describe, expect, it, vi } from 'vitest'
import type { RouteLocationMatched } from 'vue-router'
import { actsHere, looked, placeOf, type Target } from './places'

const target = (title: string, detail = ''): Target => ({
  kind: 'place',
  title,
  detail,
  go: () => undefined,
})

describe('a page', () => {
  const at = (path: string, params: Record<string, string> = {}, meta = {}) =>
    placeOf({ matched: [{ path, meta }] as unknown as RouteLocationMatched[], params })

  it('is another one for another name of its own', () => {
    expect(at('/rosters/:name', { name: 'a' })).not.toBe(at('/rosters/:name', { name: 'b' }))
    expect(at('/intakes/:id(\\d+)', { id: '1' })).not.toBe(at('/intakes/:id(\\d+)', { id: '2' }))
    const spread = '/groups/:roster/:kind/spread'
    const cadets = at(spread, { roster: 'cadets', kind: 'watch' })
    expect(cadets).not.toBe(at(spread, { roster: 'staff', kind: 'watch' }))
    expect(cadets).not.toBe(at(spread, { roster: 'cadets', kind: 'berth' }))
  })

  it('stays when a part of it is opened', () => {
    expect(at('/passing')).toBe(at('/passing', { name: 'library' }))
    expect(at('/passing')).not.toBe(at('/cards'))
    const groups = '/groups/:roster?/:kind?'
    const watches = at(groups, { roster: 'cadets', kind: 'watch' }, { goesItself: true })
    expect(watches).toBe(at(groups, {}, { goesItself: true }))
  })
})

describe('what is looked for', () => {
  const all = [
    target('Code lists'),
    target('Apply 40 rows'),
    target('Łódź', 'roster'),
    target('Reapply the recipe'),
    target('Écoles', 'roster of schools'),
  ]
  const titles = (typed: string) => looked(all, typed).map((one) => one.title)
  it.each([
    ['app', ['Apply 40 rows', 'Reapply the recipe']],
    ['rows apply', ['Apply 40 rows']],
    ['ecoles', ['Écoles']],
    ['ROSTER', ['Łódź', 'Écoles']],
    ['schools e', ['Écoles']],
    ['nothing like it', []],
  ])('%s', (typed, found) => expect(titles(typed)).toEqual(found))
  it('is everything in its order while nothing is typed', () =>
    expect(titles('')).toEqual(all.map((one) => one.title)))
})

describe('acts of a page', () => {
  it('are what can be pressed and seen, once by each name, without the sign of a key', () => {
    document.body.innerHTML = `<main>
      <button>Hold <kbd>H</kbd></button><button disabled>Apply</button>
      <button aria-label="Remove code A">×</button><button>Hold</button>
      <table><tbody><tr><td><button>in a row</button></td></tr></tbody></table>
      <button hidden>unseen</button></main>`
    const seen = (one: Element) => (one.hasAttribute('hidden') ? [] : [{}])
    for (const one of document.querySelectorAll('button'))
      one.getClientRects = () => seen(one) as unknown as DOMRectList
    const acts = actsHere()
    expect(acts.map((one) => one.title)).toEqual(['Hold', 'Remove code A'])
    const pressed = vi.fn()
    document.querySelector('button')!.addEventListener('click', pressed)
    acts[0]!.go()
    expect(pressed).toHaveBeenCalledOnce()
  })
})
