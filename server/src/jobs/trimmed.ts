import { eq, sql } from 'drizzle-orm'
import { lossOf, ONE, type Ratio, ratio } from '@shelve/core'
import { job } from '../costcentres/index.ts'
import { need } from '../ledger/index.ts'
import type { House } from './house.ts'
import { formulaOfJob } from './planning.ts'
import { needsOfJob } from './rows.ts'
import { jobPlan } from './tables.ts'

/**
 * Which part of what was taken for a need its job trims, by the template that the job keeps to; nothing where somebody typed
 * how much is taken, since that says nothing of it. Each job is read once.
 */
export function lossReader(house: House): (needId: number) => Ratio {
  const jobs = new Map<number, (item: number) => Ratio>()
  const one = house.db
    .select({ jobId: need.jobId, itemId: need.itemId })
    .from(need)
    .where(eq(need.id, sql.placeholder('id')))
    .prepare()
  return needId => {
    const row = one.get({ id: needId })!
    let of = jobs.get(row.jobId)
    if (!of) jobs.set(row.jobId, (of = lossesOf(house, row.jobId)))
    return of(row.itemId)
  }
}

function lossesOf(house: House, jobId: number): (item: number) => Ratio {
  const planned = house.db
    .select({ job, plan: jobPlan })
    .from(jobPlan)
    .innerJoin(job, eq(job.id, jobPlan.jobId))
    .where(eq(jobPlan.jobId, jobId))
    .get()
  const formula = planned && formulaOfJob(house, planned, needsOfJob(house, jobId))
  // Of a job that came to nothing its template's own amount says how its lines stand to each other.
  const wanted = planned && planned.plan.wanted > 0n ? planned.plan.wanted : (formula?.base ?? ONE)
  return item => (formula ? lossOf(formula, wanted, item) : ratio(0n))
}
