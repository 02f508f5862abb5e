import { and, eq, isNull, sql } from 'drizzle-orm'
import type { ActivityRow, ItemYears, LookRow, LookYear } from '@shelve/contract'
import { type AccountKind, atCost, flowOf, foldFacts, formatDecimal, ONE, runMonths } from '@shelve/core'
import { account } from '../accounts/index.ts'
import { category, categoryWithin, wantItem } from '../catalogue/index.ts'
import { costCentre, job } from '../costcentres/index.ts'
import { among, eachInPieces, iso } from '../ground/index.ts'
import { movementsOfItem, slip } from '../ledger/index.ts'
import { person } from '../people/index.ts'
import { isIn, type Scope } from '../rights/index.ts'
import { supplier } from '../suppliers/index.ts'
import { wasteReason } from '../waste/index.ts'
import { monthNow, nextMonth, startOfMonth } from './calendar.ts'
import type { FlowCell } from './flows.ts'
import type { House } from './house.ts'
import { closedMonths } from './months.ts'

/**
 * Whether a cell is about these places and categories. What went straight to its user never lay in a place: it belongs
 * to the whole organisation only.
 */
function fitting(house: House, { within }: Scope, categoryUid: string | undefined): (c: FlowCell) => boolean {
  const categories = categoryUid === undefined ? undefined : new Set(categoryWithin(house, categoryUid))
  return c => (!within || (c.flow !== 'direct' && within.has(c.area))) && (!categories || categories.has(c.category))
}

/**
 * Value by month of a year: what lay there, what came, went and was put right, what remained. Within single places moving
 * carries no value, so there only what came and went is said.
 */
export function lookYear(house: House, scope: Scope, q: { year?: number; category?: string }): LookYear {
  const fits = fitting(house, scope, q.category)
  const known = house.flows.months()
  const years = [...new Set([...known.map(m => Number(m.slice(0, 4))), Number(monthNow(house).slice(0, 4))])].sort()
  const year = q.year ?? years.at(-1)!
  const months = Array.from({ length: 12 }, (_, i) => `${year}-${String(i + 1).padStart(2, '0')}`).filter(
    m => m <= monthNow(house),
  )
  const closed = new Set(closedMonths(house).map(m => m.month))
  const whole = !scope.within
  const rows = runMonths(
    house.flows.valueBefore(`${year}-01`, fits),
    months.map(month => ({ month, changes: house.flows.changes(month, fits) })),
  )
  return {
    year,
    years,
    rows: rows.map(({ month, opening, changes: c, closing }) => ({
      month,
      opening: whole ? formatDecimal(opening) : null,
      received: formatDecimal(c.received),
      begun: formatDecimal(c.opening),
      used: formatDecimal(c.used),
      wasted: formatDecimal(c.wasted),
      differences: formatDecimal(c.differences),
      price: formatDecimal(c.price),
      made: formatDecimal(c.made),
      closing: whole ? formatDecimal(closing) : null,
      direct: formatDecimal(
        [...house.flows.cells(month)].reduce((s, x) => (x.flow === 'direct' && fits(x) ? s + x.value : s), 0n),
      ),
      closed: closed.has(month),
    })),
  }
}

export const monthsBetween = (from: string, to: string): string[] => {
  const out: string[] = []
  for (let m = from; m <= to && out.length < 600; m = nextMonth(m)) out.push(m)
  return out
}

interface Named {
  readonly uid: string | null
  readonly name: string
}

/**
 * What was used, wasted or received in a span of months, by cost centre, job, reason, supplier, category or place; the
 * largest first. What went straight to its user counts as used.
 */
export function lookBy(
  house: House,
  scope: Scope,
  q: { by: string; flow: string; from: string; to: string; category?: string },
): LookRow[] {
  const fits = fitting(house, scope, q.category)
  const named = namer(house, q.by)
  const sums = new Map<string, { named: Named; value: bigint; lines: number }>()
  for (const month of monthsBetween(q.from, q.to))
    for (const c of house.flows.cells(month)) {
      const direct = c.flow === 'direct'
      if ((direct ? 'used' : c.flow) !== q.flow || !fits(c)) continue
      const who = named(c)
      const key = `${who.uid} ${who.name}`
      const own = sums.get(key) ?? { named: who, value: 0n, lines: 0 }
      // Used and wasted are said as what they took, not as what stock lost.
      sums.set(key, {
        named: who,
        value: own.value + (direct || q.flow === 'received' ? c.value : -c.value),
        lines: own.lines + c.lines,
      })
    }
  return [...sums.values()]
    .sort((a, b) => (a.value > b.value ? -1 : a.value < b.value ? 1 : 0))
    .map(s => ({ id: s.named.uid, name: s.named.name, value: formatDecimal(s.value), lines: s.lines }))
}

/** What a cell is called when looked at by one thing or another. */
function namer(house: House, by: string): (c: FlowCell) => Named {
  const none = { uid: null, name: 'none named' }
  const table = <T extends { id: number; uid: string; name: string }>(rows: T[]) =>
    new Map(rows.map(r => [r.id, { uid: r.uid, name: r.name }]))
  if (by === 'category') {
    const all = table(house.db.select({ id: category.id, uid: category.uid, name: category.name }).from(category).all())
    return c => all.get(c.category) ?? { uid: null, name: 'without a category' }
  }
  if (by === 'place')
    return c => (c.area ? { uid: house.places.row(c.area)!.uid, name: house.places.name(c.area) } : none)
  if (by === 'reason') {
    const all = table(house.db.select().from(wasteReason).all())
    return c => all.get(c.account) ?? none
  }
  if (by === 'supplier') {
    const all = table(house.db.select().from(supplier).all())
    return c => all.get(c.account) ?? { uid: null, name: 'opening stock' }
  }
  const used = new Map(
    house.db
      .select({ id: account.id, job: account.jobId, centre: account.costCentreId })
      .from(account)
      .where(eq(account.kind, 'used'))
      .all()
      .map(a => [a.id, a]),
  )
  const all = by === 'job' ? table(house.db.select().from(job).all()) : table(house.db.select().from(costCentre).all())
  return c => {
    const a = used.get(c.account)
    const id = by === 'job' ? a?.job : a?.centre
    return (id === null || id === undefined ? undefined : all.get(id)) ?? none
  }
}

/** The accounts that stand for a cost centre, job, reason or supplier: for finding the slips behind a bar. `none`: those of use that name no job, or no cost centre. */
export function accountsOf(house: House, kind: string, uid: string): number[] {
  if (uid === 'none')
    return house.db
      .select({ id: account.id })
      .from(account)
      .where(and(eq(account.kind, 'used'), isNull(kind === 'job' ? account.jobId : account.costCentreId)))
      .all()
      .map(r => r.id)
  const own = { reason: wasteReason, supplier }[kind]
  if (own)
    return house.db
      .select({ id: own.id })
      .from(own)
      .where(eq(own.uid, uid))
      .all()
      .map(r => r.id)
  const used =
    kind === 'job'
      ? house.db
          .select({ id: account.id })
          .from(account)
          .innerJoin(job, eq(job.id, account.jobId))
          .where(eq(job.uid, uid))
      : house.db
          .select({ id: account.id })
          .from(account)
          .innerJoin(costCentre, eq(costCentre.id, account.costCentreId))
          .where(eq(costCentre.uid, uid))
  return used.all().map(r => r.id)
}

/** Who booked how much where in some months: month after month, others being let in between. */
export async function activity(
  house: House,
  scope: Scope,
  q: { readonly from: string; readonly to: string },
): Promise<ActivityRow[]> {
  const rows = new Map<string, ActivityRow>()
  const months = q.from > q.to ? [] : monthsBetween(q.from, q.to)
  await eachInPieces(months, month => {
    for (const r of activityIn(house, scope, month)) {
      const key = `${r.personId} ${r.placeId}`
      const own = rows.get(key)
      rows.set(key, own ? { ...own, slips: own.slips + r.slips, lines: own.lines + r.lines } : r)
    }
  })
  return [...rows.values()].sort((a, b) => b.slips - a.slips)
}
function activityIn(house: House, scope: Scope, month: string): ActivityRow[] {
  const { within } = scope
  const [from, to] = [startOfMonth(house, month), startOfMonth(house, nextMonth(month))]
  return house.db
    .select({
      personId: person.uid,
      person: person.name,
      place: slip.placeId,
      slips: sql<number>`count(*)`.mapWith(Number),
      lines: sql<number>`sum((select count(*) from slip_line l where l.slip_id = ${slip.id}))`.mapWith(Number),
    })
    .from(slip)
    .innerJoin(person, eq(person.id, slip.bookedBy))
    .where(and(sql`${slip.bookedAt} >= ${from} and ${slip.bookedAt} < ${to}`, within && among(slip.placeId, within)))
    .groupBy(person.id, slip.placeId)
    .all()
    .map(r => ({
      personId: r.personId,
      person: r.person,
      placeId: r.place === null ? null : house.places.row(r.place)!.uid,
      place: r.place === null ? null : house.places.name(r.place),
      slips: r.slips,
      lines: r.lines,
    }))
}

/** An item's quantities by month, and what was paid for it: for its page. */
export async function itemYears(house: House, seeValue: boolean, scope: Scope, uid: string): Promise<ItemYears> {
  const it = wantItem(house, uid)
  const inside = (a: number) => house.places.row(a) !== undefined && isIn(scope, a)
  const kinds = new Map<number, AccountKind>()
  const kind = (a: number) => {
    let k = kinds.get(a)
    if (!k) kinds.set(a, (k = house.rows.account.get({ id: a })!.kind as AccountKind))
    return k
  }
  const moved = await movementsOfItem(house, it.id)
  const months = new Map<string, { received: bigint; used: bigint; wasted: bigint; other: bigint }>()
  await eachInPieces(moved, m => {
    const change = (inside(m.to) ? m.quantity : 0n) - (inside(m.from) ? m.quantity : 0n)
    if (change === 0n) return
    const other = inside(m.to) ? m.from : m.to
    const flow = kind(other) === 'place' ? undefined : flowOf(kind(other))
    const name = house.flows.monthOf(m.effectiveAt)
    const own = months.get(name) ?? { received: 0n, used: 0n, wasted: 0n, other: 0n }
    months.set(name, own)
    own[
      flow === 'received' || flow === 'opening'
        ? 'received'
        : flow === 'used'
          ? 'used'
          : flow === 'wasted'
            ? 'wasted'
            : 'other'
    ] += change
  })
  const first = [...months.keys()].sort()[0]
  let remained = 0n
  const rows =
    first === undefined
      ? []
      : monthsBetween(first, monthNow(house)).map(month => {
          const m = months.get(month) ?? { received: 0n, used: 0n, wasted: 0n, other: 0n }
          remained += m.received + m.used + m.wasted + m.other
          return {
            month,
            received: formatDecimal(m.received),
            used: formatDecimal(m.used),
            wasted: formatDecimal(m.wasted),
            other: formatDecimal(m.other),
            remained: formatDecimal(remained),
          }
        })
  if (!seeValue) return { months: rows }
  // What one cost at each delivery, freight and later invoices in it.
  const came = new Set(moved.filter(m => m.kind === 'receipt' || m.kind === 'direct').map(m => m.costSeq))
  const prices = foldFacts(
    moved.filter(m => came.has(m.costSeq)),
    a => a === house.accounts.priceDifference,
  )
    .filter(
      f =>
        (f.kind === 'receipt' || f.kind === 'direct') &&
        f.quantity > 0n &&
        f.goods !== null &&
        (!scope.within || inside(f.to)),
    )
    .sort((a, b) => a.effectiveAt - b.effectiveAt)
    .slice(-60)
    .map(f => {
      const s = house.rows.slipById.get({ id: f.slipId })!
      return {
        at: iso(f.effectiveAt),
        cost: formatDecimal(atCost(ONE, { value: f.goods! + f.charges, quantity: f.quantity })),
        quantity: formatDecimal(f.quantity),
        supplier: house.rows.account.get({ id: f.from })!.name,
        slip: { id: s.uid, number: s.number! },
      }
    })
  return { months: rows, prices }
}
