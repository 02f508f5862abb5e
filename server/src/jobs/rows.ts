import { and, eq, sql } from 'drizzle-orm'
import { costCentre, job } from '../costcentres/index.ts'
import { notFound, once, Refused } from '../ground/index.ts'
import { need } from '../ledger/index.ts'
import { type Caller, demandAt } from '../rights/index.ts'
import { IS_OPEN, isOpenJob, OPEN } from './open.ts'
import type { House } from './house.ts'
import { jobPlan } from './tables.ts'

/** A job with its plan, as they are kept. */
export interface Planned {
  readonly job: typeof job.$inferSelect
  readonly plan: typeof jobPlan.$inferSelect
}
export type NeedRow = typeof need.$inferSelect

const joined = (house: House) =>
  house.db.select({ job, plan: jobPlan }).from(jobPlan).innerJoin(job, eq(job.id, jobPlan.jobId))

const statements = once((house: House) => ({
  byUid: joined(house)
    .where(eq(job.uid, sql.placeholder('uid')))
    .prepare(),
  byId: joined(house)
    .where(eq(job.id, sql.placeholder('id')))
    .prepare(),
  byReference: joined(house)
    // As the index says it.
    .where(and(eq(jobPlan.reference, sql.placeholder('reference')), sql`${jobPlan.reference} <> ''`))
    .prepare(),
  around: joined(house)
    // Found by their keys: of all jobs that ever were nearly none is.
    .where(
      sql`${jobPlan.jobId} in (
        with open as materialized (select id from job where ${isOpenJob})
        select id from open
        union select job_id from job_plan where parent_id in (select id from open)
        union select parent_id from job_plan where job_id in (select id from open))`,
    )
    .prepare(),
  parts: joined(house)
    .where(eq(jobPlan.parentId, sql.placeholder('parent')))
    .orderBy(job.id)
    .prepare(),
  centres: house.db.select({ id: costCentre.id, name: costCentre.name }).from(costCentre).prepare(),
  // Tens of thousands of rows: read past the types.
  openNeeds: house.store.client
    .prepare<[], NeedSaid>(
      `select id, job_id, item_id, cast(quantity as text) from need
       where job_id in (select id from job where ${IS_OPEN})`,
    )
    .safeIntegers(false)
    .raw(),
  needs: house.db
    .select()
    .from(need)
    .where(eq(need.jobId, sql.placeholder('job')))
    .orderBy(need.position, need.uid)
    .prepare(),
}))
export const plannedByUid = (house: House, uid: string): Planned | undefined => statements(house).byUid.get({ uid })
export const plannedById = (house: House, id: number): Planned => statements(house).byId.get({ id })!
export const plannedByReference = (house: House, reference: string): Planned | undefined =>
  statements(house).byReference.get({ reference })
/** Jobs that are not over, with what is made for them and what they are made for, whether that is over or not. */
export const jobsAround = (house: House): Planned[] => statements(house).around.all()

/** The items that a job needs; of one that is not there none. */
export const itemsOfJob = (house: House, uid: string): number[] => {
  const found = plannedByUid(house, uid)
  return found ? needsOfJob(house, found.job.id).map(n => n.itemId) : []
}

/** A job that has a plan; of one that is only a name nothing more is known. */
export function wantPlanned(house: House, uid: string): Planned {
  const found = plannedByUid(house, uid)
  if (!found) throw notFound('job')
  return found
}
/** A job that is not over, for somebody who may book where it is done. */
export function wantOpen(house: House, caller: Caller, uid: string): Planned {
  const found = wantPlanned(house, uid)
  demandAt(house, caller, 'book', found.plan.placeId)
  if (!isOpen(found.job))
    throw new Refused(
      409,
      'job_over',
      `${found.job.name} is ${found.job.state === 'done' ? 'done' : 'dropped'}: nothing is changed of it any more. Open it again first.`,
    )
  return found
}
export const isOpen = (row: { readonly state: string }): boolean => (OPEN as readonly string[]).includes(row.state)

export const needsOfJob = (house: House, jobId: number): NeedRow[] => statements(house).needs.all({ job: jobId })

/** What is made for a job, by what comes of it; also what was dropped again. */
export const partsOf = (house: House, jobId: number): Planned[] => statements(house).parts.all({ parent: jobId })

/** As much of a need as says whether it is met. */
export type NeedLine = Pick<NeedRow, 'id' | 'jobId' | 'itemId' | 'quantity'>
/** What all jobs that are not over need, by job. */
export function needsByJob(house: House): Map<number, NeedLine[]> {
  const out = new Map<number, NeedLine[]>()
  for (const [id, jobId, itemId, quantity] of statements(house).openNeeds.all()) {
    const line = { id, jobId, itemId, quantity: BigInt(quantity) }
    const of = out.get(jobId)
    if (of) of.push(line)
    else out.set(jobId, [line])
  }
  return out
}
type NeedSaid = [id: number, jobId: number, itemId: number, quantity: string]
/** What cost centres are called, by their numbers. */
export const centreNames = (house: House): ReadonlyMap<number, string> =>
  new Map(
    statements(house)
      .centres.all()
      .map(c => [c.id, c.name]),
  )
