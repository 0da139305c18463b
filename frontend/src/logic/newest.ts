/**
 * An asking that is asked again and again, by hand and by itself. `ask` is told how to know whether
 * it is still the newest one: the answer to an earlier one, come later, is none. Whoever asked waits
 * until the newest has come, and so never goes on with what stood before they asked.
 */
export function newest(ask: (isNewest: () => boolean) => Promise<void>): () => Promise<void> {
  let count = 0
  let last = Promise.resolve()
  return async () => {
    const mine = ++count
    last = ask(() => mine === count)
    for (let waited = null as Promise<void> | null; waited !== last; await waited) waited = last
  }
}
