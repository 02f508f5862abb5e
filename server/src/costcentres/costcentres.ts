import { and, eq, sql } from 'drizzle-orm'
import type { CostCentreChange, JobChange } from '@shelve/contract'
import { decimal, formatDecimal } from '@shelve/core'
import { account } from '../accounts/index.ts'
import { demandSeen, Refused } from '../ground/index.ts'
import { demandFree, renameCrates, want } from '../places/index.ts'
import type { House } from './house.ts'
import { budget, costCentre, ENDED, job } from './tables.ts'

/** That the code is no other's of its list. */
function codeFree(house: House, of: typeof costCentre | typeof job, code: string, self: number): void {
  const taken = house.db
    .select({ id: of.id })
    .from(of)
    .where(sql`fold(${of.code}) = fold(${code})`)
    .get()
  demandFree(taken, self, 'code', code, of === job ? 'job' : 'cost centre')
}

/** That no other job has a code, however it is written. */
export const jobCodeFree = (house: House, code: string, self: number): void => codeFree(house, job, code, self)

/** The area that a cost centre is served from. */
function usualOf(house: House, uid: string | null | undefined): number | null {
  const id = uid ? house.places.id(uid) : undefined
  if (id === undefined) return null
  const kind = house.places.row(id)!.kind
  if (kind === 'area' || kind === 'premises') return id
  const message = 'A cost centre is served from an area, not from a single shelf of it.'
  throw new Refused(422, 'no_area', message, [{ field: 'usual', code: 'no_area', message }])
}

export function createCostCentre(house: House, name: string, text?: string, usual?: string | null): string {
  const c =
    text ??
    name
      .toUpperCase()
      .replace(/[^A-Z0-9]+/g, '-')
      .slice(0, 12)
  codeFree(house, costCentre, c, 0)
  const uid = house.uid()
  house.db
    .insert(costCentre)
    .values({ uid, code: c, name, active: true, usualId: usualOf(house, usual) })
    .run()
  return uid
}

/** A job begins; `numbered`: its code is a number of ours, and nobody has it. */
export function createJob(
  house: House,
  input: { code: string; name: string; costCentre?: string | null },
  numbered = false,
): string {
  if (!numbered) jobCodeFree(house, input.code, 0)
  const centre = input.costCentre
    ? want(house.rows.costCentre.get({ uid: input.costCentre }), 'cost centre')
    : undefined
  const uid = house.uid()
  house.db
    .insert(job)
    .values({ uid, code: input.code, name: input.name, costCentreId: centre?.id ?? null, state: 'standing' })
    .run()
  return uid
}

/** A cost centre is renamed, or not offered any more. */
export function updateCostCentre(house: House, uid: string, input: CostCentreChange): string {
  const row = want(house.rows.costCentre.get({ uid }), 'cost centre')
  const { name, active, usualId } = row
  const usual = usualId === null ? null : house.places.row(usualId)!.uid
  demandSeen(input.seen, { name, code: row.code, active, usual })
  const code = input.code ?? row.code
  codeFree(house, costCentre, code, row.id)
  house.db
    .update(costCentre)
    .set({ name: input.name.trim(), code, active: input.active ?? true, usualId: usualOf(house, input.usual) })
    .where(eq(costCentre.id, row.id))
    .run()
  house.db
    .update(account)
    .set({ name: input.name.trim() })
    .where(sql`${account.costCentreId} = ${row.id} and ${account.jobId} is null`)
    .run()
  return uid
}

/** A cost centre as it is named outside the books. */
export const centreUid = (house: House, id: number | null): string | null =>
  id === null ? null : house.rows.costCentreById.get({ id })!.uid

/**
 * A job is renamed, charged to another cost centre from now on, closed, or opened again. Gives whether a place is called
 * otherwise by that, too.
 */
export function updateJob(house: House, uid: string, input: JobChange): boolean {
  const row = want(house.rows.job.get({ uid }), 'job')
  const ended = ENDED.includes(row.state)
  demandSeen(input.seen, {
    name: row.name,
    code: row.code,
    active: !ended,
    costCentre: centreUid(house, row.costCentreId),
  })
  jobCodeFree(house, input.code, row.id)
  const centre = input.costCentre
    ? want(house.rows.costCentre.get({ uid: input.costCentre }), 'cost centre')
    : undefined
  house.db
    .update(job)
    .set({
      name: input.name.trim(),
      code: input.code,
      costCentreId: centre?.id ?? null,
      state: input.active === false ? (ended ? row.state : 'done') : ended ? 'standing' : row.state,
    })
    .where(eq(job.id, row.id))
    .run()
  house.db.update(account).set({ name: input.name.trim() }).where(eq(account.jobId, row.id)).run()
  return renameCrates(house, row.code, input.code)
}

interface BudgetSaid {
  readonly amount: string | null
  readonly warn: number | null
  readonly stop: number | null
}
/** What a cost centre may use in a year; nothing: it has no budget for it. */
export function setBudget(
  house: House,
  uid: string,
  year: number,
  { seen, amount, warn, stop }: BudgetSaid & { readonly seen?: BudgetSaid | undefined },
): void {
  const { id } = want(house.rows.costCentre.get({ uid }), 'cost centre')
  const key = and(eq(budget.costCentreId, id), eq(budget.year, year))
  const is = house.db.select().from(budget).where(key).get()
  demandSeen(seen, {
    amount: is ? formatDecimal(is.amount) : null,
    warn: is?.warnPercent ?? null,
    stop: is?.stopPercent ?? null,
  })
  if (amount === null) {
    house.db.delete(budget).where(key).run()
    return
  }
  const set = { amount: decimal(amount), warnPercent: warn, stopPercent: stop }
  house.db
    .insert(budget)
    .values({ costCentreId: id, year, ...set })
    .onConflictDoUpdate({ target: [budget.costCentreId, budget.year], set })
    .run()
}
