import type { Making } from '../ledger/index.ts'
import type { Base } from './base.ts'

/** The account of whoever something is for: a job with its cost centre, or a cost centre alone. Where nobody is named, `missing` says so and the line is looked at all the same. */
export function receiverOf(
  house: Base,
  making: Making,
  who: { readonly job: string | null; readonly costCentre: string | null },
  missing: () => void,
): number {
  const job = who.job ? house.rows.job.get({ uid: who.job }) : undefined
  const centre = who.costCentre ? house.rows.costCentre.get({ uid: who.costCentre }) : undefined
  if (job) return making.user(job.id, job.costCentreId ?? centre?.id ?? null, job.name)
  if (centre) return making.user(null, centre.id, centre.name)
  missing()
  return making.user(null, null, '—')
}
