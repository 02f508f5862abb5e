import type { House as Waste } from '../waste/index.ts'

/** What stands up to this room: slips, and why something is wasted. */
export type House = Waste
