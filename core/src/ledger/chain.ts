/** Version of the bytes a slip is hashed over. A new way of writing them gets a new number; old slips keep theirs. */
export const CHAIN_VERSION = 1
/** What the first slip is chained to. */
export const CHAIN_START = '0'.repeat(64)

/** Text that JSON writes as it is, between quotes: printable ASCII without quote and backslash. */
const AS_IT_IS = /^[ !#-[\]-~]*$/
const quoted = (text: string): string => (AS_IT_IS.test(text) ? `"${text}"` : JSON.stringify(text))

/** By UTF-16 code units, as RFC 8785 sorts them and `sort` does by itself; most are in that order already. */
function namesOf(value: object): readonly string[] {
  const names = Object.keys(value)
  for (let i = 1; i < names.length; i++) if (names[i]! < names[i - 1]!) return names.sort()
  return names
}

/**
 * The one way to write a value down: JSON with sorted keys, no blanks, big integers as decimal digits in quotes,
 * undefined members left out. Two equal values always give the same bytes.
 */
export function canonical(value: unknown): string {
  if (typeof value === 'string') return quoted(value)
  if (typeof value === 'bigint') return `"${value}"`
  if (value === null || typeof value !== 'object') return JSON.stringify(value) ?? 'null'
  if (Array.isArray(value)) return `[${value.map(canonical).join(',')}]`
  let out = ''
  for (const name of namesOf(value)) {
    const v = (value as Record<string, unknown>)[name]
    if (v !== undefined) out += `${out && ','}${quoted(name)}:${canonical(v)}`
  }
  return `{${out}}`
}

/** What is hashed for a slip: the hash before it, and its own canonical bytes. The hash function is handed in (SHA-256, hexadecimal). */
export const chainHash = (previous: string, bytes: string, sha256: (text: string) => string): string =>
  sha256(`${previous}\n${bytes}`)

export interface Link {
  readonly slip: number
  readonly hash: string
  readonly bytes: string
}
/**
 * The first slip at which a chain (from `start` on) does not hold: its hash is not that of the one before with its own
 * bytes. Undefined where the chain holds to the end.
 */
export function brokenLink(
  links: Iterable<Link>,
  sha256: (text: string) => string,
  start = CHAIN_START,
): number | undefined {
  let previous = start
  for (const l of links) {
    if (chainHash(previous, l.bytes, sha256) !== l.hash) return l.slip
    previous = l.hash
  }
  return undefined
}
