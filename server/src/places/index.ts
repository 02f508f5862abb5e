/** The tree of places. */
export { finders } from './finders.ts'
export { type House } from './house.ts'
export { namedView } from './named.ts'
export { accountName } from './names.ts'
export { createPlace, updatePlace } from './places.ts'
export { routes } from './routes.ts'
export { place } from './tables.ts'
export { PlaceTree } from './tree.ts'
