import { and, eq } from 'drizzle-orm'
import type { Refilled } from '@shelve/contract'
import { decimal, max, min, plainly, type Quantity } from '@shelve/core'
import { notFound, Refused } from '../ground/index.ts'
import { slip } from '../ledger/index.ts'
import { beginDraft, contentOf, isPick, linesToPick, slipOf, whatFits } from '../papers/index.ts'
import { byName, levelledIn, type StockItem } from '../position/index.ts'
import { type Caller, demandAt, mayAt, reach } from '../rights/index.ts'
import type { House } from './house.ts'
import { elsewhereOf, lastShelf } from './proposal.ts'

/**
 * Fills a place up to its targets from our own shelves (a satellite: a trolley, a launch, a hide): a list to be picked for
 * each area that it is filled from. What is on another list for it already is not asked for twice; what no shelf has
 * waits, and stays due there.
 */
export function refill(house: House, caller: Caller, uid: string): Refilled {
  const placeId = house.places.id(uid)
  if (placeId === undefined) throw notFound('place')
  demandAt(house, caller, 'book', placeId)
  const wanted = new Map<number, object[]>()
  let lacking = 0
  const picked = beingPicked(house, placeId)
  const ids = levelledIn(house, house.places.within(placeId))
  house.stock.want(ids)
  const belong = ids.map(id => house.stock.item(id)!)
  for (const it of belong.sort(byName)) {
    let left = lackOf(house, it, placeId) - (picked.into.get(it.id) ?? 0n)
    if (!it.active || left <= 0n) continue
    for (const { areaId, quantity } of shelvesFor(house, caller, it, placeId)) {
      const x = min(left, quantity - (picked.from.get(`${it.id}.${areaId}`) ?? 0n))
      if (x <= 0n) continue
      left -= x
      const line = { id: house.uid(), item: it.uid, typed: plainly(x), to: uid }
      wanted.set(areaId, [...(wanted.get(areaId) ?? []), line])
    }
    if (left > 0n) lacking++
  }
  const lists = [...wanted].flatMap(([areaId, lines]) => {
    const id = house.uid()
    const place = house.places.row(areaId)!.uid
    const head = { pick: `Fill ${house.places.name(placeId)}` }
    // What does not fit is still lacking once this list is put down.
    const asked = whatFits(linesToPick(house, caller, place, lines))
    if (!asked.length) return []
    beginDraft(house, caller, id, slipOf({ kind: 'move', place, head, lines: asked }, ''))
    house.events.add('draft', { slip: id, places: [place] })
    return [{ id, from: house.places.name(areaId), lines: asked.length }]
  })
  if (!lists.length)
    throw new Refused(
      409,
      lacking ? 'nothing_to_fill_from' : 'filled',
      lacking
        ? `${house.places.name(placeId)} lacks ${lacking} item${lacking === 1 ? '' : 's'}, and no shelf of yours has any to give: ask for them.`
        : `${house.places.name(placeId)} has all that belongs there, or it is being picked already.`,
    )
  return { lists, lacking }
}

/** What an item lacks of its target in a place, with what is coming there. */
function lackOf(house: House, it: StockItem, placeId: number): Quantity {
  const { target, coming, levels } = house.stock.here(it, house.places.scope([placeId]), house.today())
  return target === null ? 0n : target - levels.available - coming
}

/** From where a place may be filled with an item: the shelf that fills it, with all it has, then those that have it to spare. */
function shelvesFor(house: House, caller: Caller, it: StockItem, placeId: number) {
  const last = lastShelf(house, it, placeId)
  const whole = (q: Quantity) => (it.decimals === 0 ? q - (q % 1_000_000n) : q)
  return elsewhereOf(house, it, placeId, reach(house, caller))
    .filter(e => mayAt(house, caller, 'book', e.area))
    .map(e => ({ areaId: e.area, quantity: whole(e.area === last ? e.available : e.spare) }))
    .sort((a, b) => Number(b.areaId === last) - Number(a.areaId === last) || (a.quantity > b.quantity ? -1 : 1))
}

/** What lists that are being picked bring into a place, by item; and what they take from each area, by item and area. */
function beingPicked(house: House, placeId: number) {
  const within = house.places.within(placeId)
  const into = new Map<number, Quantity>()
  const from = new Map<string, Quantity>()
  const add = <K>(to: Map<K, Quantity>, key: K, quantity: Quantity) => to.set(key, (to.get(key) ?? 0n) + quantity)
  const drafts = house.db
    .select()
    .from(slip)
    .where(and(eq(slip.state, 'draft'), eq(slip.kind, 'move'), isPick))
    .all()
  for (const d of drafts)
    for (const l of contentOf(house, d).lines) {
      const item = l.item === null ? undefined : house.known.item(l.item)
      if (!item || !l.asked) continue
      const asked = max(decimal(l.asked), 0n)
      const taken = l.from === null ? d.placeId : (house.places.id(l.from) ?? null)
      if (taken !== null) add(from, `${item.id}.${house.places.area(taken)}`, asked)
      if (l.to !== null && within.has(house.places.id(l.to) ?? -1)) add(into, item.id, asked)
    }
  return { into, from }
}
