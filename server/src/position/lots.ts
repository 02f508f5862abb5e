import { and, eq, sql } from 'drizzle-orm'
import type { LotView } from '@shelve/contract'
import { firstToGo, formatDecimal, lotState } from '@shelve/core'
import { sortable, wantItem } from '../catalogue/index.ts'
import { iso } from '../ground/index.ts'
import { balance } from '../ledger/index.ts'
import type { Scope } from '../rights/index.ts'
import type { House } from './house.ts'

/** The lots of an item, first to go first; only those of which something is left. */
export function lotsOf(house: House, uid: string, { within }: Scope): LotView[] {
  const row = wantItem(house, uid)
  const today = house.today()
  const lots = house.rows.itemLots.all({ item: row.id })
  const lies = house.db
    .select()
    .from(balance)
    .where(and(eq(balance.itemId, row.id), sql`${balance.quantity} > 0`))
    .all()
    .filter(b => !within || within.has(b.placeId))
  const uidOf = new Map(lots.map(l => [l.id, l.uid]))
  return lots
    .sort((a, b) => firstToGo(sortable(a), sortable(b)))
    .map(l => {
      const here = lies.filter(b => b.lotId === l.id)
      return {
        id: l.uid,
        code: l.code,
        expiry: l.expiry,
        state: lotState({ held: l.held as 'usable', expiry: l.expiry }, today),
        received: iso(l.receivedAt),
        opened: l.openedAt === null ? null : iso(l.openedAt),
        parent: l.parentId === null ? null : (uidOf.get(l.parentId) ?? null),
        places: here.map(b => ({
          place: house.places.row(b.placeId)!.uid,
          name: house.places.name(b.placeId),
          quantity: formatDecimal(b.quantity),
        })),
        quantity: formatDecimal(here.reduce((s, b) => s + b.quantity, 0n)),
      }
    })
    .filter(l => l.quantity !== '0')
}
