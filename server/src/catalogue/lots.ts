import { eq, sql } from 'drizzle-orm'
import { notFound, once, Refused } from '../ground/index.ts'
import { type Caller, mayAt } from '../rights/index.ts'
import type { House } from './house.ts'
import { lot, lotState } from './tables.ts'

/** A lot, with a pool of its own where the item is costed by actual lot. */
export function createLot(house: House, itemId: number, lotCode: string | null, expiry: string | null): number {
  const made = house.rows.insertLot.get({
    uid: house.uid(),
    item: itemId,
    code: lotCode,
    expiry,
    now: house.now(),
  })!
  house.uses.lotMade(itemId, made.id)
  return made.id
}

/** What becomes of a lot is said wherever it lies: whoever says it may book there. */
export function demandLot(house: House, caller: Caller, uid: string): void {
  const row = house.rows.lot.get({ uid })
  if (!row) throw notFound('lot')
  for (const place of house.uses.lotLies(row.itemId, row.id))
    if (!mayAt(house, caller, 'book', place))
      throw new Refused(
        403,
        'not_your_place',
        'Some of this lot lies where you may not book. Ask a manager, or whoever keeps it.',
      )
}

export function setLotState(
  house: House,
  uid: string,
  held: 'usable' | 'held' | 'recalled',
  why: string,
  byId: number,
): void {
  const row = house.rows.lot.get({ uid })
  if (!row) throw notFound('lot')
  holding(house).hold.run({ id: row.id, held })
  holding(house).says.run({ lotId: row.id, held, since: house.now(), byId, why })
}
/** A recall says it of thousands of lots: prepared once. */
const holding = once((house: House) => {
  const p = sql.placeholder
  return {
    hold: house.db
      .update(lot)
      .set({ held: sql`${p('held')}` })
      .where(eq(lot.id, p('id')))
      .prepare(),
    says: house.db
      .insert(lotState)
      .values({ lotId: p('lotId'), held: p('held'), since: p('since'), byId: p('byId'), why: p('why') })
      .prepare(),
  }
})

/** A lot as the order of going is decided: first expired first out, then the oldest. */
export const sortable = (l: {
  id: number
  held: string
  expiry: string | null
  receivedAt: number
  openedAt: number | null
}) => ({ id: l.id, held: l.held as 'usable', expiry: l.expiry, received: l.receivedAt, opened: l.openedAt !== null })
