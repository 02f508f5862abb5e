import type { LotTrace } from '@shelve/contract'
import { formatDecimal, groupBy, type Quantity } from '@shelve/core'
import { eachInPieces, inOrder, iso, once, remember } from '../ground/index.ts'
import { exactly, takerText } from '../ledger/index.ts'
import { accountName } from '../places/index.ts'
import { isIn, type Scope } from '../rights/index.ts'
import type { House } from './house.ts'

/** A lot of which it is asked who has something. */
interface Asked {
  readonly id: number
  readonly uid: string
  readonly itemId: number
  readonly code: string | null
}
/** What of a lot went to whoever used, wasted or got it back, or came from there. */
interface Went {
  readonly seq: number
  readonly lotId: number
  readonly from: number
  readonly to: number
  readonly fromKind: string
  readonly toKind: string
  readonly quantity: Quantity
  readonly at: number
  readonly undoes: boolean
  readonly taker: string
  /** In which slip: its place, id, number and day. */
  readonly slip: { readonly placeId: number | null; readonly uid: string; readonly number: string; readonly at: number }
}
const GONE = ['used', 'waste', 'supplier'] as const
const isGone = (kind: string): kind is (typeof GONE)[number] => (GONE as readonly string[]).includes(kind)

/** The same for a statement. */
const GONE_TEXT = GONE.map(k => `'${k}'`).join(', ')

/** Whether it went from one user to another, or from one to waste. */
const passed = (r: Pick<Went, 'fromKind' | 'toKind'>): boolean =>
  isGone(r.fromKind) && isGone(r.toKind) && r.fromKind !== 'supplier'

/** So many movements of an item are looked through at once. */
const PIECE = 500
/** Of so many lots they are found among the movements; of more all movements are taken, and theirs found among these. */
const FEW = 500
/** Where a stretch of an item's movements begins or ends, itself included at its end. */
type Place = readonly [at: number, seq: number]
const FIRST: Place = [-8.64e15, 0]
const LAST: Place = [8.64e15, Number.MAX_SAFE_INTEGER]

const statements = once((house: House) => ({
  until: house.store.client
    .prepare(
      `select effective_at, seq from movement where item_id = ? and (effective_at, seq) > (?, ?)
       order by effective_at, seq limit 1 offset ?`,
    )
    .raw()
    .safeIntegers(false),
  // All of a stretch as one text, which crosses from the database in half the time of its values.
  went: house.store.client
    .prepare(
      `select json_group_array(json_array(m.seq, m.lot_id, m.from_id, m.to_id, f.kind, t.kind, ${exactly('m.quantity')},
         m.effective_at, m.reverses is not null, ${takerText('m.line_id', 's.taker')}, s.place_id, s.uid, s.number, s.effective_at))
       from movement m join slip s on s.id = m.slip_id
         join account t on t.id = m.to_id join account f on f.id = m.from_id
       where m.item_id = :item and (m.effective_at, m.seq) > (:at, :seq) and (m.effective_at, m.seq) <= (:untilAt, :untilSeq)
         and (:lots is null or m.lot_id in (select value from json_each(:lots))) and m.quantity > 0
         and (t.kind in (${GONE_TEXT}) or f.kind in (${GONE_TEXT}))`,
    )
    .pluck(),
}))

/** Everything that an item did, a stretch at a time: from where to where. */
function* stretches(house: House, itemId: number): Generator<[from: Place, until: Place]> {
  for (let from = FIRST; from !== LAST;) {
    const until = (statements(house).until.get(itemId, ...from, PIECE) as Place | undefined) ?? LAST
    yield [from, until]
    from = until
  }
}
type Row = [
  ...[seq: number, lot: number, from: number, to: number, fromKind: string, toKind: string],
  ...[quantity: number | string, at: number, undoes: number, taker: string],
  ...[place: number | null, slip: string, number: string, slipAt: number],
]
/** What went of some lots of an item within a stretch. */
function wentIn(house: House, itemId: number, lots: ReadonlySet<number>, [from, until]: [Place, Place]): Went[] {
  const said = statements(house).went.get({
    ...{ item: itemId, at: from[0], seq: from[1], untilAt: until[0], untilSeq: until[1] },
    lots: lots.size > FEW ? null : JSON.stringify([...lots]),
  }) as string
  return (JSON.parse(said) as Row[]).flatMap(
    ([seq, lotId, from, to, fromKind, toKind, quantity, at, undoes, taker, placeId, uid, number, slipAt]) =>
      lots.has(lotId)
        ? [
            // Written out: of objects that are put together of others each of thousands would have a shape of its own.
            {
              seq,
              lotId,
              from,
              to,
              fromKind,
              toKind,
              quantity: BigInt(quantity),
              at,
              undoes: undoes === 1,
              taker,
              slip: { placeId, uid, number, at: slipAt },
            },
          ]
        : [],
  )
}

/** Whether something that went was within somebody's reach. */
function concerns(house: House, r: Went, scope: Scope): boolean {
  const places = [r.from, r.to].filter(a => house.places.row(a) !== undefined)
  // What passed from one to another is of the place that its slip was written in.
  if (passed(r)) return r.slip.placeId === null ? !scope.within : isIn(scope, r.slip.placeId)
  // What went straight to its user never lay anywhere.
  return places.length ? places.some(p => isIn(scope, p)) : !scope.within
}

/** Something that went to somebody (`away`), or came from them. */
type Side = Went & { readonly away: boolean }
/** What went of each lot, in the order in which it was written; what passed from one to another is of both. */
async function sidesOf(house: House, lots: readonly Asked[], scope: Scope): Promise<ReadonlyMap<number, Side[]>> {
  const went: Went[] = []
  for (const [itemId, of] of groupBy(lots, l => l.itemId)) {
    const ids = new Set(of.map(l => l.id))
    await eachInPieces(stretches(house, itemId), stretch => went.push(...wentIn(house, itemId, ids, stretch)))
  }
  const byLot = new Map<number, Side[]>()
  await eachInPieces(await inOrder(went, (x, y) => x.seq - y.seq), r => {
    if (!concerns(house, r, scope)) return
    const away = { ...r, away: isGone(r.toKind) }
    for (const side of passed(r) ? [away, { ...r, away: false }] : [away])
      // A delivery comes from its supplier: it is not got back by them.
      if ((side.away ? side.toKind : side.fromKind) !== 'supplier' || side.away !== side.undoes)
        remember(byLot, side.lotId, () => []).push(side)
  })
  return byLot
}

/** Who has something of some lots: handed out, wasted or returned, net of what came back; there may be thousands. */
export async function gotOf(
  house: House,
  lots: readonly Asked[],
  scope: Scope,
  itemOf: (id: number) => string,
): Promise<Pick<LotTrace, 'got' | 'slips'>> {
  const byLot = await sidesOf(house, lots, scope)
  const slips = new Map<string, LotTrace['slips'][number]>()
  const got: LotTrace['got'] = []
  await eachInPieces(lots, l => {
    for (const [who, of] of groupBy(byLot.get(l.id) ?? [], r => (r.away ? r.to : r.from))) {
      const quantity = of.reduce((sum, r) => (r.away ? sum + r.quantity : sum - r.quantity), 0n)
      if (quantity <= 0n) continue
      const gave = of.filter(r => r.away && !r.undoes)
      for (const { slip } of gave) slips.set(slip.uid, { id: slip.uid, number: slip.number, at: iso(slip.at) })
      got.push({
        lot: l.uid,
        code: l.code,
        item: itemOf(l.itemId),
        kind: (of[0]!.away ? of[0]!.toKind : of[0]!.fromKind) as (typeof GONE)[number],
        name: accountName(house, who),
        takers: [...new Set(gave.map(r => r.taker).filter(Boolean))],
        quantity: formatDecimal(quantity),
        last: iso(Math.max(...gave.map(r => r.at))),
        slips: [...new Set(gave.map(r => r.slip.uid))],
      })
    }
  })
  return { got, slips: [...slips.values()] }
}
