/**
 * What is built once for each house, when that first asks for it, and kept as long as the house stands. A statement costs
 * several times as much to build as to run.
 */
export function once<H extends object, T>(build: (house: H) => T): (house: H) => T {
  const built = new WeakMap<H, { readonly it: T }>()
  return house => {
    let known = built.get(house)
    if (!known) built.set(house, (known = { it: build(house) }))
    return known.it
  }
}

/** What is read once for each key, and kept in a map: also where what was read is that there is nothing. */
export function remember<K, V>(map: Map<K, V>, key: K, read: () => V): V {
  // Asked thousands of times for one slip: what is there is found by one look, not by two.
  const there = map.get(key)
  if (there !== undefined || map.has(key)) return there!
  const v = read()
  map.set(key, v)
  return v
}
