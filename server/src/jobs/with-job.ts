import { eq, sql } from 'drizzle-orm'
import { type Movement, type Quantity } from '@shelve/core'
import { balance } from '../ledger/index.ts'
import { crateName, createPlace } from '../places/index.ts'
import type { House } from './house.ts'
import type { Planned } from './rows.ts'
import { jobPlan } from './tables.ts'

/** Where what was picked for jobs lies, and for which job what lies in such a place was picked: prepared once. */
export function withSource(house: House): Pick<House['sources'], 'withJob' | 'jobWith'> {
  const place = house.db
    .select({ id: jobPlan.withId })
    .from(jobPlan)
    .where(eq(jobPlan.jobId, sql.placeholder('job')))
    .prepare()
  const job = house.db
    .select({ id: jobPlan.jobId })
    .from(jobPlan)
    .where(sql`${jobPlan.withId} = ${sql.placeholder('place')}`)
    .prepare()
  return {
    withJob: id => place.get({ job: id })?.id ?? undefined,
    jobWith: id => (house.places.row(id)?.kind === 'with_job' ? job.get({ place: id })?.id : undefined),
  }
}

/** The place where what is picked for a job lies: made when something is first picked for it, where the job is done. */
export function placeWith(house: House, { job, plan }: Planned): { readonly id: number; readonly made: boolean } {
  if (plan.withId !== null) return { id: plan.withId, made: false }
  const area = house.places.row(house.places.area(plan.placeId))!
  const id = createPlace(house, { name: crateName(job.code), kind: 'with_job', parent: area.uid })
  house.db.update(jobPlan).set({ withId: id }).where(eq(jobPlan.jobId, job.id)).run()
  return { id, made: true }
}

/** What lies with a job, by item and lot. */
export const liesWith = (house: House, { plan }: Planned) =>
  plan.withId === null
    ? []
    : house.db
        .select({ itemId: balance.itemId, lotId: balance.lotId, quantity: balance.quantity })
        .from(balance)
        .where(sql`${balance.placeId} = ${plan.withId} and ${balance.quantity} > 0`)
        .orderBy(balance.itemId, balance.lotId)
        .all()

/** What of some items lies with each job; `also`: with movements that are not written yet. By job and item. */
export function pickedReader(house: House) {
  const st = house.db
    .select({
      jobId: jobPlan.jobId,
      itemId: balance.itemId,
      quantity: sql<bigint>`sum(${balance.quantity})`.mapWith(balance.quantity),
    })
    .from(balance)
    .innerJoin(jobPlan, sql`${jobPlan.withId} = ${balance.placeId} and ${jobPlan.withId} is not null`)
    .where(sql`${balance.itemId} in (select value from json_each(${sql.placeholder('items')}))`)
    .groupBy(jobPlan.jobId, balance.itemId)
    .prepare()
  return (items: readonly number[], also: readonly Movement[]): ReadonlyMap<string, Quantity> => {
    const out = new Map(st.all({ items: JSON.stringify(items) }).map(r => [`${r.jobId}.${r.itemId}`, r.quantity]))
    const add = (placeId: number, itemId: number, quantity: Quantity) => {
      const job = house.sources.jobWith(placeId)
      if (job !== undefined) out.set(`${job}.${itemId}`, (out.get(`${job}.${itemId}`) ?? 0n) + quantity)
    }
    for (const m of also) {
      add(m.to, m.itemId, m.quantity)
      add(m.from, m.itemId, -m.quantity)
    }
    return out
  }
}
