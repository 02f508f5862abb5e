import type { House as Papers } from '../papers/index.ts'

/** What stands up to this room: slips. */
export type House = Papers
