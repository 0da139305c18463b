import { ref, type Ref } from 'vue'
import { clampFrame, scaled, type Frame } from '@/logic/frames'

const STEP = 0.02

/** A frame on a picture: moved by the arrows, made larger and smaller by + and -, or dragged. */
export function useFrame(given: number[] | null, picture: Ref<HTMLElement | undefined>) {
  const frame = ref<Frame>([...(given ?? [0, 0, 1, 1])] as Frame)
  let from: { x: number; y: number; frame: Frame } | null = null

  function move(x: number, y: number): void {
    const [left, top, width, height] = frame.value
    frame.value = clampFrame([left + x, top + y, width, height])
  }
  function press(event: KeyboardEvent): void {
    const moves: Record<string, () => void> = {
      ArrowLeft: () => move(-STEP, 0),
      ArrowRight: () => move(STEP, 0),
      ArrowUp: () => move(0, -STEP),
      ArrowDown: () => move(0, STEP),
      '+': () => (frame.value = scaled(frame.value, 1 + 2 * STEP)),
      '-': () => (frame.value = scaled(frame.value, 1 - 2 * STEP)),
    }
    if (!moves[event.key]) return
    event.preventDefault()
    moves[event.key]!()
  }
  function begin(event: PointerEvent): void {
    from = { x: event.clientX, y: event.clientY, frame: frame.value }
    ;(event.target as HTMLElement).setPointerCapture(event.pointerId)
  }
  function drag(event: PointerEvent): void {
    if (!from || !picture.value) return
    const [x, y, width, height] = from.frame
    frame.value = clampFrame([
      x + (event.clientX - from.x) / picture.value.clientWidth,
      y + (event.clientY - from.y) / picture.value.clientHeight,
      width,
      height,
    ])
  }
  const end = () => void (from = null)
  return { frame, press, begin, drag, end }
}
