import { expect, it } from 'vitest'
import { matrixOf } from './matrix'

it('lays moves out with those who had none last', () => {
  const matrix = matrixOf([
    { old: 'Tern', new: 'Skua', count: 4 },
    { old: null, new: 'Tern', count: 2 },
    { old: 'Tern', new: null, count: 1 },
  ])
  expect(matrix.names).toEqual(['Skua', 'Tern', 'none'])
  expect(matrix.cells).toEqual([
    [0, 0, 0],
    [4, 0, 1],
    [0, 2, 0],
  ])
  expect(matrix.leaving).toEqual([0, 5, 2])
  expect(matrix.most).toBe(4)
})

it('is empty without moves', () => expect(matrixOf([]).names).toEqual([]))
