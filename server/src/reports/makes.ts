import { groupBy, type MadeLots, type Quantity } from '@shelve/core'
import { isIn, type Scope } from '../rights/index.ts'
import type { House } from './house.ts'

/** One lot's part of a make, net of what was taken back. */
interface Side {
  readonly costSeq: number
  readonly lotId: number
  readonly kind: string
  readonly quantity: Quantity
  readonly slipId: number
  readonly placeId: number
  /** The lot that all of an item is that is kept without lots: it is named and not followed. */
  readonly plain: number
}
/**
 * Reads the makes of which some lots came, or into which they went: as they stand, and as far as they happened where the
 * caller may look. A container that was opened is made of its lot.
 */
export function makesReader(house: House, scope: Scope) {
  const { made } = house.accounts
  const seqs = house.store.client
    .prepare(
      `select distinct cost_seq from movement
       where lot_id in (select value from json_each(?)) and kind in ('event_out', 'event_in') and kind = ?`,
    )
    .pluck()
    .safeIntegers(false)
  const sides = house.store.client
    .prepare(
      `select cost_seq as costSeq, lot_id as lotId, kind,
         sum(case when reverses is null then quantity else -quantity end) as quantity,
         max(case when reverses is null then slip_id end) as slipId,
         max(case when reverses is null then case kind when 'event_out' then from_id else to_id end end) as placeId,
         (select code is null from lot where lot.id = lot_id) as plain
       from movement
       where cost_seq in (select value from json_each(?)) and kind in ('event_out', 'event_in') and quantity > 0
         and (from_id = ? or to_id = ?)
       group by cost_seq, lot_id, kind having sum(case when reverses is null then quantity else -quantity end) > 0
       order by cost_seq, max(part)`,
    )
    .safeIntegers(false)
  const opened = openingsReader(house)
  /** By what slip each make was booked. */
  const slips = new Map<number, number>()
  const plain = new Set<number>()
  const makesOf = (lots: readonly number[], way: 'up' | 'down'): MadeLots[] => {
    const asked = new Set(lots)
    const found = seqs.all(JSON.stringify(lots), way === 'up' ? 'event_in' : 'event_out') as number[]
    const rows = sides.all(JSON.stringify(found), made, made) as (Omit<Side, 'quantity'> & { quantity: number })[]
    const openings = opened(lots, way).flatMap(o => {
      if (!isIn(scope, o.placeId)) return []
      slips.set(o.costSeq, o.slipId)
      const quantity = BigInt(o.quantity)
      return [{ id: o.costSeq, inputs: [{ lot: o.parent, quantity }], outputs: [{ lot: o.child, quantity }] }]
    })
    const makes = [...groupBy(rows, r => r.costSeq)].flatMap(([id, of]) => {
      if (!of.every(s => isIn(scope, s.placeId))) return []
      slips.set(id, Math.max(...of.map(s => s.slipId)))
      const parts = (kind: string) =>
        of.flatMap(s => (s.kind === kind ? [{ lot: s.lotId, quantity: BigInt(s.quantity) }] : []))
      for (const s of of) if (s.plain) plain.add(s.lotId)
      const make = { id, inputs: parts('event_out'), outputs: parts('event_in') }
      // Where one make stands in the place of another, what only that other one was about is no part of it.
      return (way === 'up' ? make.outputs : make.inputs).some(p => asked.has(p.lot)) ? [make] : []
    })
    return [...makes, ...openings]
  }
  return { makesOf, slips, goesOn: (lot: number): boolean => !plain.has(lot) }
}

/** A container that was opened of a lot: how much was in it, less what was taken back of that. */
interface Opening {
  readonly costSeq: number
  readonly parent: number
  readonly child: number
  readonly quantity: number
  readonly slipId: number
  readonly placeId: number
}
function openingsReader(house: House) {
  const read = (which: string) =>
    house.store.client
      .prepare(
        `select m.cost_seq as costSeq, c.parent_id as parent, c.id as child, m.slip_id as slipId, m.to_id as placeId,
           m.quantity - (select coalesce(sum(x.quantity), 0) from movement x where x.reverses = m.seq) as quantity
         from lot c join movement m on m.from_id = ? and m.item_id = c.item_id and m.lot_id = c.id and m.reverses is null
           join slip s on s.id = m.slip_id and s.kind <> 'method_change'
         where ${which} in (select value from json_each(?)) and c.parent_id is not null
         order by m.cost_seq`,
      )
      .safeIntegers(false)
  const ways = { up: read('c.id'), down: read('c.parent_id') }
  return (lots: readonly number[], way: 'up' | 'down'): Opening[] =>
    (ways[way].all(house.accounts.relabel, JSON.stringify(lots)) as Opening[]).filter(o => o.quantity > 0)
}
