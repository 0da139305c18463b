// @vitest-environment happy-dom
import { describe, expect, it } from 'vitest'
import { mount } from '@vue/test-utils'
import LayerColumn from './LayerColumn.vue'

const part = (key: string, count: number) => ({ key, count, word: key, look: `l-${key}` })
const show = (working = false) =>
  mount(LayerColumn, {
    props: {
      total: 12,
      of: 'rows read',
      parts: [part('new', 10), part('changed', 0), part('stopped', 2)],
      below: part('absent', 3),
      selected: 'stopped',
      working,
    },
    slots: { default: 'adds up ✓' },
  })

describe('a tally drawn as layers', () => {
  it('has a layer for all that there is, with its number and its word', () =>
    expect(
      show()
        .findAll('button')
        .map((button) => button.text()),
    ).toEqual(['12 rows read', '10new', '2stopped', '3absent']))

  it('opens what is pressed, and tells which is open', async () => {
    const column = show()
    const [, , stopped, absent] = column.findAll('button')
    expect(stopped!.attributes('aria-pressed')).toBe('true')
    await absent!.trigger('click')
    await column.find('button').trigger('click')
    expect(column.emitted('open')).toEqual([['absent'], ['all']])
  })

  it('says while it is worked out', () => {
    expect(show().attributes('aria-busy')).toBe('false')
    expect(show(true).attributes('aria-busy')).toBe('true')
  })
})
