/** Rows by a key of theirs, in their order. */
export function groupBy<K, V>(rows: readonly V[], key: (v: V) => K): Map<K, V[]> {
  const out = new Map<K, V[]>()
  for (const r of rows) {
    const k = key(r)
    const list = out.get(k)
    if (list) list.push(r)
    else out.set(k, [r])
  }
  return out
}
