/**
 * Read a document from a JSON file, as far as the page rests on it: whether it can be is the server's
 * to check.
 */
export function readDocument<Document extends object>(
  text: string,
  list: keyof Document,
  words: { title: string; where: string; lacks: string },
): Document {
  let found: unknown
  try {
    found = JSON.parse(text)
  } catch {
    throw new Error(
      `This file is no JSON. A ${words.title} is given out as JSON under “${words.where}”.`,
    )
  }
  const parts = (found as Document | null)?.[list]
  if (!Array.isArray(parts) || !parts.length)
    throw new Error(`This JSON is no ${words.title}: ${words.lacks}.`)
  return found as Document
}
