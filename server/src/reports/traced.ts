import { and, eq, inArray, or, type SQL, sql } from 'drizzle-orm'
import { alias } from 'drizzle-orm/sqlite-core'
import { type LotTrace, wholeTrace } from '@shelve/contract'
import { formatDecimal, groupBy, lotState, traceLot, type TracedLot, tracing, writtenDay } from '@shelve/core'
import { account } from '../accounts/index.ts'
import { demandLot, lot, named, setLotState } from '../catalogue/index.ts'
import { among, chunks, eachInPieces, inOrder, iso, notFound, remember } from '../ground/index.ts'
import { movement, slip, takerOf } from '../ledger/index.ts'
import { accountName } from '../places/index.ts'
import { listed } from '../printing/index.ts'
import { type Caller, isIn, reach, type Scope } from '../rights/index.ts'
import type { House } from './house.ts'
import { makesReader } from './makes.ts'

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
/** So many lots, or movements, are looked through at once. */
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
  const leftOf = leftReader(house, scope)
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

/** What of a lot lies where somebody may look: read once for each item, since there may be thousands of one. */
function leftReader(house: House, scope: Scope) {
  type Left = LotTrace['lot']['left']
  const items = new Map<number, ReadonlyMap<number, Left>>()
  const read = (itemId: number): ReadonlyMap<number, Left> => {
    const of = new Map<number, Left>()
    for (const { lotId, placeId, quantity } of house.stock.item(itemId)!.leaves) {
      if (quantity <= 0n || !isIn(scope, placeId)) continue
      const left = { place: house.places.name(placeId), quantity: formatDecimal(quantity) }
      const there = of.get(lotId)
      if (there) there.push(left)
      else of.set(lotId, [left])
    }
    return of
  }
  return (l: LotTold): Left => remember(items, l.itemId, () => read(l.itemId)).get(l.id) ?? []
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

const to = alias(account, 'to_account')
const from = alias(account, 'from_account')
const GONE = ['used', 'waste', 'supplier'] as const
const isGone = (kind: string): kind is (typeof GONE)[number] => (GONE as readonly string[]).includes(kind)

/** Whether it went from one user to another, or from one to waste. */
const passed = (r: { readonly fromKind: string; readonly toKind: string }): boolean =>
  isGone(r.fromKind) && isGone(r.toKind) && r.fromKind !== 'supplier'

/** Everything that an item did, some movements at a time: a condition for each stretch. */
function* stretches(house: House, itemId: number): Generator<SQL | undefined> {
  const place = sql`(${movement.effectiveAt}, ${movement.seq})`
  for (let from: { at: number; seq: number } | undefined; ;) {
    const after = and(eq(movement.itemId, itemId), from && sql`${place} > (${from.at}, ${from.seq})`)
    const until = house.db
      .select({ at: movement.effectiveAt, seq: movement.seq })
      .from(movement)
      .where(after)
      .orderBy(movement.effectiveAt, movement.seq)
      .limit(1)
      .offset(PIECE)
      .get()
    yield until ? and(after, sql`${place} <= (${until.at}, ${until.seq})`) : after
    if (!until) return
    from = until
  }
}

/** What went of some lots to whoever used, wasted or got it back, or came from there, within a stretch. */
const goneIn = (house: House, lots: string, stretch: SQL | undefined) =>
  house.db
    .select({
      seq: movement.seq,
      lotId: movement.lotId,
      from: movement.fromId,
      to: movement.toId,
      fromKind: from.kind,
      toKind: to.kind,
      quantity: movement.quantity,
      at: movement.effectiveAt,
      undoes: sql<number>`${movement.reverses} is not null`.mapWith(Number),
      placeId: slip.placeId,
      slip: slip.uid,
      number: slip.number,
      slipAt: slip.effectiveAt,
      taker: takerOf,
    })
    .from(movement)
    .innerJoin(slip, eq(slip.id, movement.slipId))
    .innerJoin(to, eq(to.id, movement.toId))
    .innerJoin(from, eq(from.id, movement.fromId))
    .where(
      and(
        stretch,
        sql`${movement.lotId} in (select value from json_each(${lots}))`,
        sql`${movement.quantity} > 0`,
        or(inArray(to.kind, [...GONE]), inArray(from.kind, ['used', 'waste', 'supplier'])),
      ),
    )
    .all()

/** Who has something of some lots: handed out, wasted or returned, net of what came back. */
async function gotOf(
  house: House,
  lots: readonly LotTold[],
  scope: Scope,
  itemOf: (id: number) => string,
): Promise<Pick<LotTrace, 'got' | 'slips'>> {
  const gone: Gone[] = []
  for (const [itemId, of] of groupBy(lots, l => l.itemId)) {
    const ids = JSON.stringify(of.map(l => l.id))
    await eachInPieces(stretches(house, itemId), stretch => gone.push(...goneIn(house, ids, stretch)))
  }
  const byLot = new Map<number, Went[]>()
  await eachInPieces(await inOrder(gone, (x, y) => x.seq - y.seq), r => {
    if (!concerns(house, r, scope)) return
    const away = { ...r, away: isGone(r.toKind) }
    for (const w of passed(r) ? [away, { ...r, away: false }] : [away])
      // A delivery comes from its supplier: it is not got back by them.
      if ((w.away ? w.toKind : w.fromKind) !== 'supplier' || w.away !== (w.undoes === 1))
        remember(byLot, w.lotId, () => []).push(w)
  })
  const slips = new Map<string, LotTrace['slips'][number]>()
  const got: LotTrace['got'] = []
  await eachInPieces(lots, l => {
    for (const [who, of] of groupBy(byLot.get(l.id) ?? [], r => (r.away ? r.to : r.from))) {
      const quantity = of.reduce((sum, r) => (r.away ? sum + r.quantity : sum - r.quantity), 0n)
      if (quantity <= 0n) continue
      const gave = of.filter(r => r.away && !r.undoes)
      for (const r of gave) slips.set(r.slip, { id: r.slip, number: r.number!, at: iso(r.slipAt!) })
      got.push({
        lot: l.uid,
        code: l.code,
        item: itemOf(l.itemId),
        kind: (of[0]!.away ? of[0]!.toKind : of[0]!.fromKind) as (typeof GONE)[number],
        name: accountName(house, who),
        takers: [...new Set(gave.map(r => r.taker).filter(Boolean))],
        quantity: formatDecimal(quantity),
        last: iso(Math.max(...gave.map(r => r.at))),
        slips: [...new Set(gave.map(r => r.slip))],
      })
    }
  })
  return { got, slips: [...slips.values()] }
}
type Gone = ReturnType<typeof goneIn>[number]
type Went = Gone & { readonly away: boolean }
/** Whether something that went was within somebody's reach. */
function concerns(house: House, r: Gone, scope: Scope): boolean {
  const places = [r.from, r.to].filter(a => house.places.row(a) !== undefined)
  // What passed from one to another is of the place that its slip was written in.
  if (passed(r)) return r.placeId === null ? !scope.within : isIn(scope, r.placeId)
  // What went straight to its user never lay anywhere.
  return places.length ? places.some(p => isIn(scope, p)) : !scope.within
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
