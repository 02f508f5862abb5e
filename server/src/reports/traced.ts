import { and, eq, or, sql } from 'drizzle-orm'
import { type LotTrace, wholeTrace } from '@shelve/contract'
import { formatDecimal, lotState, traceLot, type TracedLot, tracing, writtenDay } from '@shelve/core'
import { demandLot, lot, named, setLotState } from '../catalogue/index.ts'
import { among, chunks, eachInPieces, iso, notFound, remember } from '../ground/index.ts'
import { movement, slip } from '../ledger/index.ts'
import type { StockItem } from '../position/index.ts'
import { listed } from '../printing/index.ts'
import { type Caller, isIn, reach, type Scope } from '../rights/index.ts'
import type { House } from './house.ts'
import { makesReader } from './makes.ts'
import { gotOf } from './went.ts'

type LotRow = typeof lot.$inferSelect

/** As much of a lot as is told of it; read past the types and as one text, since there may be thousands of one. */
type LotTold = Pick<LotRow, 'id' | 'uid' | 'itemId' | 'code' | 'expiry' | 'held'>
type LotSaid = [
  id: number,
  uid: string,
  itemId: number,
  code: string | null,
  expiry: string | null,
  held: LotRow['held'],
]
/** So many lots are looked through at once. */
const PIECE = 500
function* lotsBy(house: House, ids: readonly number[]): Generator<LotTold> {
  for (const some of chunks(ids, PIECE)) yield* lotsAmong(house, some)
}
function lotsAmong(house: House, ids: readonly number[]): LotTold[] {
  const said = house.store.client
    .prepare(
      `select json_group_array(json_array(id, uid, item_id, code, expiry, held)) from lot
       where id in (select value from json_each(?))`,
    )
    .pluck()
    .get(JSON.stringify(ids)) as string
  return (JSON.parse(said) as LotSaid[]).map(([id, uid, itemId, code, expiry, held]) => {
    return { id, uid, itemId, code, expiry, held }
  })
}

/**
 * What a lot is made of and what is made of it, who got any of that, and where something of it lies still; there may be
 * thousands, and others are let in meanwhile.
 */
export async function lotTrace(house: House, uid: string, scope: Scope): Promise<LotTrace> {
  const start = house.db.select().from(lot).where(eq(lot.uid, uid)).get()
  if (!start || !wasSeen(house, start, scope)) throw notFound('lot')
  const { makesOf, slips, goesOn } = makesReader(house, scope)
  const follow = async (way: 'up' | 'down') => {
    let all: ReadonlyMap<number, TracedLot> = new Map()
    await eachInPieces(tracing(start.id, way, makesOf, goesOn), found => void (all = found))
    return [...all.values()]
  }
  const [up, down] = [await follow('up'), await follow('down')]
  const lots = new Map<number, LotTold>()
  await eachInPieces(lotsBy(house, [start.id, ...[...up, ...down].map(t => t.lot)]), l => lots.set(l.id, l))
  const numbers = slipsBy(house, [...new Set(slips.values())])
  const leftOf = await leftReader(house, new Set([...lots.values()].map(l => l.itemId)), scope)
  const today = house.today()
  const names = new Map<number, ReturnType<typeof named>>()
  const itemOf = (id: number): string => {
    const known = names.get(id) ?? named(house.known.itemById(id)!)
    names.set(id, known)
    return known.id
  }
  const view = (t: TracedLot): LotTrace['up'][number] => {
    const l = lots.get(t.lot)!
    return {
      id: l.uid,
      code: l.code,
      item: itemOf(l.itemId),
      expiry: l.expiry,
      state: lotState({ held: l.held as 'usable', expiry: l.expiry }, today),
      depth: t.depth,
      quantity: formatDecimal(t.quantity),
      left: leftOf(l),
      makes: t.makes.map(m => numbers.get(slips.get(m)!)!.id),
    }
  }
  // Whoever got something of an item without lots got it of any of them: that is no news of this one.
  const concerned = [start, ...down.map(t => lots.get(t.lot)!).filter(l => l.code !== null)]
  const { got, slips: gave } = await gotOf(house, concerned, scope, itemOf)
  const viewed = async (of: readonly TracedLot[]) => {
    const rows: LotTrace['up'] = []
    await eachInPieces(of, t => rows.push(view(t)))
    return rows
  }
  const [above, below] = [await viewed(up), await viewed(down)]
  return {
    lot: { id: start.uid, code: start.code, item: itemOf(start.itemId), left: leftOf(start) },
    up: above,
    down: below,
    got,
    items: [...names.values()],
    slips: [...new Map([...numbers.values(), ...gave].map(s => [s.id, s])).values()],
  }
}

type Leaf = StockItem['leaves'][number]
/** What of lots of some items lies where somebody may look; of one there may be thousands. */
async function leftReader(house: House, items: Iterable<number>, scope: Scope) {
  const of = new Map<number, Leaf[]>()
  for (const item of items)
    await eachInPieces(house.stock.item(item)!.leaves, leaf => {
      if (leaf.quantity > 0n && isIn(scope, leaf.placeId)) remember(of, leaf.lotId, () => []).push(leaf)
    })
  return (l: LotTold): LotTrace['lot']['left'] =>
    (of.get(l.id) ?? []).map(({ placeId, quantity }) => {
      return { place: house.places.name(placeId), quantity: formatDecimal(quantity) }
    })
}

/** Whether a lot ever was where somebody may look. */
function wasSeen(house: House, l: LotTold, scope: Scope): boolean {
  if (!scope.within) return true
  const at = or(among(sql`+${movement.fromId}`, scope.within), among(sql`+${movement.toId}`, scope.within))
  return (
    house.db
      .select({ seq: movement.seq })
      .from(movement)
      .where(and(eq(movement.itemId, l.itemId), eq(movement.lotId, l.id), at))
      .limit(1)
      .get() !== undefined
  )
}

function slipsBy(house: House, ids: readonly number[]) {
  const rows = house.db
    .select({ id: slip.id, uid: slip.uid, number: slip.number, at: slip.effectiveAt })
    .from(slip)
    .where(among(slip.id, ids))
    .all()
  return new Map(rows.map(s => [s.id, { id: s.uid, number: s.number!, at: iso(s.at!) }]))
}

/** Whom to tell and where to look: who got something of a lot and of all that is made of it, and what of that is left where. */
export function gotListed(house: House, uid: string, told: LotTrace, scope: Scope) {
  const t = wholeTrace(told)
  const l = house.rows.lot.get({ uid })!
  const it = house.known.itemById(l.itemId)!
  const rows = [
    ...t.got.map(g => ({ ...g, at: g.last, who: g.takers.join(', '), slips: g.slips.map(s => s.number).join(' ') })),
    ...t.left.map(x => ({ ...x, kind: 'left', name: x.place, at: '', who: '', slips: '' })),
  ]
  return listed(
    house,
    `Lot ${l.code ?? ''} of ${it.name}, and what is made of it`,
    r => [r.kind, r.name, r.who, r.item.name, r.code ?? '', r.quantity, r.item.unit, r.at, r.slips],
    ['what became of it', 'to or in', 'taken by', 'item', 'lot', 'quantity', 'unit', 'last', 'slips'],
    rows,
    `trace-${l.code ?? it.code}`,
    scope,
    l.expiry ? `use by ${writtenDay(l.expiry, house.organisation!)}` : '',
  )
}

/**
 * Holds or recalls a lot and everything that is made of it, in one step: all of it or, where something of it lies where the
 * caller may not book, nothing. What is kept without lots cannot be told apart and is left as it is. Gives the lots.
 */
export function recallLot(
  house: House,
  caller: Caller,
  uid: string,
  { held, why }: { readonly held: 'held' | 'recalled'; readonly why: string },
): LotTold[] {
  const start = house.rows.lot.get({ uid })
  if (!start) throw notFound('lot')
  // What is made of it is asked of all places: what may not be seen may not be missed either.
  const { makesOf, goesOn } = makesReader(house, house.places.scope())
  const down = traceLot(start.id, 'down', makesOf, goesOn)
  const rows = [...lotsBy(house, [start.id, ...down.map(t => t.lot)])]
  const lots = rows.filter(l => l.id === start.id || l.code !== null)
  for (const l of lots) demandLot(house, caller, l.uid)
  for (const l of lots) if (l.held !== held) setLotState(house, l.uid, held, why, caller.id)
  return lots.filter(l => l.held !== held && isMine(house, caller, l))
}
const isMine = (house: House, caller: Caller, l: LotTold): boolean => wasSeen(house, l, reach(house, caller))
