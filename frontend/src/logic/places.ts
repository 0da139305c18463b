import type { RouteLocationNormalized } from 'vue-router'

const ADMINISTERS = 4
/** The places of the top line, in their order. */
export const PLACES = [
  { path: '/', title: 'Desk' },
  { path: '/rosters', title: 'Rosters' },
  { path: '/intakes', title: 'Intakes' },
  { path: '/groups', title: 'Groups' },
  { path: '/codes', title: 'Codes' },
  { path: '/submissions', title: 'Submissions' },
  { path: '/cards', title: 'Cards' },
  { path: '/passing', title: 'Passing on' },
  { path: '/setup', title: 'Setup' },
] as const

/** The places that somebody sees: Setup is for who administers everything. */
export const placesFor = (everywhere: number) =>
  PLACES.filter((place) => place.path !== '/setup' || everywhere >= ADMINISTERS)

/**
 * What tells one page from another: its own path, with what is named in it, unless it goes from
 * one to the other itself. A part that is opened within a page is none of it: the page and what was
 * begun on it stay.
 */
export function placeOf(at: Pick<RouteLocationNormalized, 'matched' | 'params'>): string {
  const { path = '', meta } = at.matched[0] ?? {}
  if (meta?.goesItself) return path
  const named = [...path.matchAll(/:(\w+)/g)].map(([, name]) => String(at.params[name!] ?? ''))
  return [path, ...named].join(':')
}

/** Something that can be gone to or done, with what it is and where it comes from. */
export interface Target {
  kind: 'here' | 'place' | 'found'
  title: string
  detail: string
  go: () => void
}

/** Letters without accents and case, as one looks for them. */
const plain = (text: string): string => text.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase()

/**
 * Keep what has every word that is typed, in any order: first what begins with them, then what has
 * them at the begin of a word, then the rest; else in the order that is given.
 */
export function looked(targets: Target[], typed: string): Target[] {
  const words = plain(typed).split(/\s+/).filter(Boolean)
  const rank = (target: Target): number => {
    const text = plain(`${target.title} ${target.detail}`)
    if (!words.every((word) => text.includes(word))) return -1
    if (words.length && plain(target.title).startsWith(words.join(' '))) return 0
    return words.every((word) => ` ${text}`.includes(` ${word}`)) ? 1 : 2
  }
  return targets
    .map((target, place) => ({ target, place, rank: rank(target) }))
    .filter((one) => one.rank >= 0)
    .sort((a, b) => a.rank - b.rank || a.place - b.place)
    .map((one) => one.target)
}

const ACTS = ['main button:not(:disabled), main a.btn', 'header button:not(:disabled)']

/** What a control is called, without the sign of its key. */
function nameOf(control: HTMLElement): string {
  const named = control.getAttribute('aria-label')
  if (named) return named
  const copy = control.cloneNode(true) as HTMLElement
  copy.querySelectorAll('kbd, [aria-hidden="true"]').forEach((one) => one.remove())
  return (copy.textContent ?? '').replace(/\s+/g, ' ').trim()
}

/** List what can be done on the page as it stands: its buttons that are seen, once by each name. */
export function actsHere(page: ParentNode = document): Target[] {
  const found = new Map<string, Target>()
  for (const control of ACTS.flatMap((one) => [...page.querySelectorAll<HTMLElement>(one)])) {
    const name = nameOf(control)
    const isShown = control.getClientRects().length > 0
    if (!name || !isShown || found.has(name) || control.closest('[role="row"], tbody')) continue
    found.set(name, {
      kind: 'here',
      title: name,
      detail: control.title && control.title !== name ? control.title : '',
      go: () => {
        control.focus()
        control.click()
      },
    })
  }
  return [...found.values()]
}
