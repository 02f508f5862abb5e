import { and, desc, eq, inArray, or, sql } from 'drizzle-orm'
import { isInTime, type ItemNeed, type JobRow } from '@shelve/contract'
import { dayNumber, formatDecimal, type Quantity, whenceOf } from '@shelve/core'
import { wantItem } from '../catalogue/index.ts'
import { job } from '../costcentres/index.ts'
import { among, eachInPieces, holds, readCursor, startsWith, writeCursor } from '../ground/index.ts'
import { metOf, type StockItem } from '../position/index.ts'
import { isIn, type Scope } from '../rights/index.ts'
import type { House } from './house.ts'
import { jobNamed, type Lacking, lackingOf, lookAtAll, type Looked, met, whencesOf, worstOf } from './looked.ts'
import { TIMES } from './planning.ts'
import { isOpenJob } from './open.ts'
import { centreNames, isOpen, jobsAround, partsOf, type Planned, plannedById } from './rows.ts'
import { jobPlan } from './tables.ts'

/** A job in a list; of one that is over (`of` not looked into) nothing is met any more. */
function rowOf(
  house: House,
  { job, plan }: Planned,
  of: Looked | undefined,
  parent: (id: number) => Planned,
  centres: ReadonlyMap<number, string>,
): JobRow {
  const whences = of ? whencesOf(of) : []
  const makes = plan.outputId === null ? undefined : house.known.itemById(plan.outputId)
  return {
    id: job.uid,
    code: job.code,
    name: job.name,
    state: job.state as JobRow['state'],
    place: house.places.row(plan.placeId)!.uid,
    placeName: house.places.name(plan.placeId),
    day: plan.day,
    time: plan.time,
    personName: plan.personId === null ? null : house.rows.personName.get({ id: plan.personId })!.name,
    costCentreName: job.costCentreId === null ? null : (centres.get(job.costCentreId) ?? null),
    standing: plan.repeats !== '' || plan.again !== null,
    wanted: formatDecimal(plan.wanted),
    wantedUnit: makes?.unit ?? TIMES.base,
    parent: plan.parentId === null ? null : jobNamed(parent(plan.parentId)),
    needs: whences.length,
    met: whences.filter(isInTime).length,
    whence: of ? worstOf(of) : null,
  }
}

/** What is due first comes first; without a day it comes last. */
const order = ({ plan }: Planned): string => `${plan.day ?? '9999'} ${plan.time || '99'}`
const byDay = (a: Planned, b: Planned): number =>
  order(a) < order(b) ? -1 : order(a) > order(b) ? 1 : a.job.id - b.job.id

/** How the needs of all items are met, worked out and kept with them: whoever looks at all jobs finds it there. */
const metReady = (house: House, seen: Scope): Promise<void> =>
  house.stock.ready(it => it.demand.needs.length && met({ seen }, it))

/** Jobs that are not over, with how many of their needs can be met, the first due first; others are let in meanwhile. */
export async function jobRows(house: House, scope: Scope, seen: Scope): Promise<JobRow[]> {
  await metReady(house, seen)
  const all = jobsAround(house)
  const byId = new Map(all.map(p => [p.job.id, p]))
  const looks = await lookAtAll(house, seen, all)
  const centres = centreNames(house)
  const rows: JobRow[] = []
  const open = all.filter(p => isOpen(p.job) && isIn(scope, p.plan.placeId)).sort(byDay)
  await eachInPieces(open, p => rows.push(rowOf(house, p, looks(p), id => byId.get(id)!, centres)))
  return rows
}

/** A page of the jobs that are over, the last first; one that had no day stands where it was planned. */
export function jobsOver(
  house: House,
  scope: Scope,
  { cursor, limit = 50 }: { readonly cursor?: string | undefined; readonly limit?: number | undefined },
): { rows: JobRow[]; next: string | null; total: null } {
  const after = readCursor(cursor, ['text', 'number'])
  const when = sql<string>`coalesce(${jobPlan.day}, date(${jobPlan.createdAt} / 1000, 'unixepoch')) || ' ' || coalesce(nullif(${jobPlan.time}, ''), '99')`
  const first = [desc(when), desc(job.id)]
  const page = house.db
    .select({ id: job.id })
    .from(jobPlan)
    .innerJoin(job, eq(job.id, jobPlan.jobId))
    .where(
      and(
        sql`not ${isOpenJob}`,
        scope.within && among(sql`+${jobPlan.placeId}`, scope.within),
        after && sql`(${when}, ${job.id}) < (${after[0]}, ${after[1]})`,
      ),
    )
    .orderBy(...first)
    .limit(limit + 1)
  // All that are over are put in order: by their numbers alone.
  const found = house.db
    .select({ job, plan: jobPlan, when })
    .from(jobPlan)
    .innerJoin(job, eq(job.id, jobPlan.jobId))
    .where(inArray(job.id, page))
    .orderBy(...first)
    .all()
  const shown = found.slice(0, limit)
  const last = shown.at(-1)
  const centres = centreNames(house)
  return {
    rows: shown.map(p => rowOf(house, p, undefined, id => plannedById(house, id), centres)),
    next: found.length > limit && last ? writeCursor([last.when, last.job.id]) : null,
    total: null,
  }
}

/** So many days ahead a job waits on Today, also where all it needs is there. */
const NEAR = 2

/** A job that waits: due soon, or in want of something while there is time to see to it. */
export interface WaitingJob {
  readonly row: JobRow
  /** What is not there for it in time. */
  readonly lacks: readonly Lacking[]
}
/** Jobs that wait in a scope, the first due first; what is made for another job waits with that. Others are let in meanwhile. */
export async function jobsWaiting(house: House, scope: Scope, seen: Scope): Promise<WaitingJob[]> {
  await metReady(house, seen)
  const all = jobsAround(house)
  const open = all.filter(p => isOpen(p.job))
  if (!open.length) return []
  const today = dayNumber(house.today())
  const looks = await lookAtAll(house, seen, all)
  const ahead = house.organisation!.aheadDays
  const byId = new Map(all.map(p => [p.job.id, p]))
  const centres = centreNames(house)
  const rows: WaitingJob[] = []
  const asked = open.filter(p => p.plan.parentId === null && isIn(scope, p.plan.placeId)).sort(byDay)
  await eachInPieces(asked, planned => {
    const days = planned.plan.day === null ? null : dayNumber(planned.plan.day) - today
    const of = looks(planned)
    const lacks = lackingOf(of)
    if (days === null ? !lacks.length : days > (lacks.length ? Math.max(ahead, NEAR) : NEAR)) return
    rows.push({ row: rowOf(house, planned, of, id => byId.get(id)!, centres), lacks })
  })
  return rows
}

/** Items of which less is kept for a job than was set aside for it, since stock has fallen under that. */
export function fallenUnder(house: House, scope: Scope): { it: StockItem; jobs: string[]; short: Quantity }[] {
  return [...house.stock.all().values()].flatMap(it => {
    const fallen = it.held.filter(h => h.held < h.wanted && isIn(scope, h.reservation.placeId))
    if (!fallen.length) return []
    const jobOf = new Map(it.demand.needs.map(n => [n.needId, n.jobId]))
    const jobs = [...new Set(fallen.map(h => jobOf.get(h.reservation.needId)!))]
    return [
      {
        it,
        jobs: jobs.map(id => house.rows.jobById.get({ id })!.code),
        short: fallen.reduce((sum, h) => sum + h.wanted - h.held, 0n),
      },
    ]
  })
}

/** Jobs in a scope that need an item and have not taken all of it, the first due first. */
export function itemNeeds(house: House, scope: Scope, seen: Scope, uid: string): ItemNeed[] {
  const it = house.stock.item(wantItem(house, uid).id)!
  const met = metOf(it, p => isIn(seen, p))
  return it.demand.needs
    .filter(n => n.quantity > n.used && isIn(scope, n.placeId))
    .sort((a, b) => ((a.day ?? '') < (b.day ?? '') ? -1 : 1))
    .map(n => {
      const m = met.get(n.needId)!
      const part = partsOf(house, n.jobId).some(p => p.plan.outputId === it.id && isOpen(p.job))
      const whence = whenceOf(m)
      return {
        job: jobNamed(plannedById(house, n.jobId)),
        place: house.places.row(n.placeId)!.uid,
        placeName: house.places.name(n.placeId),
        day: n.day,
        left: formatDecimal(n.quantity - n.used),
        held: formatDecimal(m.held),
        whence: whence === 'coming' && part ? 'made' : whence,
        missing: formatDecimal(m.missing),
      }
    })
}

/** Jobs that are planned, by the beginning of their code or by their name; those that are not over first. */
export function findJobs(house: House, seen: Scope, words: string, most: number) {
  return house.db
    .select({ job, placeId: jobPlan.placeId })
    .from(job)
    .innerJoin(jobPlan, eq(jobPlan.jobId, job.id))
    .where(
      and(
        // Of other places there may be any number before the first of one's own.
        seen.within && among(sql`+${jobPlan.placeId}`, seen.within),
        or(holds(job.name, words), startsWith(job.code, words), startsWith(jobPlan.reference, words)),
      ),
    )
    .orderBy(sql`"job"."state" in ('done', 'dropped')`, desc(job.id))
    .limit(most)
    .all()
    .map(r => ({ id: r.job.uid, name: r.job.name, code: r.job.code, state: r.job.state }))
}
