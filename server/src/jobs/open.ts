import { sql } from 'drizzle-orm'

/** Jobs that are not over: what they need is demand, and what comes of them is on its way. As the statement says it. */
export const OPEN = ['planned', 'picking', 'in_work'] as const
/** The same, as a condition of a statement that joins `job`. */
export const IS_OPEN = `"job"."state" in (${OPEN.map(s => `'${s}'`).join(', ')})`
export const isOpenJob = sql.raw(IS_OPEN)
