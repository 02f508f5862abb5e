/**
 * A short code for a new item out of its name, in its own letters: three of the first word, a dash, and the first of each
 * other word (at most three): `Weighing boats` is `WEI-B`. Where `taken` says so, a number is put behind.
 */
export function proposeCode(name: string, taken: (code: string) => boolean): string {
  const words = name
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toUpperCase()
    .match(/[\p{L}\p{N}]+/gu)
  const [first = 'ITEM', ...more] = words ?? []
  const tail = more
    .slice(0, 3)
    .map(w => w[0])
    .join('')
  const code = [first.slice(0, tail ? 3 : 4), tail].filter(Boolean).join('-')
  if (!taken(code)) return code
  let n = 2
  while (taken(`${code}${n}`)) n++
  return `${code}${n}`
}
