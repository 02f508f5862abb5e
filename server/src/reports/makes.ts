import type { LotPart, MadeLots, Quantity } from '@shelve/core'
import { chunks, FIRST_PIECE, nextPiece } from '../ground/index.ts'
import { exactly } from '../ledger/index.ts'
import { isIn, type Scope } from '../rights/index.ts'
import type { House } from './house.ts'

/** One lot's part of a make, net of what was taken back. */
interface Side {
  readonly lotId: number
  readonly goesIn: boolean
  quantity: Quantity
  slipId: number
  placeId: number
}
/**
 * A movement of a make, in numbers alone (whether it went in, takes one back, is of the lot that all of an item is that is
 * kept without lots; that one is named and not followed): thousands of texts would all be the same two.
 */
type SideRow = [
  costSeq: number,
  lotId: number,
  goesIn: number,
  quantity: number | string,
  undoes: number,
  slipId: number,
  placeId: number,
  plain: number,
]
/** What went into each make and came out of it, by its place in the order of costing; added up here, since there may be thousands. */
function sidesByMake(rows: readonly SideRow[]): Map<number, Side[]> {
  const makes = new Map<number, Map<number, Side>>()
  for (const [costSeq, lotId, goesIn, moved, undoes, slipId, placeId] of rows) {
    let make = makes.get(costSeq)
    if (!make) makes.set(costSeq, (make = new Map()))
    const key = 2 * lotId + goesIn
    const there = make.get(key)
    const side = there ?? { lotId, goesIn: goesIn === 1, quantity: 0n, slipId, placeId }
    // In the order in which they were written last: what stands in the place of another comes after what that one left.
    if (there) make.delete(key)
    make.set(key, side)
    const quantity = BigInt(moved)
    side.quantity += undoes ? -quantity : quantity
    if (undoes) continue
    side.slipId = Math.max(side.slipId, slipId)
    side.placeId = Math.max(side.placeId, placeId)
  }
  return new Map([...makes].map(([id, sides]) => [id, [...sides.values()].filter(s => s.quantity > 0n)]))
}
/** So many lots, or makes, are looked through at once. */
const PIECE = 500
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
  // All of them as one text, which crosses from the database in half the time of its values.
  const sides = house.store.client
    .prepare(
      `select json_group_array(
         json_array(m.cost_seq, m.lot_id, m.kind = 'event_out', ${exactly('m.quantity')}, m.reverses is not null, m.slip_id,
           case m.kind when 'event_out' then m.from_id else m.to_id end, l.code is null)
         order by m.cost_seq, m.part, m.seq)
       from movement m join lot l on l.id = m.lot_id
       where m.cost_seq in (select value from json_each(?)) and m.kind in ('event_out', 'event_in') and m.quantity > 0
         and (m.from_id = ? or m.to_id = ?)`,
    )
    .pluck()
  const opened = openingsReader(house)
  /** By what slip each make was booked. */
  const slips = new Map<number, number>()
  const plain = new Set<number>()
  function* makesOf(lots: readonly number[], way: 'up' | 'down'): Generator<MadeLots | undefined> {
    const asked = new Set(lots)
    const found = new Set<number>()
    const openings: Opening[] = []
    for (const some of chunks(lots, PIECE)) {
      for (const seq of seqs.all(JSON.stringify(some), way === 'up' ? 'event_in' : 'event_out') as number[])
        found.add(seq)
      openings.push(...opened(some, way))
      yield
    }
    const inOrder = [...found].sort((a, b) => a - b)
    // A make may have one lot or thousands.
    for (let [from, piece] = [0, FIRST_PIECE]; from < inOrder.length;) {
      const began = performance.now()
      const makes = makesAt(inOrder.slice(from, from + piece), asked, way)
      from += piece
      piece = nextPiece(piece, performance.now() - began, PIECE)
      yield* makes
    }
    for (const o of openings.sort((a, b) => a.costSeq - b.costSeq)) {
      if (!isIn(scope, o.placeId)) continue
      slips.set(o.costSeq, o.slipId)
      const quantity = BigInt(o.quantity)
      yield { id: o.costSeq, inputs: [{ lot: o.parent, quantity }], outputs: [{ lot: o.child, quantity }] }
    }
  }
  function makesAt(seqs: readonly number[], asked: ReadonlySet<number>, way: 'up' | 'down'): MadeLots[] {
    const rows = JSON.parse(sides.get(JSON.stringify(seqs), made, made) as string) as SideRow[]
    for (const [, lotId, , , , , , isPlain] of rows) if (isPlain) plain.add(lotId)
    return [...sidesByMake(rows)].flatMap(([id, of]) => {
      if (!of.length || !of.every(s => isIn(scope, s.placeId))) return []
      slips.set(id, Math.max(...of.map(s => s.slipId)))
      const make = { id, inputs: [] as LotPart[], outputs: [] as LotPart[] }
      for (const { lotId: lot, goesIn, quantity } of of) make[goesIn ? 'inputs' : 'outputs'].push({ lot, quantity })
      // Where one make stands in the place of another, what only that other one was about is no part of it.
      return (way === 'up' ? make.outputs : make.inputs).some(p => asked.has(p.lot)) ? [make] : []
    })
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
