import type { SlipLine } from '@shelve/contract'
import type { DraftLine } from '@shelve/core'
import type { ItemRow } from '../catalogue/index.ts'
import type { Reading } from '../papers/index.ts'

/** What comes in: where it is put, in which lot, at what price. */
export function inward(r: Reading, from: number, line: SlipLine, item: ItemRow, quantity: bigint): DraftLine[] {
  // What is bought for someone goes straight to them and never lies on a shelf.
  const to = line.direct ? r.straight(line, line.direct) : item.kept !== 'stock' ? r.usedBy() : r.into(line, item)
  const lotId = r.lotIn(line, item)
  const goods = r.price(line, item, quantity)
  if (to === undefined || lotId === undefined || goods === undefined) return []
  return [{ lineId: r.id(line), itemId: item.id, lotId, from, to, quantity, goods }]
}
