import { and, eq, isNotNull, isNull } from 'drizzle-orm'
import type { ExpiringRow, Shelf, Today, Waiting } from '@shelve/contract'
import { decimal, formatDecimal, lotState } from '@shelve/core'
import { item } from '../catalogue/index.ts'
import { belongings, closedAreas, countCycles, dayPlus, openDifferences, sheet } from '../counting/index.ts'
import { among, eachInPieces, inOrder, inPieces, iso } from '../ground/index.ts'
import { slip, unpricedSlips } from '../ledger/index.ts'
import { transfersWaiting } from '../moving/index.ts'
import { maySee } from '../papers/index.ts'
import { person } from '../people/index.ts'
import { onTheWay, type StockItem } from '../position/index.ts'
import { restockWaiting } from '../restocking/index.ts'
import { about, type Caller, isIn, mayEverywhere, reach, type Scope, seesValue } from '../rights/index.ts'
import type { House } from './house.ts'
import { listSlips } from './slips.ts'
import { jobsDue, unkept } from './today-jobs.ts'
import { type Named, none } from './waits.ts'

/** So far ahead Today looks for lots that run out of date. */
export const SOON = 14

/**
 * What waits for somebody in some places, most urgent first: what has a day by its day, then differences, prices that are
 * missing and slips left lying, mine before others'.
 */
export async function todayOf(house: House, caller: Caller, scope: Scope): Promise<Today> {
  const today = house.today()
  await house.stock.ready(it => house.stock.standing(it, today))
  const books = caller.may.has('book')
  const { asked, handed, back } = restockWaiting(house, caller, scope)
  // One after the other, others being let in between: each goes through all items.
  const parts: (() => Waiting[] | Promise<Waiting[]>)[] = [
    () => expiring(house, scope),
    () => jobsDue(house, caller, scope),
    () => unkept(house, scope),
    () => short(house, scope),
    () => owed(house, scope),
    () =>
      transfersWaiting(house, caller, scope).map((t): Waiting => ({
        ...none,
        kind: 'transfer',
        day: t.due,
        at: t.sentAt,
        n: t.left,
        transfer: t,
      })),
    () =>
      handed.map((s): Waiting => ({
        ...none,
        kind: 'handed',
        at: s.handed!.at,
        n: s.count,
        handed: { id: s.id, number: s.number, by: s.handed!.by, why: null },
      })),
    () =>
      back.map((s): Waiting => ({
        ...none,
        kind: 'given_back',
        at: s.back!.at,
        n: s.count,
        handed: { id: s.id, number: s.number, by: s.back!.by, why: s.back!.why },
      })),
    ...(books
      ? [countsDue, differences, unpriced, onPaper, closed, lying].map(part => () => part(house, caller, scope))
      : []),
    () => (mayEverywhere(house, caller, 'set_up') ? found(house) : []),
  ]
  const waiting: Waiting[] = []
  for await (const part of inPieces(parts)) waiting.push(...(await part()))
  const rank = (w: Waiting) =>
    ['handed', 'given_back', 'difference', 'unpriced', 'found', 'owed', 'sheet', 'closed', 'draft'].indexOf(w.kind)
  const day = (w: Waiting) => w.day ?? '9999'
  waiting.sort(
    (a, b) =>
      rank(a) - rank(b) ||
      (day(a) < day(b) ? -1 : day(a) > day(b) ? 1 : 0) ||
      Number(b.slip?.mine ?? false) - Number(a.slip?.mine ?? false),
  )
  const way = onTheWay(house, scope)
  return about(scope, {
    day: house.today(),
    waiting,
    shelves: shelves(house, scope),
    onTheWay: way && { things: way.things, value: formatDecimal(way.worth.figure) },
    coming: asked,
    lately: (await listSlips(house, caller, { state: 'booked', limit: 6 }, scope)).rows,
  })
}

interface Going {
  readonly it: StockItem
  readonly leaf: StockItem['dated'][number]
}

const goesFirst = (a: Going, b: Going): number =>
  a.leaf.expiry < b.leaf.expiry ? -1 : a.leaf.expiry > b.leaf.expiry ? 1 : a.it.rank - b.it.rank

/** Calls with what lies in a scope of lots that expire within some days or have, in no order. */
function eachGoing(house: House, scope: Scope, days: number, tell: (going: Going) => void): void {
  const until = dayPlus(house.today(), days)
  for (const it of house.stock.all().values())
    for (const leaf of it.dated) {
      if (leaf.expiry > until) break
      if (isIn(scope, leaf.placeId)) tell({ it, leaf })
    }
}

/** The same as it is told, lot by lot, with how long it lasts where it lies; others are let in meanwhile. */
export async function expiringLots(house: House, scope: Scope, days: number): Promise<ExpiringRow[]> {
  await house.stock.ready()
  const going: Going[] = []
  eachGoing(house, scope, days, g => going.push(g))
  const rows: ExpiringRow[] = []
  await eachInPieces(await inOrder(going, goesFirst), g => rows.push(expiringRow(house, g)))
  return rows
}
function expiringRow(house: House, { it, leaf: l }: Going): ExpiringRow {
  const today = house.today()
  const own = house.rows.lotById.get({ id: l.lotId })!
  return about(house.places.scope([l.placeId]), {
    item: it.uid,
    code: it.code,
    name: it.name,
    unit: it.unit,
    lot: { id: own.uid, code: own.code ?? '', expiry: l.expiry, state: lotState(l, today) },
    place: { id: house.places.row(l.placeId)!.uid, name: house.places.name(l.placeId) },
    quantity: formatDecimal(l.quantity),
    lasts: house.stock.here(it, house.places.scope([house.places.area(l.placeId)]), today).levels.days,
    value: formatDecimal(l.value),
  })
}

function expiring(house: House, scope: Scope): Waiting[] {
  const today = house.today()
  const first: Going[] = []
  let [n, out, value] = [0, 0, 0n]
  eachGoing(house, scope, SOON, g => {
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
      value: formatDecimal(value),
    },
  ]
}

const sum = (values: readonly string[]): string => formatDecimal(values.reduce((s, v) => s + decimal(v), 0n))

/** What is short and not used has no day on which it runs out. */
const UNUSED = 100_000

/** Items that were written down where they were found, and want completing. */
function found(house: House): Waiting[] {
  const rows = house.db
    .select({ uid: item.uid, name: item.name, unit: item.unit, at: item.createdAt })
    .from(item)
    .where(and(isNotNull(item.foundBy), eq(item.active, true)))
    .orderBy(item.id)
    .all()
  const first = rows[0]
  if (!first) return []
  const named = rows
    .slice(0, 3)
    .map((r): Named => ({ item: r.uid, name: r.name, quantity: '0', unit: r.unit, day: null }))
  return [{ ...none, kind: 'found', at: iso(first.at), n: rows.length, named }]
}

/** What is out or short, as one line: how many, and what runs out first. */
function short(house: House, scope: Scope): Waiting[] {
  const today = house.today()
  let out = 0
  const rows: { named: Named; days: number }[] = []
  for (const it of house.stock.all().values())
    for (const { areaId, levels } of house.stock.standing(it, today).levels) {
      if ((levels.state !== 'out' && levels.state !== 'short') || !isIn(scope, areaId)) continue
      if (levels.state === 'out') out++
      rows.push({
        days: levels.state === 'out' ? -1 : (levels.days ?? UNUSED),
        named: {
          item: it.uid,
          name: it.name,
          quantity: formatDecimal(levels.available),
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

/** What was asked for, is past its day for longer than anybody waits, and so counts as coming no more. */
function owed(house: House, scope: Scope): Waiting[] {
  const rows: Named[] = []
  for (const it of house.stock.all().values())
    for (const o of it.owed)
      if (!o.counts && isIn(scope, o.placeId))
        rows.push({ item: it.uid, name: it.name, quantity: formatDecimal(o.quantity), unit: it.unit, day: o.day })
  if (!rows.length) return []
  rows.sort((a, b) => (a.day! < b.day! ? -1 : 1))
  return [{ ...none, kind: 'owed', day: rows[0]!.day, n: rows.length, named: rows.slice(0, 3) }]
}

async function countsDue(house: House, caller: Caller, scope: Scope): Promise<Waiting[]> {
  const today = house.today()
  const mine = reach(house, caller, 'book')
  const due = countCycles(house, scope).filter(
    c => c.due !== null && c.due <= dayPlus(today, 1) && isIn(mine, c.placeId),
  )
  const rows: Waiting[] = []
  await eachInPieces(due, c =>
    rows.push({
      ...none,
      kind: 'count',
      day: c.due,
      at: c.last === null ? null : iso(c.last.countedAt),
      n: belongings(house, c),
      place: {
        id: house.places.row(c.placeId)!.uid,
        name: c.group ? `${c.group.name}, ${house.places.name(c.placeId)}` : house.places.name(c.placeId),
      },
    }),
  )
  return rows
}

function differences(house: House, caller: Caller, scope: Scope): Waiting[] {
  const open = openDifferences(house, scope, reach(house, caller))
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
      value: sum(open.map(d => d.value!)),
    },
  ]
}

/** Sheets that were printed for counting and that nobody began to enter. */
function onPaper(house: House, caller: Caller, scope: Scope): Waiting[] {
  const mine = reach(house, caller, 'book')
  const rows = house.db
    .select({ s: sheet, by: person.name })
    .from(sheet)
    .innerJoin(person, eq(person.id, sheet.printedBy))
    .where(and(isNull(sheet.slipId), isNull(sheet.voidAt)))
    .orderBy(sheet.id)
    .all()
  return rows
    .filter(r => isIn(scope, r.s.placeId) && isIn(mine, r.s.placeId))
    .map(r => ({
      ...none,
      kind: 'sheet',
      at: iso(r.s.printedAt),
      n: r.s.pages,
      place: { id: house.places.row(r.s.placeId)!.uid, name: house.places.name(r.s.placeId) },
      sheet: { id: r.s.uid, number: r.s.number, by: r.by },
    }))
}

/** Areas that were closed for counting, and in which nothing is booked until they are open again. */
function closed(house: House, caller: Caller, scope: Scope): Waiting[] {
  const mine = reach(house, caller, 'book')
  return [...closedAreas(house)]
    .filter(([id]) => isIn(scope, id) && isIn(mine, id))
    .map(([id, { since, by }]) => ({
      ...none,
      kind: 'closed',
      at: iso(since),
      n: 1,
      place: { id: house.places.row(id)!.uid, name: house.places.name(id) },
      closed: { by },
    }))
}

/** Deliveries whose lines want a price, as one thing that waits. */
function unpriced(house: House, caller: Caller, scope: Scope): Waiting[] {
  const rows = seesValue(house, caller, scope) ? unpricedSlips(house) : []
  if (!rows.length) return []
  const lines = new Map(rows.map(r => [r.slip, r.lines]))
  const own = house.db
    .select({ s: slip, by: person.name })
    .from(slip)
    .innerJoin(person, eq(person.id, slip.bookedBy))
    .where(among(slip.id, lines.keys()))
    .orderBy(slip.id)
    .all()
    .filter(
      r => (r.s.placeId === null ? scope.within === undefined : isIn(scope, r.s.placeId)) && maySee(house, caller, r.s),
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

async function lying(house: House, caller: Caller, scope: Scope): Promise<Waiting[]> {
  const drafts = await listSlips(house, caller, { state: 'draft', limit: 20 }, scope)
  return drafts.rows.map(d => ({
    ...none,
    kind: 'draft',
    at: d.at,
    n: d.lines,
    slip: { id: d.id, kind: d.kind, title: d.title, number: null, by: d.by, mine: d.mine },
  }))
}

/** How each stockroom stands. */
function shelves(house: House, scope: Scope): Shelf[] {
  const today = house.today()
  const areas = house.places.areas().filter(a => isIn(scope, a.id))
  const rows = new Map(areas.map(a => [a.id, { out: 0, short: 0, coming: 0, inRange: 0, over: 0 }]))
  const values = new Map<number, bigint>()
  const FIELD = { out: 'out', short: 'short', short_coming: 'coming', in_range: 'inRange', over: 'over' } as const
  for (const it of house.stock.all().values()) {
    const stands = house.stock.standing(it, today)
    for (const [area, value] of stands.values) values.set(area, (values.get(area) ?? 0n) + value)
    for (const {
      areaId,
      levels: { state },
    } of stands.levels) {
      const row = rows.get(areaId)
      if (row && state !== 'none') row[FIELD[state]]++
    }
  }
  return areas.map(a =>
    about(house.places.scope([a.id]), {
      place: a.uid,
      name: house.places.name(a.id),
      ...rows.get(a.id)!,
      value: formatDecimal(values.get(a.id) ?? 0n),
    }),
  )
}
