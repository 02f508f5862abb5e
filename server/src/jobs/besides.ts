import { and, eq, isNotNull, notExists, sql } from 'drizzle-orm'
import { besideAt, groupBy, max, type Movement, type Quantity } from '@shelve/core'
import { job } from '../costcentres/index.ts'
import { need } from '../ledger/index.ts'
import type { House } from './house.ts'
import { madeBy, type madeStatement } from './made.ts'
import { isOpenJob } from './open.ts'
import { jobPlan, templateBeside } from './tables.ts'
import { besidesOf, contentAt, formulaOf } from './templates.ts'

/** The items that come of a job beside what it makes, by its version of its template. */
export const besideItems = (
  house: House,
  { templateId, templateVersion }: Pick<typeof jobPlan.$inferSelect, 'templateId' | 'templateVersion'>,
): number[] =>
  templateId === null
    ? []
    : house.db
        .select({ id: templateBeside.itemId })
        .from(templateBeside)
        .where(and(eq(templateBeside.templateId, templateId), eq(templateBeside.version, templateVersion!)))
        .all()
        .map(r => r.id)

/** Of jobs that are not over: those of which some items (`ids`; all where `some` is not said) come beside what they make. */
export const besideStatement = (house: House, some: boolean) =>
  house.db
    .select({
      jobId: jobPlan.jobId,
      itemId: templateBeside.itemId,
      placeId: jobPlan.placeId,
      day: jobPlan.day,
      wanted: jobPlan.wanted,
      outputId: jobPlan.outputId,
      templateId: templateBeside.templateId,
      version: templateBeside.version,
    })
    .from(templateBeside)
    .innerJoin(
      jobPlan,
      and(eq(jobPlan.templateId, templateBeside.templateId), eq(jobPlan.templateVersion, templateBeside.version)),
    )
    .innerJoin(job, eq(job.id, jobPlan.jobId))
    .where(
      and(
        isOpenJob,
        isNotNull(jobPlan.outputId),
        // What a job takes itself cannot wait for what comes of it.
        notExists(
          house.db
            .select({ id: need.id })
            .from(need)
            .where(and(eq(need.jobId, jobPlan.jobId), eq(need.itemId, templateBeside.itemId))),
        ),
        some ? sql`${templateBeside.itemId} in (select value from json_each(${sql.placeholder('ids')}))` : undefined,
      ),
    )
    .prepare()

/** How much of which item comes of what is still to be made of each job, beside that. */
export function besidesComing(
  house: House,
  rows: ReturnType<ReturnType<typeof besideStatement>['all']>,
  statement: ReturnType<typeof madeStatement>,
  also: readonly Movement[],
): { jobId: number; itemId: number; placeId: number; day: string | null; quantity: Quantity }[] {
  if (!rows.length) return []
  const came = madeBy(
    statement,
    rows.map(r => ({ jobId: r.jobId, itemId: r.outputId })),
    also,
  )
  return [...groupBy(rows, r => `${r.templateId} ${r.version}`).values()].flatMap(of => {
    const content = contentAt(house, of[0]!.templateId, of[0]!.version)
    const formula = formulaOf(house, content)
    const amounts = new Map(besidesOf(house, content).map(b => [b.it.id, b]))
    return of.flatMap(({ jobId, itemId, placeId, day, wanted }) => {
      const b = amounts.get(itemId)
      const rest = max(wanted - (came.get(jobId) ?? 0n), 0n)
      return b ? [{ jobId, itemId, placeId, day, quantity: besideAt(formula, b.amount, rest, b.it.decimals) }] : []
    })
  })
}
