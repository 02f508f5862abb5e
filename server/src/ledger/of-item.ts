import { and, asc, eq, gte, lte, type SQL, sql } from 'drizzle-orm'
import type { Movement } from '@shelve/core'
import { letIn } from '../ground/index.ts'
import { toMovement } from './books.ts'
import type { House } from './house.ts'
import { movementColumns } from './statements.ts'
import { movement } from './tables.ts'

/** So many movements are read at once. */
const PIECE = 400

/**
 * Every movement of an item that is written at this moment and happened since then, in the order of writing. They are read
 * in pieces, others being let in; what is written meanwhile is not among them.
 */
export async function movementsOfItem(house: House, itemId: number, since = 0): Promise<Movement[]> {
  const written = house.ledger.lastSeq.get()!.seq
  const out: Movement[] = []
  const later = (m: Movement): SQL => sql`(${movement.effectiveAt}, ${movement.seq}) > (${m.effectiveAt}, ${m.seq})`
  for (let last: Movement | undefined; ; last = out.at(-1)) {
    const rows = house.db
      .select(movementColumns)
      .from(movement)
      .where(
        and(
          eq(movement.itemId, itemId),
          last ? later(last) : gte(movement.effectiveAt, since),
          lte(movement.seq, written),
        ),
      )
      .orderBy(asc(movement.effectiveAt), asc(movement.seq))
      .limit(PIECE)
      .all()
    for (const r of rows) out.push(toMovement(r))
    if (rows.length < PIECE) break
    await letIn()
  }
  return out.sort((a, b) => a.seq - b.seq)
}
