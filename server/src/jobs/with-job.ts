import { eq, sql } from 'drizzle-orm'
import { type Movement, type Quantity } from '@shelve/core'
import { once } from '../ground/index.ts'
import { balance } from '../ledger/index.ts'
import { crateName, createPlace } from '../places/index.ts'
import type { House } from './house.ts'
import { IS_OPEN } from './open.ts'
import type { Planned } from './rows.ts'
import { jobPlan, jobWith } from './tables.ts'

/** Where what was picked for jobs lies, and for which job what lies in such a place was picked: prepared once. */
export function withSource(house: House): Pick<House['sources'], 'withJob' | 'jobWith'> {
  const crates = house.db
    .select({ id: jobWith.placeId, plannedAt: jobPlan.placeId })
    .from(jobWith)
    .innerJoin(jobPlan, eq(jobPlan.jobId, jobWith.jobId))
    .where(eq(jobWith.jobId, sql.placeholder('job')))
    .prepare()
  const job = house.db
    .select({ id: jobWith.jobId })
    .from(jobWith)
    .where(eq(jobWith.placeId, sql.placeholder('place')))
    .prepare()
  return {
    withJob: id =>
      crates.all({ job: id }).find(c => house.places.row(c.id)!.parentId === house.places.area(c.plannedAt))?.id,
    jobWith: id => (isCrate(house, id) ? job.get({ place: id })?.id : undefined),
  }
}

/**
 * The place where what is picked for a job lies: made when something is first picked for it where it is done. A job that is
 * done elsewhere by now has another one there; what lies in the first stays where it is.
 */
export function placeWith(house: House, { job, plan }: Planned): { readonly id: number; readonly made: boolean } {
  const there = house.sources.withJob(job.id)
  if (there !== undefined) return { id: there, made: false }
  const area = house.places.row(house.places.area(plan.placeId))!
  const id = createPlace(house, { name: crateName(job.code), kind: 'with_job', parent: area.uid })
  house.db.insert(jobWith).values({ placeId: id, jobId: job.id }).run()
  return { id, made: true }
}

const isCrate = (house: House, id: number): boolean => house.places.row(id)?.kind === 'with_job'

/** Places where something lies with a job: of those that are not over, and where something was left. */
export async function cratesInUse(house: House): Promise<ReadonlySet<number>> {
  await house.stock.ready()
  const left = [...house.stock.all().values()].flatMap(it => it.leaves.map(l => l.placeId))
  return new Set([...openCrates(house).all(), ...left.filter(id => isCrate(house, id))])
}
const openCrates = once((house: House) =>
  house.store.client
    .prepare<[], number>(`select place_id from job_with where job_id in (select id from job where ${IS_OPEN})`)
    .safeIntegers(false)
    .pluck(),
)

/** Whether anything was ever picked for a job. */
export const wasPicked = (house: House, jobId: number): boolean =>
  house.db.select({ id: jobWith.placeId }).from(jobWith).where(eq(jobWith.jobId, jobId)).limit(1).get() !== undefined

/** What lies with a job, by place, item and lot, wherever it was picked. */
export const liesWith = (house: House, { job }: Planned) => lying(house).all({ job: job.id })
const lying = once((house: House) =>
  house.db
    .select({
      placeId: balance.placeId,
      itemId: balance.itemId,
      lotId: balance.lotId,
      quantity: balance.quantity,
    })
    .from(jobWith)
    .innerJoin(balance, eq(balance.placeId, jobWith.placeId))
    .where(sql`${jobWith.jobId} = ${sql.placeholder('job')} and ${balance.quantity} > 0`)
    .orderBy(balance.placeId, balance.itemId, balance.lotId)
    .prepare(),
)

/** How much of each item lies with a job where it is done: what lies elsewhere, since the job was moved, is no help there. */
export function liesHere(house: House, planned: Planned): Map<number, Quantity> {
  const here = house.sources.withJob(planned.job.id)
  const out = new Map<number, Quantity>()
  for (const l of liesWith(house, planned))
    if (l.placeId === here) out.set(l.itemId, (out.get(l.itemId) ?? 0n) + l.quantity)
  return out
}

/** What of some items lies with each job where it is done; `also`: with movements that are not written yet. By job and item. */
export function pickedReader(house: House) {
  const st = house.db
    .select({
      placeId: balance.placeId,
      jobId: jobWith.jobId,
      itemId: balance.itemId,
      quantity: sql<bigint>`sum(${balance.quantity})`.mapWith(balance.quantity),
    })
    .from(balance)
    .innerJoin(jobWith, eq(jobWith.placeId, balance.placeId))
    // Of every job that ever was there is a row, of which nearly all are empty.
    .where(
      sql`${balance.itemId} in (select value from json_each(${sql.placeholder('items')})) and ${balance.quantity} > 0`,
    )
    .groupBy(balance.placeId, balance.itemId)
    .prepare()
  return (items: readonly number[], also: readonly Movement[]): ReadonlyMap<string, Quantity> => {
    const out = new Map<string, Quantity>()
    const add = (job: number | undefined, placeId: number, itemId: number, quantity: Quantity) => {
      if (job === undefined || house.sources.withJob(job) !== placeId) return
      out.set(`${job}.${itemId}`, (out.get(`${job}.${itemId}`) ?? 0n) + quantity)
    }
    for (const r of st.all({ items: JSON.stringify(items) })) add(r.jobId, r.placeId, r.itemId, r.quantity)
    for (const m of also) {
      add(house.sources.jobWith(m.to), m.to, m.itemId, m.quantity)
      add(house.sources.jobWith(m.from), m.from, m.itemId, -m.quantity)
    }
    return out
  }
}
