import { formatDecimal, atCost, ONE } from '@shelve/core'
import type { ItemStock, ShortRow, StockRow } from '@shelve/contract'
import type { App } from '../app.ts'
import { categoryWithin, readCursor, writeCursor } from '../catalogue/queries.ts'
import { wantItem } from '../catalogue/service.ts'
import { levelsView } from '../ledger/effect.ts'
import { USE_DAYS, type Here, type StockItem } from './stock.ts'

const ORDER = { out: 0, short: 1, short_coming: 2, in_range: 3, over: 4, none: 5 } as const
interface Row { readonly it: StockItem; readonly here: Here }

function view(app: App, it: StockItem, here: Here, placeId: number | undefined) {
  const sum = (kind: 'minimum' | 'target') => it.levels.filter(l => placeId === undefined || app.places.within(placeId).has(l.placeId)).reduce<bigint | null>((s, l) => (l[kind] === null ? s : (s ?? 0n) + l[kind]), null)
  return levelsView(here.levels, here.onHand, here.onHand - here.levels.available.figure, sum('minimum'), sum('target'))
}

const compare: Record<string, (a: Row, b: Row) => number> = {
  name: (a, b) => a.it.rank - b.it.rank, code: (a, b) => (a.it.code < b.it.code ? -1 : a.it.code > b.it.code ? 1 : 0), category: (a, b) => order(a.it.category ?? '', b.it.category ?? ''),
  onHand: (a, b) => big(a.here.onHand, b.here.onHand), available: (a, b) => big(a.here.levels.available.figure, b.here.levels.available.figure), value: (a, b) => big(a.here.value, b.here.value),
  state: (a, b) => ORDER[a.here.levels.state] - ORDER[b.here.levels.state], firstExpiry: (a, b) => ((a.here.firstExpiry ?? '9999') < (b.here.firstExpiry ?? '9999') ? -1 : 1), days: (a, b) => (a.here.levels.days ?? 1e9) - (b.here.levels.days ?? 1e9),
}
const order = new Intl.Collator('en', { numeric: true }).compare
const big = (a: bigint, b: bigint): number => (a < b ? -1 : a > b ? 1 : 0)

/** What lies in a place (or everywhere), filtered and sorted as asked, by pages. Only items that lie or belong there are shown. */
export function stockList(app: App, seeValue: boolean, q: { place?: string; q?: string; category?: string; state?: string; sort?: string; cursor?: string; limit?: number }) {
  const placeId = q.place === undefined ? undefined : app.places.id(q.place) ?? -1
  const today = app.today()
  const words = (q.q ?? '').toLowerCase().split(/\s+/).filter(Boolean)
  const categories = q.category ? new Set(categoryWithin(app, q.category)) : undefined
  const rows: Row[] = []
  for (const it of app.stock.all().values()) {
    if (categories && !categories.has(it.categoryId ?? -1)) continue
    if (words.some(w => !it.name.toLowerCase().includes(w) && !it.code.toLowerCase().includes(w))) continue
    const here = app.stock.here(it, placeId, today)
    if (!here.belongs && (placeId !== undefined || !it.active)) continue
    const state = here.levels.state === 'short_coming' ? 'short' : here.levels.state
    if (q.state && state !== q.state) continue
    rows.push({ it, here })
  }
  const sort = q.sort ?? 'name'
  const by = compare[sort.replace('-', '')] ?? compare.name!
  const sign = sort.startsWith('-') ? -1 : 1
  rows.sort((a, b) => sign * by(a, b) || a.it.rank - b.it.rank)
  const from = Math.max(0, Number(readCursor(q.cursor)?.[0] ?? 0) || 0)
  const limit = q.limit ?? 100
  const shown = rows.slice(from, from + limit)
  return {
    rows: shown.map(r => stockRow(app, r, placeId, seeValue)), next: from + limit < rows.length ? writeCursor([from + limit]) : null, total: rows.length,
    ...(seeValue ? { value: formatDecimal(rows.reduce((s, r) => s + r.here.value, 0n)) } : {}),
  }
}

function stockRow(app: App, { it, here }: Row, placeId: number | undefined, seeValue: boolean): StockRow {
  return {
    item: it.uid, code: it.code, name: it.name, category: it.category, unit: it.unit, decimals: it.decimals, place: placeId === undefined ? 'everywhere' : app.places.name(placeId), levels: view(app, it, here, placeId), lots: here.lots, firstExpiry: here.firstExpiry,
    ...(seeValue ? { value: formatDecimal(here.value), cost: it.quantity > 0n ? formatDecimal(atCost(ONE, { value: it.value, quantity: it.quantity })) : null } : {}),
  }
}

/** One item: the whole, and each area and bin where it lies or belongs. */
export function itemStock(app: App, seeValue: boolean, uid: string): ItemStock {
  const row = wantItem(app, uid)
  const it = app.stock.item(row.id)!
  const today = app.today()
  const places = new Set<number>(it.levels.map(l => l.placeId))
  for (const l of it.leaves) places.add(app.places.area(l.placeId))
  const used = [...it.used.values()].reduce((s, q) => s + q, 0n)
  return {
    onHand: formatDecimal(it.quantity), provisional: false, usedPerWeek: formatDecimal((used * 7n) / BigInt(USE_DAYS)),
    ...(seeValue ? { value: formatDecimal(it.value), cost: it.quantity > 0n ? formatDecimal(atCost(ONE, { value: it.value, quantity: it.quantity })) : null } : {}),
    places: [...places].sort((a, b) => app.places.order(a) - app.places.order(b)).map(id => {
      const here = app.stock.here(it, id, today)
      const bin = it.levels.find(l => l.placeId === id)?.binId
      return { place: app.places.row(id)!.uid, name: app.places.name(id), kind: app.places.row(id)!.kind, levels: view(app, it, here, id), bin: bin ? app.places.row(bin)!.uid : null, ...(seeValue ? { value: formatDecimal(here.value) } : {}) }
    }),
  }
}

/** What is short or due: per item and area with a level, with what lies in surplus or at all elsewhere. */
export function shortList(app: App, placeUid: string | undefined): ShortRow[] {
  const today = app.today()
  const scope = placeUid === undefined ? undefined : app.places.within(app.places.id(placeUid) ?? -1)
  const rows: (ShortRow & { rank: number })[] = []
  for (const it of app.stock.all().values()) {
    for (const l of it.levels) {
      if (scope && !scope.has(l.placeId)) continue
      const here = app.stock.here(it, l.placeId, today)
      if (!here.levels.due && !['out', 'short', 'short_coming'].includes(here.levels.state)) continue
      const elsewhere = app.places.areas().filter(a => a.id !== l.placeId && !app.places.within(l.placeId).has(a.id) && !app.places.within(a.id).has(l.placeId)).flatMap(a => {
        const there = app.stock.here(it, a.id, today)
        if (there.levels.available.figure <= 0n) return []
        const target = it.levels.find(x => x.placeId === a.id)?.target ?? 0n
        const spare = there.levels.available.figure - target
        return [{ place: app.places.name(a.id), available: formatDecimal(there.levels.available.figure), spare: formatDecimal(spare > 0n ? spare : 0n) }]
      })
      rows.push({ item: it.uid, code: it.code, name: it.name, unit: it.unit, place: { id: app.places.row(l.placeId)!.uid, name: app.places.name(l.placeId) }, levels: view(app, it, here, l.placeId), elsewhere, rank: ORDER[here.levels.state] })
    }
  }
  return rows.sort((a, b) => a.rank - b.rank || (a.levels.days ?? 1e9) - (b.levels.days ?? 1e9) || order(a.name, b.name)).map(({ rank: _, ...r }) => r)
}
