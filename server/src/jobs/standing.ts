import { createRequire } from 'node:module'
import { and, eq, inArray, sql } from 'drizzle-orm'
import { daysLater } from '@shelve/core'
import { createJob, job } from '../costcentres/index.ts'
import { once } from '../ground/index.ts'
import { need } from '../ledger/index.ts'
import { OPEN } from './open.ts'
import type { House } from './house.ts'
import { numberOf } from './numbers.ts'
import { type By, needsByTemplate, planParts, workOutNeeds } from './planning.ts'
import { needsOfJob, type Planned, plannedById } from './rows.ts'
import { jobPlan } from './tables.ts'
import { contentOf, templateById } from './templates.ts'

// Its package names nothing that Node could import by name.
const { RRule } = createRequire(import.meta.url)('rrule') as typeof import('rrule')

const following = once((house: House) =>
  house.db
    .select({ id: jobPlan.jobId })
    .from(jobPlan)
    .where(eq(jobPlan.followsId, sql.placeholder('job')))
    .prepare(),
)
/** The job that is the next of a standing one, where it was begun already. */
export const nextOf = (house: House, jobId: number): Planned | undefined => {
  const row = following(house).get({ job: jobId })
  return row && plannedById(house, row.id)
}

/**
 * The day on which a standing job comes again: by its rule (RFC 5545, counted from its own day) the first that is after it
 * and not past; or so many days after today. Undefined where it does not.
 */
export function nextDay(
  { day, repeats, again }: Pick<Planned['plan'], 'day' | 'repeats' | 'again'>,
  today: string,
): string | undefined {
  if (again !== null) return daysLater(today, again)
  if (!repeats) return undefined
  const own = day ?? today
  const yesterday = daysLater(today, -1)
  const at = (d: string) => new Date(`${d}T00:00:00Z`)
  const rule = new RRule({ ...RRule.parseString(repeats), dtstart: at(own) })
  return rule
    .after(at(own > yesterday ? own : yesterday), false)
    ?.toISOString()
    .slice(0, 10)
}

/** The next of a standing job, where there is one to come and none was begun: its day, and the job that it follows. */
function nextToCome(house: House, jobId: number): { last: Planned; day: string } | undefined {
  const last = plannedById(house, jobId)
  const day = nextDay(last.plan, house.today())
  return day === undefined || last.plan.parentId !== null || nextOf(house, jobId) ? undefined : { last, day }
}

/** Begins the next of a standing job, once; by the template as it is now, with what was typed on this one. Gives the items that it is about. */
export function comeAgain(house: House, by: By, jobId: number): number[] {
  const next = nextToCome(house, jobId)
  if (!next) return []
  const { last, day } = next
  const { plan } = last
  const { job: row } = last
  const uid = createJob(house, { code: numberOf(house), name: row.name, costCentre: null }, true)
  const { id } = house.rows.job.get({ uid })!
  house.db.update(job).set({ state: 'planned', costCentreId: row.costCentreId }).where(eq(job.id, id)).run()
  const template = plan.templateId === null ? undefined : templateById(house, plan.templateId)
  house.db
    .insert(jobPlan)
    .values({
      ...plan,
      jobId: id,
      day,
      reference: '',
      templateVersion: template?.active ? template.version : plan.templateVersion,
      wanted: 0n,
      followsId: jobId,
      revision: 1,
      version: 1,
      savedBy: by.id,
      createdAt: house.now(),
      createdBy: by.id,
    })
    .run()
  if (template?.active) needsByTemplate(house, by, id, contentOf(house, template))
  for (const n of needsOfJob(house, jobId)) {
    const there = needsOfJob(house, id).find(x => x.itemId === n.itemId)
    if (there && n.typed.trim())
      house.db.update(need).set({ typed: n.typed, unit: n.unit }).where(eq(need.id, there.id)).run()
    // What was on it beside its template comes again; what its template says no more does not.
    else if (!there && (n.typed.trim() || !template?.active))
      house.db
        .insert(need)
        .values({ ...n, id: undefined, uid: house.uid(), jobId: id, revision: 1, savedBy: by.id })
        .run()
  }
  return [...workOutNeeds(house, id), ...planParts(house, by, id)]
}

/**
 * Standing jobs whose day has passed while they are still open: their next ones come all the same, each by itself. What
 * stands in the way of one is told, and in nobody else's way.
 */
export function comeAgainDue(house: House): void {
  for (const { id, by } of waiting(house))
    try {
      if (nextToCome(house, id))
        house.change(
          'job',
          () => comeAgain(house, { id: by }, id),
          items => ({ items, setUp: 'names' }),
        )
    } catch (e) {
      house.tell('the next one of a standing job could not be begun', { job: String(id), why: (e as Error).message })
    }
}

/** Looks for them now and then, where somebody keeps the house running. */
export function followStanding(house: House, everyMs = 60_000): void {
  const look = () => {
    try {
      if (house.organisation && !house.store.client.inTransaction) comeAgainDue(house)
    } catch (e) {
      house.tell('standing jobs could not be looked through', { why: (e as Error).message })
    }
  }
  const timer = setInterval(look, everyMs)
  timer.unref()
  house.onClose(() => clearInterval(timer))
  look()
}
/** Those of which the day has passed and no next one was begun, each with whoever saved it last. */
const waiting = (house: House) =>
  house.db
    .select({ id: job.id, by: jobPlan.savedBy })
    .from(jobPlan)
    .innerJoin(job, eq(job.id, jobPlan.jobId))
    .where(
      and(
        inArray(job.state, [...OPEN]),
        sql`${jobPlan.repeats} <> ''`,
        sql`${jobPlan.day} < ${house.today()}`,
        sql`not exists (select 1 from job_plan n where n.follows_id = ${jobPlan.jobId})`,
      ),
    )
    .all()
