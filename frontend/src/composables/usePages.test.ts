import { describe, expect, it } from 'vitest'
import { usePages, type Page } from './usePages'

const rows = (start: number, limit: number, total: number) =>
  Array.from({ length: Math.max(0, Math.min(limit, total - start)) }, (_, place) => start + place)
const source = (total: number) => {
  const asked: number[] = []
  const fetch = (start: number, limit: number): Promise<Page<number>> => {
    asked.push(start)
    return Promise.resolve({ total, rows: rows(start, limit, total) })
  }
  return { asked, fetch }
}
const later = () => new Promise((resolve) => setTimeout(resolve))

describe('a long list in pages', () => {
  it('fetches the first page, and others only when they are looked at', async () => {
    const { asked, fetch } = source(1000)
    const pages = usePages(fetch)
    await pages.restart()
    expect([pages.total.value, pages.at(199), pages.at(200)]).toEqual([1000, 199, undefined])
    pages.need(390, 410)
    pages.need(390, 410)
    await later()
    expect(pages.at(410)).toBe(410)
    expect(asked).toEqual([0, 200, 400])
  })

  it('never asks past the end', async () => {
    const { asked, fetch } = source(150)
    const pages = usePages(fetch)
    await pages.restart()
    pages.need(140, 900)
    await later()
    expect(asked).toEqual([0])
  })

  it('throws away an answer that comes after a newer start', async () => {
    const answers: ((page: Page<string>) => void)[] = []
    const pages = usePages(() => new Promise<Page<string>>((resolve) => answers.push(resolve)))
    const first = pages.restart()
    const second = pages.restart()
    answers[1]!({ total: 1, rows: ['new'] })
    answers[0]!({ total: 1, rows: ['old'] })
    await Promise.all([first, second])
    expect(pages.at(0)).toBe('new')
    expect(pages.loading.value).toBe(false)
  })

  it('keeps the old rows until the new ones are there', async () => {
    let answer: (page: Page<string>) => void = () => undefined
    const pages = usePages(() => new Promise<Page<string>>((resolve) => (answer = resolve)))
    const first = pages.restart()
    answer({ total: 1, rows: ['old'] })
    await first
    const second = pages.restart()
    expect([pages.at(0), pages.loading.value]).toEqual(['old', true])
    answer({ total: 0, rows: [] })
    await second
    expect([pages.at(0), pages.total.value]).toEqual([undefined, 0])
  })

  it('says what went wrong and can be asked again', async () => {
    let broken = true
    const pages = usePages(() =>
      broken ? Promise.reject(new Error('gone')) : Promise.resolve({ total: 1, rows: ['there'] }),
    )
    await pages.restart()
    expect(pages.problem.value).toBe('gone')
    broken = false
    await pages.restart()
    expect([pages.problem.value, pages.at(0)]).toEqual(['', 'there'])
  })
})
