import type { DraftLine, LotBalance } from '../ledger/books.ts'

/**
 * The lines of a change of cost method: everything that lies anywhere goes out of the pool it was in and into the one
 * that takes its place, at its value (common practice; each old pool is one event, so that what comes out of it shares
 * its value by quantity):
 *
 *     average, one pool  ─▶ relabel ─▶  lot A's pool: its quantity × unit cost
 *     10 for 30                         lot B's pool: likewise; the parts add up to 30
 *
 * `poolBefore` and `poolAfter` name the pools of a lot, `relabel` the account that the lines run through.
 */
export function methodChangeLines(
  balances: readonly LotBalance[],
  o: {
    readonly itemId: number
    readonly lineId: string
    readonly relabel: number
    readonly poolBefore: (lotId: number) => number
    readonly poolAfter: (lotId: number) => number
  },
): DraftLine[] {
  return balances
    .filter(b => b.quantity > 0n)
    .flatMap(b => {
      const line = {
        lineId: o.lineId,
        itemId: o.itemId,
        lotId: b.lotId,
        quantity: b.quantity,
        event: String(o.poolBefore(b.lotId)),
      }
      return [
        { ...line, from: b.placeId, to: o.relabel, poolId: o.poolBefore(b.lotId) },
        { ...line, from: o.relabel, to: b.placeId, poolId: o.poolAfter(b.lotId), weight: b.quantity },
      ]
    })
}
