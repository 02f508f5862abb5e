export const writeCursor = (parts: (string | number)[]): string =>
  Buffer.from(JSON.stringify(parts)).toString('base64url')

/** A cursor somebody made up is as good as none. */
export function readCursor(text: string | undefined): (string | number)[] | undefined {
  if (!text) return undefined
  try {
    const parts: unknown = JSON.parse(Buffer.from(text, 'base64url').toString())
    return Array.isArray(parts) &&
      parts.length > 0 &&
      parts.every(p => typeof p === 'string' || (typeof p === 'number' && Number.isFinite(p)))
      ? (parts as (string | number)[])
      : undefined
  } catch {
    return undefined
  }
}
