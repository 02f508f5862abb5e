/** The one registry of codes: what a scan means. */
export { register } from './codes.ts'
export { type House } from './house.ts'
export { code } from './tables.ts'
