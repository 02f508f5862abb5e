/** What a cursor is made of, part by part. */
type Part = 'number' | 'text'
type Parts<S extends readonly Part[]> = { readonly [I in keyof S]: S[I] extends 'number' ? number : string }

export const writeCursor = (parts: readonly (string | number)[]): string =>
  Buffer.from(JSON.stringify(parts)).toString('base64url')

/** Where a list goes on. One that somebody made up, of other parts than this list's, is as good as none. */
export function readCursor<const S extends readonly Part[]>(text: string | undefined, shape: S): Parts<S> | undefined {
  if (!text) return undefined
  let parts: unknown
  try {
    parts = JSON.parse(Buffer.from(text, 'base64url').toString())
  } catch {
    return undefined
  }
  if (!Array.isArray(parts) || parts.length !== shape.length) return undefined
  const fits = shape.every((p, i) => (p === 'number' ? Number.isSafeInteger(parts[i]) : typeof parts[i] === 'string'))
  return fits ? (parts as unknown as Parts<S>) : undefined
}
