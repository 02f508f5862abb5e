/** What stands up to this room: everything a slip is made of. */
export { type House } from '../papers/index.ts'
