/** The one registry of codes: what a scan means. */
export { register } from './codes.ts'
export { type House } from './house.ts'
export { prepareRows } from './rows.ts'
export { code } from './tables.ts'
