import { sql } from 'drizzle-orm'
import type { House } from './house.ts'

/** At least so many movements lie between two checkpoints, and as many as the last one has rows: a past day then costs about what a look at the present does. */
export const CHECKPOINT_EVERY = 5_000

/**
 * Writes a checkpoint, inside the running transaction, where enough was booked since the last: balances and pools are at
 * this moment what all movements so far add up to, so they are copied. What is at zero is left out.
 */
export function checkpointIfDue(house: House, lastSeq: number): void {
  if (
    lastSeq - house.lastCheckpoint.seq <
    (house.options.checkpointEvery ?? Math.max(CHECKPOINT_EVERY, house.lastCheckpoint.rows))
  )
    return
  const { db } = house
  const before = db.get<{ id: bigint; seq: bigint; latest: bigint } | undefined>(
    sql`select id, seq, latest_effective_at as latest from checkpoint order by seq desc limit 1`,
  )
  const since = before?.seq ?? 0n
  const latest =
    db.get<{ at: bigint | null }>(sql`select max(effective_at) as at from movement where seq > ${since}`)!.at ?? 0n
  const id = (before?.id ?? 0n) + 1n
  db.run(
    sql`insert into checkpoint (id, seq, latest_effective_at, made_at) values (${id}, ${lastSeq}, ${before && before.latest > latest ? before.latest : latest}, ${house.now()})`,
  )
  db.run(
    sql`insert into checkpoint_balance select ${id}, item_id, lot_id, place_id, quantity from balance where quantity <> 0`,
  )
  db.run(sql`insert into checkpoint_pool select ${id}, id, value from pool where value <> 0`)
  house.lastCheckpoint = lastCheckpoint(house)
}

/** How far the last checkpoint reaches, and how many rows it has. */
export function lastCheckpoint(house: House): { seq: number; rows: number } {
  const last = house.db.get<{ id: bigint; seq: bigint } | undefined>(
    sql`select id, seq from checkpoint order by seq desc limit 1`,
  )
  if (!last) return { seq: 0, rows: 0 }
  return {
    seq: Number(last.seq),
    rows: Number(
      house.db.get<{ n: bigint }>(sql`select count(*) as n from checkpoint_balance where checkpoint_id = ${last.id}`)!
        .n,
    ),
  }
}
