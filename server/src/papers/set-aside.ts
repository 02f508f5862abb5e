import { once } from '../ground/index.ts'
import type { SqlBooks } from '../ledger/index.ts'
import type { Base } from './base.ts'

/** What was asked while one slip is judged; not kept longer, since something is set aside without anything being booked. */
const askedFor = once((_: SqlBooks) => new Map<number, boolean>())
/**
 * Those of some items of which something is set aside: a slip asks it of its lines, and of what they do. What it knows already is
 * not asked once more: of a make, of all that it takes and then of what comes of it, too.
 */
export function reservedOf(house: Base, books: SqlBooks, items: Iterable<number>): ReadonlySet<number> {
  const known = askedFor(books)
  const all = [...new Set(items)]
  const unknown = all.filter(item => !known.has(item))
  if (unknown.length) {
    const reserved = new Set(house.rows.reservedItems.all({ ids: JSON.stringify(unknown) }).map(r => r.item))
    for (const item of unknown) known.set(item, reserved.has(item))
  }
  return new Set(all.filter(item => known.get(item)))
}
