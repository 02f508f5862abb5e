import type { House as Papers } from '../papers/index.ts'

/** What stands up to this room: templates. */
export type House = Papers
