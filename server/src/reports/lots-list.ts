import type { LotRow } from '@shelve/contract'
import { formatDecimal, groupBy, lotState } from '@shelve/core'
import { iso, readCursor, writeCursor } from '../ground/index.ts'
import { about, isIn, type Scope } from '../rights/index.ts'
import type { House } from './house.ts'
import { lastUsed } from './last-used.ts'

interface Lying {
  readonly id: number
  readonly uid: string
  readonly code: string
  readonly expiry: string | null
  readonly held: 'usable' | 'held' | 'recalled'
  readonly receivedAt: number
  readonly openedAt: number | null
  readonly itemId: number
  readonly placeId: number
}

/** What is asked of all lots: words of the item or the lot, their state, in which order. */
export interface LotsAsked {
  readonly q?: string | undefined
  readonly state?: string | undefined
  readonly opened?: string | undefined
  readonly sort?: string | undefined
  readonly cursor?: string | undefined
  readonly limit?: number | undefined
}

/** Every lot of which something lies in some places, filtered and in the order that is asked, by pages. */
export function lotsList(house: House, scope: Scope, q: LotsAsked) {
  const today = house.today()
  const words = (q.q ?? '').toLowerCase().split(/\s+/).filter(Boolean)
  const items = house.stock.all()
  const rows = house.store.client
    .prepare(
      `select l.id, l.uid, l.code, l.expiry, l.held, l.received_at as receivedAt,
        l.opened_at as openedAt, l.item_id as itemId, b.place_id as placeId
      from balance b join lot l on l.id = b.lot_id where b.quantity > 0 and l.code is not null`,
    )
    .safeIntegers(false)
    .all() as Lying[]
  const lots = [...groupBy(rows, r => r.id).values()].filter(of => {
    const [l] = of as [Lying]
    if (!of.some(x => isIn(scope, x.placeId))) return false
    if (q.state && lotState(l, today) !== q.state) return false
    if (q.opened && l.openedAt === null) return false
    const text = `${items.get(l.itemId)?.words ?? ''}\n${l.code.toLowerCase()}`
    return words.every(w => text.includes(w))
  })
  const rank = (l: Lying) => items.get(l.itemId)?.rank ?? 0
  const text = (a: string, b: string) => (a < b ? -1 : a > b ? 1 : 0)
  const by: Record<string, (a: Lying, b: Lying) => number> = {
    expiry: (a, b) => text(a.expiry ?? '9999', b.expiry ?? '9999'),
    item: (a, b) => rank(a) - rank(b),
    code: (a, b) => text(a.code, b.code),
    received: (a, b) => b.receivedAt - a.receivedAt,
  }
  const first = by[q.sort ?? 'expiry'] ?? by.expiry!
  lots.sort(([a], [b]) => first(a!, b!) || by.expiry!(a!, b!) || rank(a!) - rank(b!) || a!.id - b!.id)
  const from = Math.max(0, readCursor(q.cursor, ['number'])?.[0] ?? 0)
  const limit = q.limit ?? 100
  const page = lots.slice(from, from + limit).map(of => of[0]!)
  const open = page.flatMap(l => (l.openedAt === null ? [] : [l.id]))
  const used = open.length ? lastUsed(house, open, scope) : undefined
  return about(scope, {
    rows: page.map(l => ({ ...rowOf(house, scope, l, today), lastUsed: used?.get(l.id) ?? null })),
    next: from + limit < lots.length ? writeCursor([from + limit]) : null,
    total: lots.length,
  })
}

function rowOf(house: House, scope: Scope, l: Lying, today: string): Omit<LotRow, 'lastUsed'> {
  const it = house.stock.item(l.itemId)!
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
