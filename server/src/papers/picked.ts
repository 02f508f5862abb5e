import { sql } from 'drizzle-orm'
import { plainly } from '@shelve/core'
import { slip } from '../ledger/index.ts'
import type { Caller } from '../rights/index.ts'
import { cellsTaken } from './book.ts'
import type { House } from './house.ts'
import { slipOf, whatFits } from './together.ts'

/** Of slips: those that are lists to be picked. */
export const isPick = sql`json_extract(${slip.head}, '$.head.pick') is not null`

/** A lot as a line of a draft names it; nothing where the item is kept without. */
export function lotOnLine(house: House, lotId: number): object {
  const lot = house.rows.lotById.get({ id: lotId })!
  return lot.code === null ? {} : { lot: { id: lot.uid, code: lot.code, expiry: lot.expiry } }
}

/**
 * What is wanted from an area, as lines of a list that is picked: one for each lot and bin from which it would be taken, in
 * the order of the walk, and how much is asked there; of as many wants as fit on a list. These may come to more lines than fit.
 */
export function linesToPick(house: House, caller: Caller, place: string, wanted: readonly object[]): object[] {
  if (!wanted.length) return []
  const lines = whatFits(wanted)
  const content = slipOf({ kind: 'move', place, head: { pick: 'list' }, lines }, '')
  const lineOf = new Map(content.lines.map(l => [l.id, l]))
  return [...cellsTaken(house, caller, content)]
    .sort((a, b) => house.places.order(a.from) - house.places.order(b.from))
    .map(c => ({
      id: house.uid(),
      item: lineOf.get(c.line)!.item,
      asked: plainly(c.quantity),
      from: house.places.row(c.from)!.uid,
      to: lineOf.get(c.line)!.to,
      ...lotOnLine(house, c.lotId),
    }))
}
