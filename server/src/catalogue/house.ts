import type { House as Below } from '../printing/index.ts'
import type { Known } from './known.ts'
import type { Rows } from './rows.ts'
import type { Uses } from './uses.ts'

/** What stands up to this room: what set-up says of items, and what whoever stands above says of their use. */
export interface House extends Below {
  readonly rows: Below['rows'] & Rows
  readonly known: Known
  readonly uses: Uses
}
