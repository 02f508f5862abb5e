import { eq } from 'drizzle-orm'
import { notFound } from '../ground/index.ts'
import type { House } from './house.ts'
import { restockSlip } from './tables.ts'

/** A restock slip as it is kept. */
export type Row = typeof restockSlip.$inferSelect

export const wantSlip = (house: House, uid: string): Row => {
  const row = house.db.select().from(restockSlip).where(eq(restockSlip.uid, uid)).get()
  if (!row) throw notFound('restock slip')
  return row
}
