import type { House as CostCentres } from '../costcentres/index.ts'
import type { House as Below } from '../ledger/index.ts'
import type { Rows } from './rows.ts'
import type { Sources } from './sources.ts'
import type { StockView } from './stock.ts'

/** What stands up to this room: what lies where, in memory. */
export interface House extends Below, CostCentres {
  readonly rows: Below['rows'] & CostCentres['rows'] & Rows
  readonly sources: Sources
  readonly stock: StockView
}
