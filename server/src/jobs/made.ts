import { and, eq, sql } from 'drizzle-orm'
import { groupBy, type Movement, type Quantity } from '@shelve/core'
import { once } from '../ground/index.ts'
import { movement } from '../ledger/index.ts'
import type { House } from './house.ts'
import { plannedById } from './rows.ts'
import { jobPlan } from './tables.ts'

/** What came of jobs so far, by what each of them makes: what was taken back is not among it. Prepared once. */
export const madeStatement = once((house: House) =>
  house.db
    .select({
      jobId: movement.jobId,
      quantity: movement.quantity,
      undone: sql<number>`${movement.reverses} is not null`.mapWith(Number),
    })
    .from(movement)
    .innerJoin(jobPlan, and(eq(jobPlan.jobId, movement.jobId), eq(jobPlan.outputId, movement.itemId)))
    .where(
      sql`${movement.jobId} in (select value from json_each(${sql.placeholder('jobs')})) and ${movement.kind} = 'event_in' and ${movement.quantity} > 0`,
    )
    .prepare(),
)

/** How much was made for each of some jobs of what it makes; `also`: with movements that are not written yet. */
export function madeBy(
  statement: ReturnType<typeof madeStatement>,
  jobs: readonly { readonly jobId: number; readonly itemId: number | null }[],
  also: readonly Movement[] = [],
): Map<number, Quantity> {
  const outputs = new Map(jobs.map(j => [j.jobId, j.itemId]))
  const rows = [
    ...statement.all({ jobs: JSON.stringify([...outputs.keys()]) }),
    ...also.flatMap(m =>
      m.kind === 'event_in' && m.jobId !== undefined && outputs.get(m.jobId) === m.itemId
        ? [{ jobId: m.jobId, quantity: m.quantity, undone: m.reverses === null ? 0 : 1 }]
        : [],
    ),
  ]
  return new Map(
    [...groupBy(rows, r => r.jobId!)].map(([job, of]) => [
      job,
      of.reduce((sum, r) => sum + (r.undone ? -r.quantity : r.quantity), 0n),
    ]),
  )
}

/** How much was made for one job. */
export function madeFor(house: House, jobId: number): Quantity {
  const itemId = plannedById(house, jobId).plan.outputId
  return madeBy(madeStatement(house), [{ jobId, itemId }]).get(jobId) ?? 0n
}
