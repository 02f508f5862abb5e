import { z } from 'zod'
import { Amount, Decimal, Uuid } from '../common.ts'
import { idOf } from '../things.ts'

export const Year = z.coerce.number().int().min(1900).max(2200)
const Percent = z.number().int().min(1).max(1000).nullable().default(null)
/** What may be used in a year: from `warn` per cent of it whoever hands out is warned, beyond `stop` nothing more is charged. */
const budget = { amount: Amount.nullable(), warn: Percent, stop: Percent }
export const Budget = z
  .object({
    ...budget,
    /** What stood there when it was written: where something else does by now, that is said first. */
    seen: z.object(budget).optional(),
  })
  .refine(b => b.amount === null || Number(b.amount) > 0, { message: 'more than zero is wanted', path: ['amount'] })
  .meta({ id: 'Budget' })
export type Budget = z.infer<typeof Budget>

/** How a cost centre stands in a year: used, set aside for its jobs, asked for and coming to them, what they need beyond that, and what is left. */
export const BudgetRow = z
  .object({
    id: Uuid,
    code: z.string(),
    name: z.string(),
    active: z.boolean(),
    amount: Decimal.nullable(),
    warn: z.number().int().nullable(),
    stop: z.number().int().nullable(),
    used: Decimal,
    kept: Decimal,
    asked: Decimal,
    planned: Decimal,
    /** The budget less all of these; null where there is none. */ left: Decimal.nullable(),
    /** Used, in per cent of the budget. */ percent: Decimal.nullable(),
    /** What was used in each of its twelve months. */ months: z.array(Decimal).length(12),
  })
  .meta({ id: 'BudgetRow' })
export type BudgetRow = z.infer<typeof BudgetRow>
export const BudgetsAsked = z.object({ year: Year.optional(), centre: idOf('cost_centre').optional() })
export const Budgets = z.object({ year: z.number().int(), years: z.array(z.number().int()), rows: z.array(BudgetRow) })
export type Budgets = z.infer<typeof Budgets>
