import { ENDED } from '../costcentres/index.ts'
import type { Making } from '../ledger/index.ts'
import type { Base } from './base.ts'

/**
 * The account of whoever something is for: a job with its cost centre, or a cost centre alone. Where nobody is named, or
 * somebody who is not in use any more, `no` says so and the line is looked at all the same.
 */
export function receiverOf(
  house: Base,
  making: Making,
  who: { readonly job: string | null; readonly costCentre: string | null },
  no: (code: 'for_whom' | 'for_whom_ended', name?: string) => void,
): number {
  const job = who.job ? house.rows.job.get({ uid: who.job }) : undefined
  const centre = who.costCentre ? house.rows.costCentre.get({ uid: who.costCentre }) : undefined
  if (job && ENDED.includes(job.state)) no('for_whom_ended', job.name)
  else if (!job && centre && !centre.active) no('for_whom_ended', centre.name)
  if (job) return making.user(job.id, job.costCentreId ?? centre?.id ?? null, job.name)
  if (centre) return making.user(null, centre.id, centre.name)
  no('for_whom')
  return making.user(null, null, '—')
}
