import { inArray } from 'drizzle-orm'
import { job } from '../costcentres/index.ts'
import { nextNumber } from '../ledger/index.ts'
import type { House } from './house.ts'

/** Our number of a job that begins; one that somebody gave to another as its code is passed over. */
export function numberOf(house: House): string {
  for (;;) {
    const code = `J-${String(nextNumber(house, 'job')).padStart(4, '0')}`
    // It is in plain letters: only the size of one may differ.
    const other = house.db
      .select({ id: job.id })
      .from(job)
      .where(inArray(job.code, [code, code.toLowerCase()]))
      .get()
    if (!other) return code
  }
}
