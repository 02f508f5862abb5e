/** More stands above nothing: where names have come to stand in a circle, it ends here. */
const HIGHEST = 50

/** Something and what stands above it, the nearest first: what a category hands down is what the first of these says. */
export function* upwards<T>(from: T | null | undefined, above: (of: T) => T | null | undefined): Generator<T> {
  let at = from
  for (let n = 0; at !== null && at !== undefined && n < HIGHEST; n++) {
    yield at
    at = above(at)
  }
}

/** What the first of some says that says anything; null where none does. */
export function nearest<T, S>(of: Iterable<T>, says: (one: T) => S | null): S | null {
  for (const one of of) {
    const said = says(one)
    if (said !== null) return said
  }
  return null
}
