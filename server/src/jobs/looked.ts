import { isInTime, type JobView, type Whence } from '@shelve/contract'
import { groupBy, type Met, type Quantity, whenceOf } from '@shelve/core'
import { eachInPieces, letIn } from '../ground/index.ts'
import { metOf, type StockItem } from '../position/index.ts'
import { isIn, type Scope } from '../rights/index.ts'
import type { House } from './house.ts'
import { liesHere } from './with-job.ts'
import { isOpen, type NeedLine, type NeedRow, needsByJob, needsOfJob, partsOf, type Planned } from './rows.ts'
import { quantityOf, UNUSED, type Used, usedForNeeds } from './used.ts'

/** A job in a few words. */
export const jobNamed = ({ job }: Planned) => ({
  id: job.uid,
  code: job.code,
  name: job.name,
  state: job.state as JobView['state'],
})

/** What is looked at of a job, read once. */
export interface Looked {
  readonly house: House
  readonly seen: Scope
  readonly planned: Planned
  readonly needs: readonly NeedLine[]
  /** What was taken for each need so far. */
  readonly used: (n: NeedLine) => Quantity
  /** What of it was picked, and lies with the job. */
  readonly lies: (n: NeedLine) => Quantity
  readonly parts: readonly Planned[]
  /** The same of what is made for it. */
  readonly below: (part: Planned) => Looked
}
export const look = (
  house: House,
  seen: Scope,
  planned: Planned,
  read?: ReadonlyMap<number, Used>,
): Looked & { readonly rows: readonly NeedRow[] } => {
  const needs = needsOfJob(house, planned.job.id)
  house.stock.want(needs.map(n => n.itemId))
  const used = read ?? usedForNeeds(house, needs)
  const lies = liesHere(house, planned)
  // Asked for its costs and for what it lacks, line by line: read once.
  const below = new Map<number, Looked>()
  return {
    house,
    seen,
    planned,
    needs,
    rows: needs,
    used: n => quantityOf(used.get(n.id) ?? UNUSED),
    lies: n => lies.get(n.itemId) ?? 0n,
    parts: partsOf(house, planned.job.id).filter(p => p.job.state !== 'dropped'),
    below: part => {
      const known = below.get(part.job.id) ?? look(house, seen, part)
      below.set(part.job.id, known)
      return known
    },
  }
}
/** The same of all jobs at once, from what is kept of their items: of those that are not over. Others are let in meanwhile. */
export async function lookAtAll(
  house: House,
  seen: Scope,
  all: readonly Planned[],
): Promise<(planned: Planned) => Looked> {
  await letIn()
  const needs = needsByJob(house)
  await letIn()
  const parts = groupBy(
    all.filter(p => p.plan.parentId !== null && p.job.state !== 'dropped'),
    p => p.plan.parentId!,
  )
  const used = new Map<number, Quantity>()
  await eachInPieces(new Set([...needs.values()].flat().map(n => n.itemId)), item => {
    for (const n of house.stock.item(item)!.demand.needs) used.set(n.needId, n.used)
  })
  const one = (planned: Planned): Looked => ({
    house,
    seen,
    planned,
    needs: needs.get(planned.job.id) ?? [],
    used: n => used.get(n.id) ?? 0n,
    // The demand of an item counts it with what was used.
    lies: () => 0n,
    parts: parts.get(planned.job.id) ?? [],
    below: one,
  })
  return one
}
export const partFor = (of: Looked, n: Pick<NeedLine, 'itemId'>): Planned | undefined =>
  of.parts.find(p => p.plan.outputId === n.itemId && isOpen(p.job))

/** Nothing is wanted any more. */
export const NOTHING: Omit<Met, 'needId'> = {
  held: 0n,
  here: 0n,
  coming: 0n,
  comesOn: null,
  elsewhere: [],
  late: 0n,
  lateOn: null,
  missing: 0n,
}

/** Worked out once for an item, as it stands, and a scope: every need of it is in the answer. */
const known = new WeakMap<StockItem, WeakMap<Scope, ReadonlyMap<number, Met>>>()
/** How the needs of an item are met, as far as the caller may look. */
export function met({ seen }: Pick<Looked, 'seen'>, it: StockItem): ReadonlyMap<number, Met> {
  let of = known.get(it)
  if (!of) known.set(it, (of = new WeakMap<Scope, ReadonlyMap<number, Met>>()))
  let met = of.get(seen)
  if (!met) of.set(seen, (met = metOf(it, p => isIn(seen, p))))
  return met
}

/** The place where a job is done. */
export const scopeOfJob = ({ house, planned }: Pick<Looked, 'house' | 'planned'>): Scope =>
  house.places.scope([planned.plan.placeId])

/** What is made for it comes in time only where all can be had that it is made of. */
export function whenceHere(of: Looked, m: Met, part: Planned | undefined): Whence {
  const whence = whenceOf(m)
  if (whence !== 'coming' || !part) return whence
  const worst = worstOf(of.below(part))
  return worst === null || isInTime(worst) ? 'made' : worst
}
const WORST: readonly Whence[] = ['missing', 'late', 'elsewhere', 'coming', 'made', 'here']
/** How the worst of a job's needs is met, through all that is made for it; null: it needs nothing more. */
export function worstOf(of: Looked): Whence | null {
  const all = new Set(whencesOf(of))
  return WORST.find(w => all.has(w)) ?? null
}
/** How each need of a job is met of which something is left to take. */
export const whencesOf = (of: Looked): Whence[] =>
  of.needs.flatMap(n => {
    const m = met(of, of.house.stock.item(n.itemId)!).get(n.id)
    return m && n.quantity > of.used(n) + of.lies(n) ? [whenceHere(of, m, partFor(of, n))] : []
  })

/** Something of which not enough comes in time for a job. */
export interface Lacking {
  readonly it: StockItem
  readonly quantity: Quantity
}
/** What is not there for a job in time, through all that is made for it. */
export function lackingOf(of: Looked): Lacking[] {
  return of.needs.flatMap(n => {
    const it = of.house.stock.item(n.itemId)!
    const m = met(of, it).get(n.id)
    if (!m) return []
    const quantity = m.elsewhere.reduce((sum, e) => sum + e.quantity, m.missing + m.late)
    const part = partFor(of, n)
    return [...(quantity > 0n ? [{ it, quantity }] : []), ...(part && m.coming > 0n ? lackingOf(of.below(part)) : [])]
  })
}
