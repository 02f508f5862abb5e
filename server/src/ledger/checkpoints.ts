import { sql } from 'drizzle-orm'
import type { App } from '../app.ts'

/** Movements between two checkpoints: a past day reads at most so many of them. */
export const CHECKPOINT_EVERY = 25_000

/**
 * Writes a checkpoint, inside the running transaction, where enough was booked since the last: balances and pools are at
 * this moment what all movements so far add up to, so they are copied. What is at zero is left out.
 */
export function checkpointIfDue(app: App, lastSeq: number, every = CHECKPOINT_EVERY): void {
  if (lastSeq - app.lastCheckpoint < every) return
  const { db } = app
  const before = db.get<{ id: bigint; seq: bigint; latest: bigint } | undefined>(sql`select id, seq, latest_effective_at as latest from checkpoint order by seq desc limit 1`)
  const since = before?.seq ?? 0n
  const latest = db.get<{ at: bigint | null }>(sql`select max(effective_at) as at from movement where seq > ${since}`)!.at ?? 0n
  const id = (before?.id ?? 0n) + 1n
  db.run(sql`insert into checkpoint (id, seq, latest_effective_at, made_at) values (${id}, ${lastSeq}, ${before && before.latest > latest ? before.latest : latest}, ${app.now()})`)
  db.run(sql`insert into checkpoint_balance select ${id}, item_id, lot_id, place_id, quantity from balance where quantity <> 0`)
  db.run(sql`insert into checkpoint_pool select ${id}, id, value from pool where value <> 0`)
  app.lastCheckpoint = lastSeq
}
export const lastCheckpoint = (app: App): number => Number(app.db.get<{ seq: bigint | null }>(sql`select max(seq) as seq from checkpoint`)!.seq ?? 0n)
