import type { App } from '../app.ts'
import { usedAccount } from '../places/service.ts'

/** The account of whoever something is for: a job with its cost centre, or a cost centre alone. Where nobody is named, `missing` says so and the line is looked at all the same. */
export function receiverOf(
  app: App,
  who: { readonly job: string | null; readonly costCentre: string | null },
  missing: () => void,
): number {
  const job = who.job ? app.ids.job.get({ uid: who.job }) : undefined
  const centre = who.costCentre ? app.ids.costCentre.get({ uid: who.costCentre }) : undefined
  if (job) return usedAccount(app, job.id, job.costCentreId ?? centre?.id ?? null, job.name)
  if (centre) return usedAccount(app, null, centre.id, centre.name)
  missing()
  return usedAccount(app, null, null, '—')
}
