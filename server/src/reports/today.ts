import { and, eq, inArray, isNull, sql } from 'drizzle-orm'
import { dayIn, decimal, formatDecimal, lotState } from '@shelve/core'
import type { ExpiringRow, Shelf, Today, Waiting } from '@shelve/contract'
import { person, sheet, slip } from '../db/schema.ts'
import { iso, type App } from '../app.ts'
import { reach, seesValue, type Caller } from '../people/rights.ts'
import { wholeTakenBack } from '../counting/printed.ts'
import { openDifferences } from '../counting/sheets.ts'
import { unpricedSlips } from '../ledger/unpriced.ts'
import { listSlips, maySee } from '../ledger/views.ts'
import { isIn, type Scope } from '../places/tree.ts'
import type { StockItem } from './stock.ts'
import { askedFor } from '../restocking/service.ts'

const DAY = 86_400_000
/** So far ahead Today looks for lots that run out of date. */
export const SOON = 14
const dayPlus = (day: string, days: number): string => new Date(Date.parse(day) + days * DAY).toISOString().slice(0, 10)

/**
 * What waits for somebody in some places, most urgent first: what has a day by its day, then differences, prices that are
 * missing and slips left lying, mine before others'.
 */
export function todayOf(app: App, caller: Caller, scope: Scope): Today {
  const seeValue = seesValue(app, caller, scope)
  const books = caller.may.has('book')
  const waiting = [
    ...expiring(app, seeValue, scope),
    ...short(app, scope),
    ...(books
      ? [
          ...countsDue(app, caller, scope),
          ...differences(app, caller, seeValue, scope),
          ...unpriced(app, caller, seeValue, scope),
          ...onPaper(app, caller, scope),
          ...lying(app, caller, scope),
        ]
      : []),
  ]
  const rank = (w: Waiting) => ['difference', 'unpriced', 'sheet', 'draft'].indexOf(w.kind)
  const day = (w: Waiting) => w.day ?? '9999'
  waiting.sort(
    (a, b) =>
      rank(a) - rank(b) ||
      (day(a) < day(b) ? -1 : day(a) > day(b) ? 1 : 0) ||
      Number(b.slip?.mine ?? false) - Number(a.slip?.mine ?? false),
  )
  return {
    day: app.today(),
    waiting,
    shelves: shelves(app, caller, scope),
    coming: askedFor(app, caller, scope),
    lately: listSlips(app, caller, { state: 'booked', limit: 6 }, scope).rows,
  }
}

const none = { day: null, at: null, out: 0, place: null, slip: null, slips: [], sheet: null, named: [] }
type Named = Waiting['named'][number]

interface Going {
  readonly it: StockItem
  readonly leaf: StockItem['dated'][number]
}
const goesFirst = (a: Going, b: Going): number =>
  a.leaf.expiry < b.leaf.expiry ? -1 : a.leaf.expiry > b.leaf.expiry ? 1 : a.it.rank - b.it.rank
/** Calls with what lies in a scope of lots that expire within some days or have, in no order. */
function eachGoing(app: App, scope: Scope, days: number, tell: (going: Going) => void): void {
  const until = dayPlus(app.today(), days)
  for (const it of app.stock.all().values())
    for (const leaf of it.dated) {
      if (leaf.expiry > until) break
      if (isIn(scope, leaf.placeId)) tell({ it, leaf })
    }
}
/** The same as it is told, lot by lot, with how long it lasts where it lies. */
export function expiringLots(app: App, seeValue: boolean, scope: Scope, days: number): ExpiringRow[] {
  const today = app.today()
  const rows: Going[] = []
  eachGoing(app, scope, days, g => rows.push(g))
  return rows.sort(goesFirst).map(({ it, leaf: l }) => {
    const own = app.ids.lotById.get({ id: l.lotId })!
    return {
      item: it.uid,
      code: it.code,
      name: it.name,
      unit: it.unit,
      lot: { id: own.uid, code: own.code ?? '', expiry: l.expiry, state: lotState(l, today) },
      place: { id: app.places.row(l.placeId)!.uid, name: app.places.name(l.placeId) },
      quantity: formatDecimal(l.quantity),
      lasts: app.stock.here(it, app.places.scope([app.places.area(l.placeId)]), today).levels.days,
      ...(seeValue ? { value: formatDecimal(l.value) } : {}),
    }
  })
}

function expiring(app: App, seeValue: boolean, scope: Scope): Waiting[] {
  const today = app.today()
  const first: Going[] = []
  let [n, out, value] = [0, 0, 0n]
  eachGoing(app, scope, SOON, g => {
    n++
    value += g.leaf.value
    if (lotState(g.leaf, today) === 'expired') out++
    // Three are named: there is no need to put thousands in order.
    if (first.length < 3 || goesFirst(g, first[2]!) < 0) {
      first.push(g)
      first.sort(goesFirst)
      first.length = Math.min(3, first.length)
    }
  })
  if (!n) return []
  const named = first.map(({ it, leaf }): Named => ({
    item: it.uid,
    name: it.name,
    quantity: formatDecimal(leaf.quantity),
    unit: it.unit,
    day: leaf.expiry,
  }))
  return [
    {
      ...none,
      kind: 'expiring',
      day: first[0]!.leaf.expiry,
      n,
      out,
      named,
      ...(seeValue ? { value: formatDecimal(value) } : {}),
    },
  ]
}
const sum = (values: readonly string[]): string => formatDecimal(values.reduce((s, v) => s + decimal(v), 0n))

/** What is short and not used has no day on which it runs out. */
const UNUSED = 100_000
/** What is out or short, as one line: how many, and what runs out first. */
function short(app: App, scope: Scope): Waiting[] {
  const today = app.today()
  let out = 0
  const rows: { named: Named; days: number }[] = []
  for (const it of app.stock.all().values())
    for (const { placeId, levels } of app.stock.standing(it, today).levels) {
      if ((levels.state !== 'out' && levels.state !== 'short') || !isIn(scope, placeId)) continue
      if (levels.state === 'out') out++
      rows.push({
        days: levels.state === 'out' ? -1 : (levels.days ?? UNUSED),
        named: {
          item: it.uid,
          name: it.name,
          quantity: formatDecimal(levels.available.figure),
          unit: it.unit,
          day: null,
        },
      })
    }
  if (!rows.length) return []
  rows.sort((a, b) => a.days - b.days)
  return [
    {
      ...none,
      kind: 'short',
      day: out ? today : rows[0]!.days === UNUSED ? null : dayPlus(today, rows[0]!.days),
      n: rows.length,
      out,
      named: rows.slice(0, 3).map(r => r.named),
    },
  ]
}

/** When each area was last counted, and when it is due by its cycle. */
export function countCycles(
  app: App,
  scope: Scope,
): { placeId: number; last: number | null; every: number | null; due: string | null }[] {
  const last = new Map(
    app.db
      .all<{ place: bigint; at: bigint }>(
        sql`select place_id as place, max(effective_at) as at from slip indexed by slip_counts where kind = 'count' and state = 'booked' and place_id is not null group by place_id`,
      )
      .map(r => [Number(r.place), Number(r.at)]),
  )
  const zone = app.organisation!.zone
  return app.places
    .areas()
    .filter(a => isIn(scope, a.id))
    .map(a => {
      const at = standing(app, a.id, last.get(a.id) ?? null)
      // Never counted: the cycle runs from when the organisation began.
      return {
        placeId: a.id,
        last: at,
        every: a.countEveryDays,
        due:
          a.countEveryDays === null ? null : dayPlus(dayIn(at ?? app.organisation!.createdAt, zone), a.countEveryDays),
      }
    })
}
/** The last count of an area of which anything stands: one that was taken back as a whole was none. */
function standing(app: App, placeId: number, last: number | null): number | null {
  let at = last
  while (at !== null) {
    const of = and(eq(slip.kind, 'count'), eq(slip.state, 'booked'), eq(slip.placeId, placeId))
    const counts = app.db
      .select({ id: slip.id })
      .from(slip)
      .where(and(of, eq(slip.effectiveAt, at)))
      .all()
    if (counts.some(c => !wholeTakenBack(app, c.id))) break
    at =
      app.db
        .select({ at: sql<number | null>`max(${slip.effectiveAt})`.mapWith(v => (v === null ? null : Number(v))) })
        .from(slip)
        .where(and(of, sql`${slip.effectiveAt} < ${at}`))
        .get()?.at ?? null
  }
  return at
}
function countsDue(app: App, caller: Caller, scope: Scope): Waiting[] {
  const today = app.today()
  const mine = reach(app, caller, 'book')
  return countCycles(app, scope)
    .filter(c => c.due !== null && c.due <= dayPlus(today, 1) && isIn(mine, c.placeId))
    .map(c => ({
      ...none,
      kind: 'count',
      day: c.due,
      at: c.last === null ? null : iso(c.last),
      n: belongings(app, c.placeId),
      place: { id: app.places.row(c.placeId)!.uid, name: app.places.name(c.placeId) },
    }))
}
/** How many lines a sheet of an area has: what lies there, and what belongs there and is at zero. */
export function belongings(app: App, placeId: number): number {
  const within = app.places.within(placeId)
  let n = 0
  for (const it of app.stock.all().values()) {
    const lies = it.leaves.filter(l => within.has(l.placeId)).length
    n += lies || (it.active && it.levels.some(l => within.has(l.placeId)) ? 1 : 0)
  }
  return n
}

function differences(app: App, caller: Caller, seeValue: boolean, scope: Scope): Waiting[] {
  const open = openDifferences(app, seeValue, scope, reach(app, caller))
  if (!open.length) return []
  const named = open
    .slice(0, 3)
    .map((d): Named => ({ item: d.item.id, name: d.item.name, quantity: d.open, unit: d.item.unit, day: null }))
  return [
    {
      ...none,
      kind: 'difference',
      at: open[0]!.countedAt,
      n: open.length,
      named,
      ...(seeValue ? { value: sum(open.map(d => d.value!)) } : {}),
    },
  ]
}

/** Sheets that were printed for counting and that nobody began to enter. */
function onPaper(app: App, caller: Caller, scope: Scope): Waiting[] {
  const mine = reach(app, caller, 'book')
  const rows = app.db
    .select({ s: sheet, by: person.name })
    .from(sheet)
    .innerJoin(person, eq(person.id, sheet.printedBy))
    .where(and(isNull(sheet.slipId), isNull(sheet.voidAt)))
    .orderBy(sheet.id)
    .limit(100)
    .all()
  return rows
    .filter(r => isIn(scope, r.s.placeId) && isIn(mine, r.s.placeId))
    .map(r => ({
      ...none,
      kind: 'sheet',
      at: iso(r.s.printedAt),
      n: r.s.pages,
      place: { id: app.places.row(r.s.placeId)!.uid, name: app.places.name(r.s.placeId) },
      sheet: { id: r.s.uid, number: r.s.id, by: r.by },
    }))
}

/** Deliveries whose lines want a price, as one thing that waits. */
function unpriced(app: App, caller: Caller, seeValue: boolean, scope: Scope): Waiting[] {
  const rows = seeValue ? unpricedSlips(app) : []
  if (!rows.length) return []
  const lines = new Map(rows.map(r => [r.slip, r.lines]))
  const own = app.db
    .select({ s: slip, by: person.name })
    .from(slip)
    .innerJoin(person, eq(person.id, slip.bookedBy))
    .where(inArray(slip.id, [...lines.keys()]))
    .orderBy(slip.id)
    .all()
    .filter(
      r => (r.s.placeId === null ? scope.within === undefined : isIn(scope, r.s.placeId)) && maySee(app, caller, r.s),
    )
  if (!own.length) return []
  const slips = own.map(({ s, by }) => ({
    id: s.uid,
    kind: s.kind as 'receipt',
    title: s.title,
    number: s.number,
    by,
    mine: s.createdBy === caller.id,
  }))
  return [
    {
      ...none,
      kind: 'unpriced',
      at: iso(own[0]!.s.effectiveAt!),
      n: own.reduce((n, r) => n + lines.get(r.s.id)!, 0),
      out: own.length,
      slip: own.length === 1 ? slips[0]! : null,
      slips: slips.slice(0, 4),
    },
  ]
}

function lying(app: App, caller: Caller, scope: Scope): Waiting[] {
  return listSlips(app, caller, { state: 'draft', limit: 20 }, scope).rows.map(d => ({
    ...none,
    kind: 'draft',
    at: d.at,
    n: d.lines,
    slip: { id: d.id, kind: d.kind, title: d.title, number: null, by: d.by, mine: d.mine },
  }))
}

/** How each stockroom stands. */
function shelves(app: App, caller: Caller, scope: Scope): Shelf[] {
  const today = app.today()
  const areas = app.places.areas().filter(a => isIn(scope, a.id))
  const rows = new Map(areas.map(a => [a.id, { out: 0, short: 0, coming: 0, inRange: 0, over: 0 }]))
  const values = new Map<number, bigint>()
  const FIELD = { out: 'out', short: 'short', short_coming: 'coming', in_range: 'inRange', over: 'over' } as const
  for (const it of app.stock.all().values()) {
    const stands = app.stock.standing(it, today)
    for (const [area, value] of stands.values) values.set(area, (values.get(area) ?? 0n) + value)
    for (const {
      areaId,
      levels: { state },
    } of stands.levels) {
      const row = rows.get(areaId)
      if (row && state !== 'none') row[FIELD[state]]++
    }
  }
  return areas.map(a => ({
    place: a.uid,
    name: app.places.name(a.id),
    ...rows.get(a.id)!,
    ...(seesValue(app, caller, app.places.scope([a.id])) ? { value: formatDecimal(values.get(a.id) ?? 0n) } : {}),
  }))
}
