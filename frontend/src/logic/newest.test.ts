import { describe, expect, it } from 'vitest'
import { newest } from './newest'

/** Answers that come when told, in any order. */
function answers() {
  const waiting: ((value: string) => void)[] = []
  return {
    ask: () => new Promise<string>((resolve) => waiting.push(resolve)),
    come: async (which: number, value: string) => {
      waiting[which]!(value)
      await new Promise((resolve) => setTimeout(resolve))
    },
  }
}
/** A place that is looked at again and again, and what each who looked found when it was over. */
function place() {
  const { ask, come } = answers()
  const found: string[] = []
  let shown = ''
  const look = newest(async (isNewest) => {
    const answer = await ask()
    if (isNewest()) shown = answer
  })
  const go = () => void look().then(() => found.push(shown))
  return { come, go, found, shown: () => shown }
}

describe('what is asked for again while it is under way', () => {
  it('is given to whoever asked first once the newest has come', async () => {
    const { come, go, found } = place()
    go()
    go()
    await come(0, 'old')
    expect(found).toEqual([])
    await come(1, 'new')
    expect(found).toEqual(['new', 'new'])
  })
  it('is not overwritten by an answer that comes late', async () => {
    const { come, go, found, shown } = place()
    go()
    go()
    await come(1, 'new')
    expect(found).toEqual(['new'])
    await come(0, 'old')
    expect(found).toEqual(['new', 'new'])
    expect(shown()).toBe('new')
  })
  it('waits for one that was begun while it waited', async () => {
    const { come, go, found } = place()
    go()
    go()
    await come(0, 'first')
    go()
    await come(1, 'second')
    expect(found).toEqual([])
    await come(2, 'third')
    expect(found).toEqual(['third', 'third', 'third'])
  })
})
