import { inArray } from 'drizzle-orm'
import { proposeCode } from '@shelve/core'
import { job } from '../costcentres/index.ts'
import { folded } from '../ground/index.ts'
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

/** The code of a job that is only a name: out of that, and none that any other has. */
export function codeFrom(house: House, name: string): string {
  const codes = house.db.select({ code: job.code }).from(job).all()
  const taken = new Set(codes.map(j => folded(j.code)))
  return proposeCode(name, code => taken.has(folded(code)))
}
