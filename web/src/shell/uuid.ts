/** A UUID of version 7 (RFC 9562): sorts by time. Works without `crypto.randomUUID`, which plain http on a local network lacks. */
export function v7(now = Date.now()): string {
  const b = crypto.getRandomValues(new Uint8Array(16))
  for (let i = 5, t = now; i >= 0; i--, t = Math.floor(t / 256)) b[i] = t % 256
  b[6] = (b[6]! & 0x0f) | 0x70
  b[8] = (b[8]! & 0x3f) | 0x80
  const hex = [...b].map(x => x.toString(16).padStart(2, '0')).join('')
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-${hex.slice(12, 16)}-${hex.slice(16, 20)}-${hex.slice(20)}`
}
