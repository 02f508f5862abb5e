import { and, eq, isNotNull, sql } from 'drizzle-orm'
import { drawOn, groupBy, type Movement, type OpenNeed, stillComing, type Taken } from '@shelve/core'
import { job } from '../costcentres/index.ts'
import { need, reservation } from '../ledger/index.ts'
import type { Demand, Made } from '../position/index.ts'
import { besidesComing, besideStatement } from './besides.ts'
import type { House } from './house.ts'
import { madeBy, madeStatement } from './made.ts'
import { comesBack, type NeedReader, needReader } from './of-needs.ts'
import { isOpenJob } from './open.ts'
import { soFarReader } from './so-far.ts'
import { jobPlan } from './tables.ts'
import { pickedReader } from './with-job.ts'

/**
 * What jobs that are not over want of some items (undefined: of all) and bring of them; `also` with movements that are not
 * written yet. Prepared once: it is asked anew after every booking.
 */
export function demandSource(house: House): House['sources']['demand'] {
  const needs = [false, true].map(some => needStatement(house, some))
  const outputs = [false, true].map(some => outputStatement(house, some))
  const besides = [false, true].map(some => besideStatement(house, some))
  const made = madeStatement(house)
  const reserved = house.db
    .select()
    .from(reservation)
    .where(sql`${reservation.needId} in (select value from json_each(${sql.placeholder('needs')}))`)
    .orderBy(reservation.id)
    .prepare()
  const taken = needReader(house)
  const usedSoFar = soFarReader(house)
  const pickedOf = pickedReader(house)
  return (ids, also = []) => {
    const asked = { ids: JSON.stringify(ids ?? []) }
    const rows = needs[ids ? 1 : 0]!.all(asked)
    const out = new Map<number, Demand>()
    const outputRows = outputs[ids ? 1 : 0]!.all(asked)
    const besideRows = besidesComing(house, besides[ids ? 1 : 0]!.all(asked), made, also)
    if (rows.length) {
      const needIds = rows.map(n => n.needId)
      const picked = pickedOf(
        rows.map(n => n.itemId),
        also,
      )
      const sums = usedSoFar(needIds, also)
      const byNeed = groupBy(reserved.all({ needs: JSON.stringify(needIds) }), r => r.needId)
      // Where it was taken, and in which order, matters to what was set aside alone.
      const drawn = drawing(house, taken, JSON.stringify([...byNeed.keys()]), also)
      for (const [itemId, of] of groupBy(rows, n => n.itemId)) {
        // What lies with the job is as good as taken (rule 15).
        const met = (n: (typeof of)[number]) => (sums.get(n.needId) ?? 0n) + (picked.get(`${n.jobId}.${itemId}`) ?? 0n)
        out.set(itemId, {
          needs: of.map((n): OpenNeed => ({ ...n, used: met(n) })),
          reservations: drawOn(
            of.flatMap(n => byNeed.get(n.needId) ?? []),
            of.flatMap(n => drawn.get(n.needId) ?? []),
            (place, outer) => house.places.within(outer).has(place),
          ),
          made: [],
        })
      }
    }
    if (!outputRows.length && !besideRows.length) return out
    const today = house.today()
    const came = madeBy(made, outputRows, also)
    const makings = [
      // What was made of it is there already: as much as still is to be made is coming.
      ...outputRows.map(m => ({ ...m, quantity: m.quantity - (came.get(m.jobId) ?? 0n) })),
      ...besideRows,
    ]
    for (const [itemId, of] of groupBy(makings, m => m.itemId!)) {
      const made = of.flatMap((m): Made[] => {
        const day = m.day ?? today
        return m.quantity > 0n ? [{ ...m, day, counts: stillComing(day, today, house.organisation!.patienceDays) }] : []
      })
      out.set(itemId, { ...(out.get(itemId) ?? { needs: [], reservations: [] }), made })
    }
    return out
  }
}

const among = (some: boolean, column: typeof need.itemId | typeof jobPlan.outputId) =>
  some ? sql`${column} in (select value from json_each(${sql.placeholder('ids')}))` : undefined

const needStatement = (house: House, some: boolean) =>
  house.db
    .select({
      needId: need.id,
      jobId: need.jobId,
      itemId: need.itemId,
      placeId: jobPlan.placeId,
      day: jobPlan.day,
      quantity: need.quantity,
    })
    .from(need)
    .innerJoin(job, eq(job.id, need.jobId))
    .innerJoin(jobPlan, eq(jobPlan.jobId, need.jobId))
    .where(and(isOpenJob, among(some, need.itemId)))
    .orderBy(need.id)
    .prepare()

const outputStatement = (house: House, some: boolean) =>
  house.db
    .select({
      jobId: jobPlan.jobId,
      itemId: jobPlan.outputId,
      placeId: jobPlan.placeId,
      quantity: jobPlan.wanted,
      day: jobPlan.day,
    })
    .from(jobPlan)
    .innerJoin(job, eq(job.id, jobPlan.jobId))
    .where(and(isOpenJob, isNotNull(jobPlan.outputId), among(some, jobPlan.outputId)))
    .prepare()

/**
 * What draws on what was set aside, by need: what leaves a shelf for the job, to be used or put with it. What is used from where
 * it was put with it has drawn already.
 */
function drawing(
  house: House,
  taken: NeedReader,
  needs: string,
  also: readonly Movement[],
): ReadonlyMap<number, readonly Taken[]> {
  const isWith = (id: number) => house.places.row(id)?.kind === 'with_job'
  const all = [...taken.written(needs), ...taken.unwritten(also)].flatMap(m => {
    const picked = m.kind === 'move'
    const back = picked ? isWith(m.from) : comesBack(m)
    const placeId = back ? m.to : m.from
    if (!picked && isWith(placeId)) return []
    return [{ needId: m.needId, seq: m.seq, lotId: m.lotId, placeId, quantity: back ? -m.quantity : m.quantity }]
  })
  return groupBy(all, t => t.needId)
}

/** The needs of a job, by item: prepared once, since every slip for a job asks. */
export function needSource(house: House): House['sources']['needs'] {
  const st = house.db
    .select({ id: need.id, itemId: need.itemId })
    .from(need)
    .where(eq(need.jobId, sql.placeholder('job')))
    .prepare()
  return job => new Map(st.all({ job }).map(n => [n.itemId, n.id]))
}
