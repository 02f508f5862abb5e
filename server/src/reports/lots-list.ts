import type { LotRow } from '@shelve/contract'
import { formatDecimal, foundBy, lotState, wordsLookedFor } from '@shelve/core'
import { chunks, eachInPieces, inOrder, iso, readCursor, writeCursor } from '../ground/index.ts'
import type { StockItem } from '../position/index.ts'
import { about, isIn, type Scope } from '../rights/index.ts'
import type { House } from './house.ts'
import { lastUsed } from './last-used.ts'

interface Lot {
  readonly id: number
  readonly uid: string
  readonly code: string
  readonly expiry: string | null
  readonly held: 'usable' | 'held' | 'recalled'
  readonly receivedAt: number
  readonly openedAt: number | null
}
/** A lot of which something lies, with the item that it is of. */
export interface LyingLot extends Lot {
  readonly it: StockItem
}

/** What is asked of all lots: words of the item or the lot, their state, in which order. */
export interface LotsAsked {
  readonly q?: string | undefined
  readonly state?: string | undefined
  readonly opened?: string | undefined
  readonly sort?: string | undefined
}
/** So many lots are read at once. */
const PIECE = 500

/** Every lot of which something lies in some places, as is asked and in the order that is asked; others are let in meanwhile. */
export async function lyingLots(house: House, scope: Scope, q: LotsAsked): Promise<LyingLot[]> {
  await house.stock.ready()
  const today = house.today()
  const words = wordsLookedFor(q.q)
  const itemOf = new Map<number, StockItem>()
  await eachInPieces(house.stock.all().values(), it => {
    for (const l of it.leaves) if (isIn(scope, l.placeId)) itemOf.set(l.lotId, it)
  })
  const lots: LyingLot[] = []
  const read = house.store.client
    .prepare(
      `select id, uid, code, expiry, held, received_at as receivedAt, opened_at as openedAt
      from lot where id in (select value from json_each(?)) and code is not null`,
    )
    .safeIntegers(false)
  await eachInPieces(chunks([...itemOf.keys()], PIECE), ids => {
    for (const l of read.all(JSON.stringify(ids)) as Lot[]) {
      const it = itemOf.get(l.id)!
      const text = `${it.words}\n${foundBy(l.code)}`
      if ((q.state && lotState(l, today) !== q.state) || (q.opened && l.openedAt === null)) continue
      if (words.every(w => text.includes(w))) lots.push({ ...l, it })
    }
  })
  const text = (a: string, b: string) => (a < b ? -1 : a > b ? 1 : 0)
  const by: Record<string, (a: LyingLot, b: LyingLot) => number> = {
    expiry: (a, b) => text(a.expiry ?? '9999', b.expiry ?? '9999'),
    item: (a, b) => a.it.rank - b.it.rank,
    code: (a, b) => text(a.code, b.code),
    received: (a, b) => b.receivedAt - a.receivedAt,
  }
  const first = by[q.sort ?? 'expiry'] ?? by.expiry!
  return inOrder(lots, (a, b) => first(a, b) || by.expiry!(a, b) || by.item!(a, b) || a.id - b.id)
}

/** A page of them. */
export function lotsPage(
  house: House,
  scope: Scope,
  lots: readonly LyingLot[],
  q: { readonly cursor?: string | undefined; readonly limit?: number | undefined },
) {
  const today = house.today()
  const from = Math.max(0, readCursor(q.cursor, ['number'])?.[0] ?? 0)
  const limit = q.limit ?? 100
  const page = lots.slice(from, from + limit)
  const open = page.flatMap(l => (l.openedAt === null ? [] : [l.id]))
  const used = open.length ? lastUsed(house, open, scope) : undefined
  return about(scope, {
    rows: page.map(l => ({ ...rowOf(house, scope, l, today), lastUsed: used?.get(l.id) ?? null })),
    next: from + limit < lots.length ? writeCursor([from + limit]) : null,
    total: lots.length,
  })
}

function rowOf(house: House, scope: Scope, l: LyingLot, today: string): Omit<LotRow, 'lastUsed'> {
  const { it } = l
  const here = it.leaves.filter(x => x.lotId === l.id && isIn(scope, x.placeId))
  const sum = (of: 'quantity' | 'value') => formatDecimal(here.reduce((s, x) => s + x[of], 0n))
  return {
    id: l.uid,
    code: l.code,
    item: { id: it.uid, code: it.code, name: it.name, unit: it.unit },
    expiry: l.expiry,
    state: lotState(l, today),
    received: iso(l.receivedAt),
    opened: l.openedAt === null ? null : iso(l.openedAt),
    quantity: sum('quantity'),
    value: sum('value'),
    places: here
      .sort((a, b) => house.places.order(a.placeId) - house.places.order(b.placeId))
      .map(x => ({
        id: house.places.row(x.placeId)!.uid,
        name: house.places.name(x.placeId),
        quantity: formatDecimal(x.quantity),
      })),
  }
}
