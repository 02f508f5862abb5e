import type { ItemStock, ShortRow, StockRow } from '@shelve/contract'
import { formatDecimal, type Position, USE_DAYS, wordsLookedFor } from '@shelve/core'
import { categoryWithin, wantItem } from '../catalogue/index.ts'
import { eachInPieces, inOrder, readCursor, writeCursor } from '../ground/index.ts'
import { costView, levelsView, type StockItem } from '../position/index.ts'
import { elsewhereOf, elsewhereView } from '../restocking/index.ts'
import { about, isIn, type Scope } from '../rights/index.ts'
import type { House } from './house.ts'

const ORDER = { out: 0, short: 1, short_coming: 2, in_range: 3, over: 4, none: 5 } as const

interface Row {
  readonly it: StockItem
  readonly here: Position
}

const compare: Record<string, (a: Row, b: Row) => number> = {
  name: (a, b) => a.it.rank - b.it.rank,
  code: (a, b) => text(a.it.code, b.it.code),
  category: (a, b) => order(a.it.category ?? '', b.it.category ?? ''),
  onHand: (a, b) => big(a.here.onHand, b.here.onHand),
  available: (a, b) => big(a.here.levels.available, b.here.levels.available),
  value: (a, b) => big(a.here.worth, b.here.worth),
  state: (a, b) => ORDER[a.here.levels.state] - ORDER[b.here.levels.state],
  firstExpiry: (a, b) => text(a.here.firstExpiry ?? '9999', b.here.firstExpiry ?? '9999'),
  days: (a, b) => (a.here.levels.days ?? 1e9) - (b.here.levels.days ?? 1e9),
}

const order = new Intl.Collator('en', { numeric: true }).compare

const text = (a: string, b: string): number => (a < b ? -1 : a > b ? 1 : 0)

const big = (a: bigint, b: bigint): number => (a < b ? -1 : a > b ? 1 : 0)

/** What is asked of a stock list. */
export interface StockAsked {
  readonly q?: string | undefined
  readonly category?: string | undefined
  readonly state?: string | undefined
  readonly sort?: string | undefined
}

/** Whether an item is on the list of a place: it lies or belongs there; of the whole, it is in use too. */
const isListed = (it: StockItem, scope: Scope): boolean =>
  (scope.within === undefined && it.active) || it.belongsIn.some(p => isIn(scope, p))

/** What lies in a place (or everywhere), filtered and sorted as asked; others are let in meanwhile. */
export async function stockFound(house: House, scope: Scope, q: StockAsked): Promise<Row[]> {
  const today = house.today()
  await house.stock.ready()
  const words = wordsLookedFor(q.q)
  const categories = q.category ? new Set(categoryWithin(house, q.category)) : undefined
  const rows: Row[] = []
  await eachInPieces(house.stock.all().values(), it => {
    if (categories && !categories.has(it.categoryId ?? -1)) return
    if (!words.every(w => it.words.includes(w))) return
    if (!isListed(it, scope)) return
    const here = house.stock.here(it, scope, today)
    const state = here.levels.state === 'short_coming' ? 'short' : here.levels.state
    if (!q.state || state === q.state) rows.push({ it, here })
  })
  const sort = q.sort ?? 'name'
  const by = compare[sort.replace('-', '')] ?? compare.name!
  const sign = sort.startsWith('-') ? -1 : 1
  // They come in the order of their names, and what is alike stays so.
  return sort === 'name' ? rows : inOrder(rows, (a, b) => sign * by(a, b))
}

/** A page of it. */
export function stockPage(
  house: House,
  scope: Scope,
  rows: readonly Row[],
  q: { readonly cursor?: string | undefined; readonly limit?: number | undefined },
) {
  const from = Math.max(0, readCursor(q.cursor, ['number'])?.[0] ?? 0)
  const limit = q.limit ?? 100
  return about(scope, {
    rows: rows.slice(from, from + limit).map(r => stockRow(house, r, scope)),
    next: from + limit < rows.length ? writeCursor([from + limit]) : null,
    total: rows.length,
    value: formatDecimal(rows.reduce((s, r) => s + r.here.worth, 0n)),
  })
}

function stockRow(house: House, { it, here }: Row, scope: Scope): StockRow {
  return {
    item: it.uid,
    code: it.code,
    name: it.name,
    category: it.category,
    unit: it.unit,
    decimals: it.decimals,
    place: scope.name,
    levels: levelsView(here),
    lots: here.lots,
    firstExpiry: here.firstExpiry,
    value: formatDecimal(here.worth),
    cost: costView(here),
  }
}

/** One item: the whole, and each area and bin where it lies or belongs. */
export function itemStock(house: House, scope: Scope, uid: string): ItemStock {
  const row = wantItem(house, uid)
  const it = house.stock.item(row.id)!
  const today = house.today()
  const places = new Set<number>(it.levels.map(l => l.placeId).filter(p => isIn(scope, p)))
  for (const l of it.leaves) if (isIn(scope, l.placeId)) places.add(house.places.area(l.placeId))
  const all = house.stock.here(it, scope, today)
  return about(scope, {
    onHand: formatDecimal(all.onHand),
    provisional: all.provisional,
    usedPerWeek: formatDecimal((all.used * 7n) / BigInt(USE_DAYS)),
    value: formatDecimal(all.worth),
    cost: costView(all),
    places: [...places]
      .sort((a, b) => house.places.order(a) - house.places.order(b))
      .map(id => {
        const here = house.stock.here(it, house.places.scope([id]), today)
        const bin = it.levels.find(l => l.placeId === id)?.binId
        return about(house.places.scope([id]), {
          place: house.places.row(id)!.uid,
          name: house.places.name(id),
          kind: house.places.row(id)!.kind,
          levels: levelsView(here),
          bin: bin ? house.places.row(bin)!.uid : null,
          value: formatDecimal(here.worth),
        })
      }),
  })
}

/** What is short or due: per item and area with a level, with what lies in surplus or at all elsewhere, as far as it is `seen`. */
export async function shortList(house: House, scope: Scope, seen: Scope): Promise<ShortRow[]> {
  const today = house.today()
  await house.stock.ready()
  const rows: (ShortRow & { rank: number })[] = []
  await eachInPieces(house.stock.all().values(), it => {
    for (const { place, here } of house.stock.levels(it, scope, today)) {
      if (!here.levels.due && !['out', 'short', 'short_coming'].includes(here.levels.state)) continue
      const elsewhere = elsewhereView(house, elsewhereOf(house, it, place, seen))
      rows.push({
        item: it.uid,
        code: it.code,
        name: it.name,
        unit: it.unit,
        place: { id: house.places.row(place)!.uid, name: house.places.name(place) },
        levels: levelsView(here),
        elsewhere,
        rank: ORDER[here.levels.state],
      })
    }
  })
  return rows
    .sort((a, b) => a.rank - b.rank || (a.levels.days ?? 1e9) - (b.levels.days ?? 1e9) || order(a.name, b.name))
    .map(({ rank: _, ...r }) => r)
}
