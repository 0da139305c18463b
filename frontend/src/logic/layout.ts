import type { LayoutHere } from '@/api/types'

export interface Put {
  to: string
  from?: string
  fill?: string
  codes?: Record<string, string>
  asked?: string
}

export interface LayoutDocument {
  reference?: Put
  number?: Put
  fields: Put[]
}

/** Say in words what a layout still lacks; nothing when it can be sent. */
export function lacks(here: LayoutHere, layout: LayoutDocument): string[] {
  const filled = (name: string, role: string): boolean => {
    const put =
      role === 'reference'
        ? layout.reference
        : role === 'number'
          ? layout.number
          : layout.fields.find((one) => one.to === name)
    return !!put && (put.fill === undefined ? !!put.from : put.fill !== '')
  }
  return here.theirs
    .filter(
      (one) =>
        (one.is_needed || one.role === 'number') &&
        one.role !== 'asked' &&
        !filled(one.name, one.role),
    )
    .map((one) => one.title)
}
