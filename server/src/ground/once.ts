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
