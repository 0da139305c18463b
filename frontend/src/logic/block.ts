export interface CellSet {
  line: number
  field: string
  value: string
}

/**
 * Write a block of cells as spreadsheets put it on the clipboard: tabs between cells, a line for
 * each row.
 */
export function block(texts: string[][]): string {
  const quote = (text: string) =>
    /[\t\n\r"]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text
  return texts.map((row) => row.map(quote).join('\t')).join('\n')
}

/** Read a block from the clipboard: tabs, line ends, and quotes around cells that hold either. */
export function spread(text: string): string[][] {
  const rows: string[][] = [[]]
  let cell = ''
  let quoted = false
  for (let place = 0; place < text.length; place += 1) {
    const sign = text[place]!
    if (quoted) {
      if (sign !== '"') cell += sign
      else if (text[place + 1] === '"') {
        cell += '"'
        place += 1
      } else quoted = false
    } else if (sign === '"' && cell === '') quoted = true
    else if (sign === '\t' || sign === '\n') {
      rows.at(-1)!.push(cell)
      cell = ''
      if (sign === '\n') rows.push([])
    } else if (sign !== '\r') cell += sign
  }
  if (cell || rows.at(-1)!.length) rows.at(-1)!.push(cell)
  return rows.filter((row) => row.length)
}

/**
 * Put a block onto lines and fields, from the first of each; what reaches beyond either is left
 * away.
 */
export function cells(texts: string[][], lines: number[], fields: string[]): CellSet[] {
  return texts.slice(0, lines.length).flatMap((row, place) =>
    row.slice(0, fields.length).map((value, column) => ({
      line: lines[place]!,
      field: fields[column]!,
      value: value.trim(),
    })),
  )
}
