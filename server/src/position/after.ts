import { type Booked, groupBy, isUse, type Lying, type Movement, type PoolState, USE_DAYS } from '@shelve/core'
import type { House as Books, SqlBooks } from '../ledger/index.ts'
import { type PoolRow, StockItem } from './item.ts'
import type { Sources } from './sources.ts'

type House = Books & { readonly sources: Sources }
const DAY = 86_400_000

/** What a slip does, by item: a count of a hundred lines is asked for each of its items. */
const byItem = new WeakMap<Booked, ReadonlyMap<number, readonly Movement[]>>()
function movementsOf(booked: Booked): ReadonlyMap<number, readonly Movement[]> {
  let known = byItem.get(booked)
  if (!known) byItem.set(booked, (known = groupBy(booked.movements, m => m.itemId)))
  return known
}

/**
 * An item as it will stand when a slip is booked: its facts as they are kept, with what the slip does to them. The same
 * figures are worked out of it as of any item; nothing is written.
 */
export function itemAfter(house: House, it: StockItem, booked: Booked, books: SqlBooks): StockItem {
  const movements = movementsOf(booked).get(it.id) ?? []
  if (!movements.length && !books.making.replacesPools(it.id)) return it
  const arrives = movements.some(m => m.kind === 'receipt' || m.kind === 'move')
  return it.with({
    lying: lyingAfter(house, it, movements, books),
    known: poolsAfter(it, booked, books),
    demand: movements.some(m => m.needId !== undefined || m.jobId !== undefined)
      ? (house.sources.demand([it.id], movements).get(it.id) ?? it.demand)
      : it.demand,
    owed: arrives ? (house.sources.owed([it.id], movements).get(it.id) ?? []) : it.owed,
    used: usedAfter(house, it, movements, books),
    lastPool: among => lastPool(it, movements, among),
  })
}

function lyingAfter(house: House, it: StockItem, movements: readonly Movement[], books: SqlBooks): Lying[] {
  const cells = new Map(it.leaves.map(l => [`${l.lotId}.${l.placeId}`, { ...l }]))
  const add = (lotId: number, placeId: number, quantity: bigint) => {
    if (!house.places.row(placeId)) return
    const cell = cells.get(`${lotId}.${placeId}`)
    if (cell) cell.quantity += quantity
    else {
      const { expiry, held } = books.lot(lotId)!
      cells.set(`${lotId}.${placeId}`, { lotId, placeId, quantity, expiry, held, value: 0n })
    }
  }
  for (const m of movements) {
    add(m.lotId, m.from, -m.quantity)
    add(m.lotId, m.to, m.quantity)
  }
  return [...cells.values()].filter(c => c.quantity > 0n).sort((a, b) => a.lotId - b.lotId || a.placeId - b.placeId)
}

function poolsAfter(it: StockItem, booked: Booked, books: SqlBooks): PoolRow[] {
  const kept = books.making.replacesPools(it.id) ? [] : it.known
  const made = books.making.poolsOf(it.id).map(id => {
    const { lotId, ...state } = books.making.pool(id)!
    return asRow(id, it.id, lotId, state)
  })
  return [...kept, ...made].map(p => {
    const state = booked.pools.get(p.id)
    return state ? asRow(p.id, it.id, p.lotId, state) : p
  })
}

const asRow = (id: number, itemId: number, lotId: number | null, s: PoolState): PoolRow => ({
  id,
  itemId,
  lotId,
  method: s.method,
  firstStandard: 0n,
  current: true,
  quantity: s.quantity,
  value: s.value,
  standard: s.standard,
  lastOutValue: s.lastOut?.value ?? null,
  lastOutQuantity: s.lastOut?.quantity ?? null,
  lastReceiptValue: s.lastReceipt?.value ?? null,
  lastReceiptQuantity: s.lastReceipt?.quantity ?? null,
  tainted: s.tainted,
})

function usedAfter(house: House, it: StockItem, movements: readonly Movement[], books: SqlBooks) {
  const since = house.now() - USE_DAYS * DAY
  const used = new Map(it.used)
  const add = (from: number, quantity: bigint) => {
    const place = house.places.standing(from)
    used.set(place, (used.get(place) ?? 0n) + quantity)
  }
  for (const m of movements) {
    if (m.effectiveAt < since || m.quantity === 0n) continue
    if (isUse(m.kind, books.accountKind(m.to))) add(m.from, m.quantity)
    if (isUse(m.kind, books.accountKind(m.from))) add(m.to, -m.quantity)
  }
  return used
}

/** Which of some pools comes last in the order of costing, with what the slip writes. */
function lastPool(it: StockItem, movements: readonly Movement[], among: readonly number[]) {
  let last = it.lastPool(among)
  for (const m of movements)
    if (among.includes(m.poolId) && (!last || m.costSeq >= last.costSeq)) last = { pool: m.poolId, costSeq: m.costSeq }
  return last
}
