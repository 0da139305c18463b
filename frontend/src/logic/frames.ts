/** What of a picture is shown: x, y, width and height as shares of it. */
export type Frame = [number, number, number, number]

const LEAST = 0.1
const within = (value: number, most: number) => Math.min(Math.max(value, 0), Math.max(most, 0))

/** A frame brought back into the picture, of the same size. */
export function clampFrame([x, y, width, height]: Frame): Frame {
  return [within(x, 1 - width), within(y, 1 - height), width, height]
}

/** A frame made larger or smaller about its middle: of the same shape, never larger than the
 * picture, never too small to be seen. */
export function scaled([x, y, width, height]: Frame, by: number): Frame {
  const most = Math.min(1 / width, 1 / height)
  const least = Math.max(LEAST / width, LEAST / height)
  const factor = Math.min(Math.max(by, least), most)
  const next: Frame = [
    x + (width * (1 - factor)) / 2,
    y + (height * (1 - factor)) / 2,
    width * factor,
    height * factor,
  ]
  return clampFrame(next)
}
