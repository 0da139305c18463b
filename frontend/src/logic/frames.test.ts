import { describe, expect, it } from 'vitest'
import { clampFrame, scaled, type Frame } from './frames'

describe('the frame of a photograph', () => {
  it('stays in the picture', () => {
    expect(clampFrame([0.8, -0.1, 0.5, 0.4])).toEqual([0.5, 0, 0.5, 0.4])
  })

  it('keeps its shape when it becomes larger or smaller', () => {
    const frame: Frame = [0.1, 0.2, 0.4, 0.3]
    for (const by of [0.01, 0.5, 0.9, 1.3, 9]) {
      const [x, y, width, height] = scaled(frame, by)
      expect(width / height).toBeCloseTo(4 / 3)
      expect(x).toBeGreaterThanOrEqual(0)
      expect(y).toBeGreaterThanOrEqual(0)
      expect(x + width).toBeLessThanOrEqual(1.000001)
      expect(y + height).toBeLessThanOrEqual(1.000001)
    }
    expect(scaled(frame, 9)[2]).toBeCloseTo(1)
    expect(scaled(frame, 0.01)[3]).toBeCloseTo(0.1)
  })
})
