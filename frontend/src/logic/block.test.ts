import { describe, expect, it } from 'vitest'
import { block, cells, spread } from './block'

const BLOCK = [
  ['a', 'b c'],
  ['', 'say "x"'],
  ['two\nlines', 'tab\there'],
]

describe('a block of cells', () => {
  it('comes back from the clipboard as it went', () => {
    expect(spread(block(BLOCK))).toEqual(BLOCK)
  })
  it.each([
    [
      'a\tb\r\nc\td\r\n',
      [
        ['a', 'b'],
        ['c', 'd'],
      ],
    ],
    ['one', [['one']]],
    ['', []],
    ['\tb', [['', 'b']]],
  ])('is read as spreadsheets write it: %j', (text, rows) => {
    expect(spread(text)).toEqual(rows)
  })
  it('goes onto lines and fields, and not beyond', () => {
    expect(
      cells(
        [
          ['1', '2'],
          ['3', '4'],
          ['5', '6'],
        ],
        [44, 51],
        ['watch'],
      ),
    ).toEqual([
      { line: 44, field: 'watch', value: '1' },
      { line: 51, field: 'watch', value: '3' },
    ])
  })
})
