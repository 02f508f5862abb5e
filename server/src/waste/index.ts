/** Waste: what is thrown away, and why. */
export { finders } from './finders.ts'
export { type House } from './house.ts'
export { kinds } from './kind.ts'
export { createWasteReason } from './reasons.ts'
export { routes } from './routes.ts'
export { prepareRows } from './rows.ts'
export { wasteReason } from './tables.ts'
export { wastedBy } from './wasted.ts'
