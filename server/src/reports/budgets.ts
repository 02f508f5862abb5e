import type { Does } from '../papers/index.ts'
import { and, eq, isNotNull, isNull, notInArray } from 'drizzle-orm'
import type { BudgetRow, Budgets, SlipContent } from '@shelve/contract'
import {
  atCost,
  formatDecimal,
  max,
  min,
  percentOf,
  readParts,
  type Refusal,
  refuse,
  sharedOut,
  type Value,
} from '@shelve/core'
import { budget, costCentre, ENDED, job } from '../costcentres/index.ts'
import { remember } from '../ground/index.ts'
import { jobPlan } from '../jobs/index.ts'
import { metOf, type StockItem } from '../position/index.ts'
import type { House } from './house.ts'
import { accountsOf } from './lookback.ts'

const d = formatDecimal
const monthsOf = (year: number) => Array.from({ length: 12 }, (_, i) => `${year}-${String(i + 1).padStart(2, '0')}`)

/** What a cost centre used in each month of a year, as every report has it: what went straight to it counts. */
function usedByMonth(house: House, uid: string, year: number): Value[] {
  const accounts = new Set(accountsOf(house, 'cost_centre', uid))
  return monthsOf(year).map(month => {
    let sum = 0n
    for (const c of house.flows.cells(month))
      if (accounts.has(c.account)) sum += c.flow === 'direct' ? c.value : c.flow === 'used' ? -c.value : 0n
    return sum
  })
}

/** What one of an item is worth now; nothing is known of it: nothing. */
const worthOf = (it: StockItem, quantity: bigint): Value => {
  const cost = it.quantity > 0n ? { value: it.value, quantity: it.quantity } : it.lastKnown
  return cost && quantity > 0n ? atCost(quantity, cost) : 0n
}

interface Planned {
  kept: Value
  asked: Value
  planned: Value
}
/**
 * What the jobs of each cost centre will still use, by the number of the centre: what is set aside for them, what was asked for
 * or is on its way and comes to them, and what they need beyond that. A job that makes something charges nobody by that: what it makes is charged where it is used.
 */
function plannedOf(house: House): ReadonlyMap<number, Planned> {
  const centreOf = new Map(
    house.db
      .select({ id: job.id, centre: job.costCentreId })
      .from(job)
      .innerJoin(jobPlan, eq(jobPlan.jobId, job.id))
      // Nearly all that ever were are over.
      .where(and(notInArray(job.state, [...ENDED]), isNotNull(job.costCentreId), isNull(jobPlan.outputId)))
      .all()
      .map(j => [j.id, j.centre!] as const),
  )
  const out = new Map<number, Planned>()
  if (!centreOf.size) return out
  for (const it of house.stock.all().values()) {
    if (!it.demand.needs.some(n => centreOf.has(n.jobId))) continue
    const met = metOf(it)
    for (const n of it.demand.needs) {
      const centre = centreOf.get(n.jobId)
      if (centre === undefined) continue
      const held = it.held.reduce((s, h) => (h.reservation.needId === n.needId ? s + h.held : s), 0n)
      const left = max(n.quantity - n.used - held, 0n)
      // What another job makes was asked of nobody.
      const m = it.demand.made.length ? undefined : met.get(n.needId)
      const asked = min(left, m ? m.coming + m.late : 0n)
      const sum = out.get(centre) ?? { kept: 0n, asked: 0n, planned: 0n }
      sum.kept += worthOf(it, held)
      sum.asked += worthOf(it, asked)
      sum.planned += worthOf(it, left - asked)
      out.set(centre, sum)
    }
  }
  return out
}

/** How cost centres stand in a year. `flows` are up to date. */
export function budgets(house: House, q: { year?: number | undefined; centre?: string | undefined }): Budgets {
  const now = Number(house.today().slice(0, 4))
  const year = q.year ?? now
  const set = new Map(
    house.db
      .select()
      .from(budget)
      .where(eq(budget.year, year))
      .all()
      .map(b => [b.costCentreId, b]),
  )
  // What is planned is planned from today on: it is of this year.
  const planned = year === now ? plannedOf(house) : new Map<number, Planned>()
  const rows = house.db
    .select()
    .from(costCentre)
    .orderBy(costCentre.name)
    .all()
    .filter(c => q.centre === undefined || c.uid === q.centre)
    .map((c): BudgetRow => {
      const months = usedByMonth(house, c.uid, year)
      const used = months.reduce((s, x) => s + x, 0n)
      const own = set.get(c.id)
      const { kept, asked, planned: needed } = planned.get(c.id) ?? { kept: 0n, asked: 0n, planned: 0n }
      const percent = own ? percentOf(used, own.amount) : null
      return {
        id: c.uid,
        code: c.code,
        name: c.name,
        active: c.active,
        amount: own ? d(own.amount) : null,
        warn: own?.warnPercent ?? null,
        stop: own?.stopPercent ?? null,
        used: d(used),
        kept: d(kept),
        asked: d(asked),
        planned: d(needed),
        left: own ? d(own.amount - used - kept - asked - needed) : null,
        percent: percent === null ? null : d(percent),
        months: months.map(m => d(m)),
      }
    })
    .filter(r => r.active || r.amount !== null || r.used !== '0')
  const years = new Set([...house.flows.months().map(m => Number(m.slice(0, 4))), year, now, now + 1])
  return { year, years: [...years].sort(), rows }
}

interface Charged {
  readonly centre: number
  readonly value: Value
  /** The line that says whom it is for; null: the slip does. */
  readonly line: string | null
}
/** What a slip would charge to which cost centre: what is handed out, goes straight to a user, or is charged anew. */
function chargedBy(house: House, content: SlipContent, lineId: (uid: string) => string, booked: Does): Charged[] {
  const centreOf = (who: { job: string | null; costCentre: string | null }) =>
    (who.job === null ? null : house.rows.job.get({ uid: who.job })?.costCentreId) ??
    (who.costCentre === null ? null : (house.rows.costCentre.get({ uid: who.costCentre })?.id ?? null))
  const sum = (fits: (m: Does['movements'][number]) => boolean) =>
    booked.movements.reduce((s, m) => (m.reverses === null && m.revalues === null && fits(m) ? s + m.value : s), 0n)
  const accounts = new Map<number, ReturnType<typeof house.rows.account.get>>()
  const account = (id: number) => remember(accounts, id, () => house.rows.account.get({ id }))
  const isWaste = (to: number) => account(to)?.kind === 'waste'
  const of = (centre: number | null, value: Value, line: string | null): Charged[] =>
    centre === null || value <= 0n ? [] : [{ centre, value, line }]
  if (content.kind === 'issue') {
    const { among } = content.head
    const own = straightTo(content, lineId)
    const value = sum(m => m.kind === 'out' && !isWaste(m.to) && !own.has(m.lineId))
    const each = [...own].flatMap(([id, l]) =>
      of(
        centreOf(l.direct!),
        sum(m => m.kind === 'out' && !isWaste(m.to) && m.lineId === id),
        l.id,
      ),
    )
    const parts = readParts(among.map(a => a.percent))
    if (!among.length || !parts.ok) return [...of(centreOf(content.head), value, null), ...each]
    // By their parts: an account that nobody was charged by yet is not there to be asked whose it is.
    return [...sharedOut(value, parts.weights).flatMap((part, i) => of(centreOf(among[i]!), part, null)), ...each]
  }
  if (content.kind === 'recharge') {
    const centre = centreOf(content.head)
    // From one job of theirs to another of theirs charges them nothing.
    const isOwn = (from: number) => (account(from)?.costCentreId ?? null) === centre
    return of(
      centre,
      sum(m => m.kind === 'recharge' && !isOwn(m.from)),
      null,
    )
  }
  if (content.kind !== 'receipt') return []
  return [...straightTo(content, lineId)].flatMap(([id, l]) =>
    of(
      centreOf(l.direct!),
      sum(m => m.kind === 'direct' && m.lineId === id),
      l.id,
    ),
  )
}
/** Lines that say themselves for whom they are, by what the books call them. */
const straightTo = (content: SlipContent, lineId: (uid: string) => string) =>
  new Map(content.lines.flatMap(l => (l.direct === null ? [] : [[lineId(l.id), l] as const])))

interface Strained extends Charged {
  readonly name: string
  /** Used in per cent of the budget, with what the slip charges. */
  readonly percent: bigint
  readonly stops: number | null
}
/** Budgets that a slip brings to where whoever writes it is warned, or beyond where nothing more is charged. */
function strained(house: House, content: SlipContent, lineId: (uid: string) => string, booked: Does): Strained[] {
  const year = Number(house.today(booked.effectiveAt).slice(0, 4))
  const used = new Map<number, Value>()
  return chargedBy(house, content, lineId, booked).flatMap(c => {
    const own = house.rows.budget.get({ centre: c.centre, year })
    if (!own || (own.warnPercent === null && own.stopPercent === null)) return []
    const centre = house.rows.costCentreById.get({ id: c.centre })!
    if (!used.has(c.centre)) used.set(c.centre, house.charged.of(c.centre, year))
    const with_ = used.get(c.centre)! + c.value
    used.set(c.centre, with_)
    const percent = percentOf(with_, own.amount)!
    const beyond = (limit: number | null) => limit !== null && with_ * 100n > own.amount * BigInt(limit)
    if (!beyond(own.warnPercent) && !beyond(own.stopPercent)) return []
    return [{ ...c, name: centre.name, percent, stops: beyond(own.stopPercent) ? own.stopPercent : null }]
  })
}

/** Beyond where a budget stops nothing more is charged to it; who may override does, and says why. */
export function budgetRefusals(
  house: House,
  content: SlipContent,
  lineId: (uid: string) => string,
  booked: Does | undefined,
  override: boolean,
): Refusal[] {
  if (!booked || (override && content.head.why.trim())) return []
  return strained(house, content, lineId, booked).flatMap(s =>
    s.stops === null
      ? []
      : [
          refuse('over_budget', s.line === null ? null : lineId(s.line), s.line === null ? 'costCentre' : 'direct', {
            name: s.name,
            percent: d(s.percent),
            stop: s.stops,
          }),
        ],
  )
}

/** What whoever hands something out should know of the budget that it is charged to. */
export function budgetNotes(
  house: House,
  content: SlipContent,
  lineId: (uid: string) => string,
  booked: Does | undefined,
): string[] {
  if (!booked) return []
  return strained(house, content, lineId, booked).map(
    s => `With this, ${s.name} has used ${d(s.percent)} % of its budget of the year.`,
  )
}
