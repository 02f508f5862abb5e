import { and, eq, gt, sql } from 'drizzle-orm'
import type { DifferenceView } from '@shelve/contract'
import { firstToGo, formatDecimal, type Quantity } from '@shelve/core'
import { item, lot } from '../catalogue/index.ts'
import { among, eachInPieces, inOrder, iso, notFound, once } from '../ground/index.ts'
import { balance, slip, tally } from '../ledger/index.ts'
import { cellKey } from '../papers/index.ts'
import { person } from '../people/index.ts'
import { level } from '../position/index.ts'
import { about, isIn, type Scope } from '../rights/index.ts'
import { saidBefore } from './coverage.ts'
import type { Counted } from './cycles.ts'
import { groupOf, itemsOf } from './groups.ts'
import type { House } from './house.ts'
import { openNow } from './open-now.ts'

/** A line of a sheet: a lot in a bin, or what belongs there though nothing is left of it. */
export interface Lying {
  readonly itemId: number
  readonly item: string
  readonly code: string
  readonly name: string
  readonly unit: string
  readonly lot: {
    readonly id: number
    readonly uid: string
    readonly code: string | null
    readonly expiry: string | null
  } | null
  readonly placeId: number
  readonly quantity: Quantity
}

/** A line with what it is put in order by among the lots of its item. */
interface Placed {
  readonly line: Lying
  readonly sort: Parameters<typeof firstToGo>[0]
}
/** So many lines, or some more, are read at once. */
const PIECE = 300
const named = { itemId: item.id, item: item.uid, code: item.code, name: item.name, unit: item.unit }
type Named = Pick<Lying, keyof typeof named>
const nameOf = ({ itemId, item, code, name, unit }: Named): Named => ({ itemId, item, code, name, unit })

/** What is to be counted in an area, or a group, some items at a time. */
function* pieces(house: House, { placeId, group }: Counted): Generator<Placed[]> {
  const inside = house.places.within(placeId)
  const items = group && itemsOf(house, group)
  const here = house.db
    .select({ id: balance.itemId, lines: sql<number>`count(*)`.mapWith(Number) })
    .from(balance)
    .where(and(among(balance.placeId, inside), gt(balance.quantity, 0n)))
    .groupBy(balance.itemId)
    .all()
    .filter(r => items?.has(r.id) ?? true)
  let some: number[] = []
  let lines = 0
  for (const r of here) {
    if (r.lines > PIECE) {
      for (let from = 0; from < r.lines; from += PIECE) yield lying(house, inside, [r.id], PIECE, from)
      continue
    }
    some.push(r.id)
    lines += r.lines
    if (lines < PIECE) continue
    yield lying(house, inside, some)
    some = []
    lines = 0
  }
  yield lying(house, inside, some)
  const lies = new Set(here.map(r => r.id))
  yield house.db
    .select({ ...named, placeId: level.placeId, binId: level.binId, active: item.active })
    .from(level)
    .innerJoin(item, eq(item.id, level.itemId))
    .where(among(level.placeId, inside))
    .all()
    .filter(l => !lies.has(l.itemId) && l.active && (items?.has(l.itemId) ?? true))
    .map(l => ({
      sort: { id: 0, held: 'usable' as const, expiry: null, received: 0 },
      line: { ...nameOf(l), lot: null, placeId: l.binId ?? l.placeId, quantity: 0n as Quantity },
    }))
}
/** Every lot of some items in some places; of many the next `most`, `from` one on. */
const lying = (house: House, inside: ReadonlySet<number>, items: number[], most = -1, from = 0): Placed[] =>
  house.db
    .select({
      ...named,
      lotId: balance.lotId,
      placeId: balance.placeId,
      quantity: balance.quantity,
      lotUid: lot.uid,
      lotCode: lot.code,
      expiry: lot.expiry,
      held: lot.held,
      received: lot.receivedAt,
    })
    .from(balance)
    .innerJoin(item, eq(item.id, balance.itemId))
    .innerJoin(lot, eq(lot.id, balance.lotId))
    .where(and(among(balance.itemId, items), among(balance.placeId, inside), gt(balance.quantity, 0n)))
    .orderBy(balance.itemId, balance.lotId, balance.placeId)
    .limit(most)
    .offset(from)
    .all()
    .map(r => ({
      sort: { id: r.lotId, held: r.held as 'usable', expiry: r.expiry, received: r.received },
      line: {
        ...nameOf(r),
        lot: r.lotCode === null ? null : { id: r.lotId, uid: r.lotUid, code: r.lotCode, expiry: r.expiry },
        placeId: r.placeId,
        quantity: r.quantity,
      },
    }))

/** As one walks by: shelf by shelf, by name, the lot that goes first first. */
const walked =
  (house: House) =>
  (a: Placed, b: Placed): number =>
    house.places.order(a.line.placeId) - house.places.order(b.line.placeId) ||
    a.line.name.localeCompare(b.line.name) ||
    firstToGo(a.sort, b.sort)

/**
 * What is to be counted in an area, in walking order: every lot in every bin, and what belongs there and is at zero; of a
 * group its items alone. Nothing where that is more than `most`: then no more is read.
 */
export function linesUpTo(house: House, of: Counted, most: number): Lying[] | undefined {
  const rows: Placed[] = []
  for (const piece of pieces(house, of)) if (rows.push(...piece) > most) return undefined
  return rows.sort(walked(house)).map(x => x.line)
}

/** All of it, however much, others being let in meanwhile. */
async function linesInPieces(house: House, of: Counted): Promise<Lying[]> {
  const rows: Placed[] = []
  await eachInPieces(pieces(house, of), piece => rows.push(...piece))
  return (await inOrder(rows, walked(house))).map(x => x.line)
}

/**
 * The lines of a sheet for a screen: of an area, of a group, or of what a count (`rest`) left of it. Also the slips of that
 * area which are written but not booked yet: they come first.
 */
export async function sheetOf(
  house: House,
  asked: { readonly place: string; readonly group?: string | undefined; readonly rest?: string | undefined },
  figures: boolean,
) {
  const placeUid = asked.place
  const id = house.places.id(placeUid)
  if (id === undefined) throw notFound('place')
  const group = asked.group === undefined ? null : groupOf(house, asked.group)
  if (group === undefined || (group !== null && group.placeId !== id)) throw notFound('group')
  const said =
    asked.rest === undefined ? undefined : saidBefore(house, house.rows.slip.get({ uid: asked.rest })?.id ?? null)
  const left = (await linesInPieces(house, { placeId: id, group })).filter(l => {
    const lot = l.lot?.id ?? house.known.plainLot(l.itemId) ?? 0
    return !said?.has(cellKey(l.itemId, { lotId: lot, placeId: l.placeId }))
  })
  const lines = left.map(l => ({
    item: l.item,
    lot: l.lot && { id: l.lot.uid, code: l.lot.code, expiry: l.lot.expiry },
    place: house.places.row(l.placeId)!.uid,
    placeName: house.places.name(l.placeId),
    expected: figures ? formatDecimal(l.quantity) : null,
  }))
  return {
    place: placeUid,
    name: group?.name ?? house.places.name(id),
    lines,
    open: unbooked(house, id).map(s => ({ id: s.id, title: s.title, by: s.by, savedAt: iso(s.savedAt) })),
  }
}

/** All slips that are written but not booked, counts aside. */
export const draftsNow = (house: House) =>
  house.db
    .select({
      id: slip.uid,
      title: slip.title,
      kind: slip.kind,
      by: person.name,
      savedAt: slip.savedAt,
      placeId: slip.placeId,
    })
    .from(slip)
    .innerJoin(person, eq(person.id, slip.createdBy))
    .where(eq(slip.state, 'draft'))
    .all()
    .filter(s => s.kind !== 'count')

/** Those of them that are about an area, a part of it, or something it lies in. */
export const unbooked = (house: House, areaId: number, drafts = draftsNow(house)) =>
  drafts.filter(
    s =>
      s.placeId !== null && (house.places.within(areaId).has(s.placeId) || house.places.within(s.placeId).has(areaId)),
  )

const differing = once((house: House) =>
  house.db
    .select({
      t: tally,
      code: item.code,
      name: item.name,
      unit: item.unit,
      uid: item.uid,
      lot: lot.code,
      slip: slip.uid,
      number: slip.number,
    })
    .from(tally)
    .innerJoin(item, eq(item.id, tally.itemId))
    .innerJoin(lot, eq(lot.id, tally.lotId))
    .innerJoin(slip, eq(slip.id, tally.slipId))
    .where(sql`${tally.id} in (select value from json_each(${sql.placeholder('ids')}))`)
    .prepare(),
)

/** Differences of booked counts that are neither found nor closed, with what may match them elsewhere. */
export function openDifferences(house: House, { within }: Scope, seen: Scope): DifferenceView[] {
  const open = openNow(house)
  const ids = [...open].flatMap(([tally, { quantity }]) => (quantity ? [tally] : []))
  if (!ids.length) return []
  const rows = differing(house).all({ ids: JSON.stringify(ids) })
  const views = rows.map(r => ({ row: r, open: open.get(r.t.id)! }))
  return views
    .filter(v => !within || within.has(v.row.t.placeId))
    .sort((a, b) => a.row.t.countedAt - b.row.t.countedAt)
    .map(({ row: r, open: o }) =>
      about(house.places.scope([r.t.placeId]), {
        id: r.t.uid,
        item: { id: r.uid, code: r.code, name: r.name, unit: r.unit },
        lot: r.lot,
        place: { id: house.places.row(r.t.placeId)!.uid, name: house.places.name(r.t.placeId) },
        countedAt: iso(r.t.countedAt),
        counted: formatDecimal(r.t.counted),
        expected: formatDecimal(r.t.expected),
        open: formatDecimal(-o.quantity),
        slip: { id: r.slip, number: r.number! },
        value: formatDecimal(-o.value),
        elsewhere: views
          .filter(
            x =>
              x.row.t.itemId === r.t.itemId &&
              x.row.t.id !== r.t.id &&
              isIn(seen, x.row.t.placeId) &&
              x.open.quantity > 0n !== o.quantity > 0n,
          )
          .map(x => ({
            difference: x.row.t.uid,
            place: house.places.name(x.row.t.placeId),
            open: formatDecimal(-x.open.quantity),
          })),
      }),
    )
}
