/** Suppliers, known by name. */
export { finders } from './finders.ts'
export { type House } from './house.ts'
export { routes } from './routes.ts'
export { prepareRows } from './rows.ts'
export { supplier } from './tables.ts'
