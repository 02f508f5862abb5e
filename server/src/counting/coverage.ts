import { eq, sql } from 'drizzle-orm'
import { isCounted, type SlipContent, type SlipLine } from '@shelve/contract'
import { coverage, type LineState } from '@shelve/core'
import { MAY_COME_IN } from '../ledger/index.ts'
import { cellKey, contentOf } from '../papers/index.ts'
import { openUp } from './closed.ts'
import { groupOf, groupsIn, itemsOf } from './groups.ts'
import type { House } from './house.ts'
import { countDone } from './tables.ts'

interface Cell {
  readonly itemId: number
  readonly lotId: number
  readonly placeId: number
}
const key = (c: Cell): string => cellKey(c.itemId, c)

/** What a line of a count is about; undefined where nothing is known of it. A line of an item with lots that names none has lot 0. */
function cellOf(house: House, content: SlipContent, l: SlipLine): Cell | undefined {
  const item = l.item === null ? undefined : house.known.item(l.item)
  const own = l.from ?? content.place
  const place = own === null ? undefined : house.places.id(own)
  if (!item || place === undefined) return undefined
  const named = l.lot?.id ? house.rows.lot.get({ uid: l.lot.id }) : undefined
  const lot = named?.id ?? (item.identifiedBy === 'quantity' ? (house.known.plainLot(item.id) ?? 0) : 0)
  return { itemId: item.id, lotId: lot, placeId: place }
}

type CellRow = { readonly item: bigint; readonly lot: bigint; readonly place: bigint }
const asCell = (r: CellRow): Cell => ({ itemId: Number(r.item), lotId: Number(r.lot), placeId: Number(r.place) })

const stateOf = (l: SlipLine): LineState => (isCounted(l) ? 'counted' : l.counted === 'left_out' ? 'left_out' : 'open')

/** The lines of a count by what each is about. Where a lot of an item was counted in a place, the line that stood there for none of it is too. */
function statesOf(house: House, slipId: number, content: SlipContent) {
  const tallied = new Map(
    house.db
      .all<CellRow & { uid: string }>(
        sql`select l.uid, t.item_id as item, t.lot_id as lot, t.place_id as place
            from tally t join slip_line l on l.id = t.line_id where t.slip_id = ${slipId}`,
      )
      .map(t => [t.uid, asCell(t)]),
  )
  const lines = content.lines.flatMap(line => {
    const cell = tallied.get(line.id) ?? cellOf(house, content, line)
    return cell ? [{ cell, state: stateOf(line), line }] : []
  })
  const known = new Set(lines.flatMap(l => (l.state === 'counted' ? [`${l.cell.itemId}.${l.cell.placeId}`] : [])))
  return lines.map(l => ({
    ...l,
    state: l.cell.lotId === 0 && known.has(`${l.cell.itemId}.${l.cell.placeId}`) ? ('counted' as const) : l.state,
  }))
}

/** What lies in a place now and came there before a minute. */
const lyingSince = (house: House, placeId: number, at: number): Cell[] =>
  house.db
    .all<CellRow>(
      sql`select b.item_id as item, b.lot_id as lot, b.place_id as place from balance b
          join place_within w on w.place_id = b.place_id and w.ancestor_id = ${placeId}
          where b.quantity > 0 and exists (
            select 1 from movement m where m.to_id = b.place_id and m.item_id = b.item_id and m.lot_id = b.lot_id
              and m.effective_at <= ${at} and ${sql.raw(MAY_COME_IN)})`,
    )
    .map(asCell)

/** What a count, and those that it completes, said of each cell that still stands. */
export function saidBefore(house: House, slipId: number | null): Set<string> {
  const said = new Set<string>()
  for (let id = slipId; id !== null;) {
    const row = house.rows.slipById.get({ id })
    if (row?.kind !== 'count' || row.state !== 'booked') break
    const content = contentOf(house, row)
    const gone = new Set(
      house.db
        .all<{ uid: string }>(
          sql`select l.uid from tally t join tally_reversal r on r.tally_id = t.id join slip_line l on l.id = t.line_id
              where t.slip_id = ${id}`,
        )
        .map(r => r.uid),
    )
    for (const l of statesOf(house, id, content)) if (l.state !== 'open' && !gone.has(l.line.id)) said.add(key(l.cell))
    id = content.head.rest === null ? null : (house.rows.slip.get({ uid: content.head.rest })?.id ?? null)
  }
  return said
}

/**
 * Writes down, with the booking of a count, how far it covered its area and the groups that lie in it, or the one group
 * that it is of; an area of which nothing is left is open again.
 */
export function countBooked(house: House, record: { readonly id: number }, content: SlipContent): void {
  if (content.kind !== 'count' || content.place === null) return
  const placeId = house.places.id(content.place)!
  const lines = statesOf(house, record.id, content)
  const times = content.lines.flatMap(l => (isCounted(l) && l.countedAt !== null ? [Date.parse(l.countedAt)] : []))
  const countedAt = house.rows.slipById.get({ id: record.id })!.effectiveAt!
  const began = Math.min(countedAt, ...times)
  const restOf = content.head.rest === null ? null : (house.rows.slip.get({ uid: content.head.rest })?.id ?? null)
  const before = saidBefore(house, restOf)
  const lying = lyingSince(house, placeId, began)
  const write = (groupId: number | null, place: number, items: ReadonlySet<number> | undefined): boolean => {
    const within = house.places.within(place)
    const mine = (c: Cell) => within.has(c.placeId) && (items?.has(c.itemId) ?? true)
    const done = coverage(
      lines.filter(l => mine(l.cell)).map(l => ({ cell: key(l.cell), state: l.state, line: l.cell })),
      lying.filter(mine).map(c => ({ cell: key(c), line: c })),
      before,
    )
    house.db
      .insert(countDone)
      .values({
        slipId: record.id,
        placeId: place,
        groupId,
        restOf,
        countedAt,
        leftOut: done.leftOut.length,
        open: done.open.length,
      })
      .run()
    return done.open.length === 0
  }
  const group = content.head.group === null ? undefined : groupOf(house, content.head.group)
  if (group) {
    write(group.id, group.placeId, itemsOf(house, group))
    return
  }
  const areas = house.places.areas().filter(a => house.places.within(placeId).has(a.id))
  for (const a of areas) if (write(null, a.id, undefined)) openUp(house, a.id)
  for (const g of groupsIn(house, house.places.scope([placeId]))) write(g.id, g.placeId, itemsOf(house, g))
}

/** What speaks against a count of a group, or one that completes another: it is not of this place, or there is none. */
export function scopeRefusals(house: House, content: SlipContent): { code: string; field: string }[] {
  if (content.kind !== 'count') return []
  const out: { code: string; field: string }[] = []
  const { group, rest } = content.head
  const of = group === null ? undefined : groupOf(house, group)
  if (group !== null && (!of || content.place === null || house.places.id(content.place) !== of.placeId))
    out.push({ code: 'unknown_group', field: 'group' })
  const before = rest === null ? undefined : house.rows.slip.get({ uid: rest })
  if (
    rest !== null &&
    (before?.kind !== 'count' ||
      before.state !== 'booked' ||
      house.places.row(before.placeId ?? -1)?.uid !== content.place)
  )
    out.push({ code: 'unknown_rest', field: 'rest' })
  return out
}

/** How far a booked count covered what it is of: an area, or the group that it is of. */
export const doneOf = (house: House, slipId: number) =>
  house.db.select().from(countDone).where(eq(countDone.slipId, slipId)).orderBy(countDone.id).get()
