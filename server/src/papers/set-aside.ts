import { once, remember } from '../ground/index.ts'
import type { SqlBooks } from '../ledger/index.ts'
import type { Base } from './base.ts'

/** What was asked while one slip is judged; not kept longer, since something is set aside without anything being booked. */
const askedFor = once((_: SqlBooks) => new Map<string, ReadonlySet<number>>())
/** Those of some items of which something is set aside: a slip asks it of its lines, and of what they do. */
export function reservedOf(house: Base, books: SqlBooks, items: Iterable<number>): ReadonlySet<number> {
  const ids = JSON.stringify([...new Set(items)].sort((a, b) => a - b))
  return remember(askedFor(books), ids, () => new Set(house.rows.reservedItems.all({ ids }).map(r => r.item)))
}
