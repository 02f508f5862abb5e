import {
  type Cells,
  deltaIn,
  type Fault,
  foldFacts,
  formatDecimal,
  type Movement,
  ONE,
  sinceCounted,
  standsAt,
} from '@shelve/core'
import type { House } from './house.ts'

interface TallyRow {
  readonly id: bigint
  readonly placeId: bigint
  readonly counted: bigint
  readonly expected: bigint
  readonly confirmed: bigint
  readonly said: string | null
  /** How many lines of its slip are about the same item in the same place. */
  readonly alike: bigint | null
}

/**
 * What is kept with a tally: what was expected (counted less what it found), and whether it was confirmed and not counted.
 */
export function checkDifferences(house: House, movements: readonly Movement[], faults: Fault[]): void {
  const byTally = new Map<number, Movement[]>()
  for (const m of movements)
    if (m.tallyId !== null) {
      const list = byTally.get(m.tallyId)
      if (list) list.push(m)
      else byTally.set(m.tallyId, [m])
    }
  const rows = house.store.client
    .prepare(
      `with said as (
        select l.id, json_extract(l.content, '$.counted') as said,
          count(*) over (
            partition by l.slip_id, json_extract(l.content, '$.item'), json_extract(l.content, '$.from')
          ) as alike
        from slip_line l
        where l.slip_id in (select slip_id from tally) and json_extract(l.content, '$.counted') in ('counted', 'confirmed')
      )
      select t.id, t.place_id as placeId, t.counted, t.expected, t.confirmed, s.said, s.alike
      from tally t left join said s on s.id = t.line_id`,
    )
    .all() as TallyRow[]
  for (const t of rows) {
    const where = `tally ${t.id}`
    const own = byTally.get(Number(t.id)) ?? []
    const found = own.find(m => m.kind === 'difference' && m.ord === 0 && m.revalues === null)
    const expected = t.counted - (found ? deltaIn(found, Number(t.placeId)) : 0n)
    if (expected !== t.expected)
      faults.push({ check: 'expected', where, kept: formatDecimal(t.expected), right: formatDecimal(expected) })
    const confirmed = t.said === 'confirmed'
    if (t.alike === 1n && confirmed !== (t.confirmed === 1n))
      faults.push({
        check: 'confirmed',
        where,
        kept: t.confirmed ? 'confirmed' : 'counted',
        right: confirmed ? 'confirmed' : 'counted',
      })
  }
}

/**
 * A tally is taken back exactly where a booked correction of its slip says so of its line: by what was typed there, which
 * is sealed with the slip.
 */
export function checkReversals(house: House, faults: Fault[]): void {
  const rows = house.store.client
    .prepare(
      `with said as (
        select t.id as tally, c.id as slip
        from slip c
        join slip_line l on l.slip_id = c.id and json_extract(l.content, '$.act') in ('take_back', 'replace')
        join slip_line o on o.uid = json_extract(l.content, '$.ref') and o.slip_id = c.corrects_id
        join tally t on t.line_id = o.id
        where c.kind = 'correction' and c.state = 'booked'
      )
      select coalesce(r.tally_id, s.tally) as tally, r.slip_id as kept, s.slip as right
      from tally_reversal r full join said s on s.tally = r.tally_id and s.slip = r.slip_id
      where r.tally_id is null or s.tally is null`,
    )
    .safeIntegers(false)
    .all() as { tally: number; kept: number | null; right: number | null }[]
  for (const r of rows)
    faults.push({
      check: 'taken back',
      where: `tally ${r.tally}`,
      kept: r.kept === null ? 'stands' : `taken back by slip ${r.kept}`,
      right: r.right === null ? 'stands' : `taken back by slip ${r.right}`,
    })
}

/** A serial number is 0 or 1 over all places, at every minute, whatever moved it. */
export function checkSerials(
  house: House,
  movements: readonly Movement[],
  isPlace: (account: number) => boolean,
  faults: Fault[],
): void {
  const serials = new Set(
    house.store.client.prepare(`select id from item where identified_by = 'serial'`).pluck().all().map(Number),
  )
  if (!serials.size) return
  const byLot = new Map<number, Map<number, bigint>>()
  for (const m of movements) {
    if (!serials.has(m.itemId) || m.quantity === 0n) continue
    const delta = (isPlace(m.to) ? m.quantity : 0n) - (isPlace(m.from) ? m.quantity : 0n)
    if (delta === 0n) continue
    const minutes = byLot.get(m.lotId) ?? new Map<number, bigint>()
    const minute = Math.floor(m.effectiveAt / 60_000)
    byLot.set(m.lotId, minutes.set(minute, (minutes.get(minute) ?? 0n) + delta))
  }
  for (const [lot, minutes] of byLot) {
    let there = 0n
    for (const minute of [...minutes.keys()].sort((a, b) => a - b)) {
      there += minutes.get(minute)!
      if (there === 0n || there === ONE) continue
      faults.push({
        check: 'serials',
        where: `lot ${lot}, ${new Date(minute * 60_000).toISOString()}`,
        kept: formatDecimal(there),
        right: '0 or 1',
      })
      break
    }
  }
}

interface Counted {
  readonly id: number
  readonly itemId: number
  readonly lotId: number
  readonly placeId: number
  readonly countedAt: number
  readonly counted: string
}
/** What lies where something was counted is what was counted there last, and what came after it, also where its month is closed. */
export function checkSinceCounted(house: House, movements: readonly Movement[], lies: Cells, faults: Fault[]): void {
  const last = new Map(
    (
      house.store.client
        .prepare(
          `select id, item_id as itemId, lot_id as lotId, place_id as placeId, counted_at as countedAt,
            cast(counted as text) as counted
          from tally where id not in (select tally_id from tally_reversal) order by counted_at, cost_seq`,
        )
        .safeIntegers(false)
        .all() as Counted[]
    ).map(t => [`${t.itemId}.${t.lotId}.${t.placeId}`, t]),
  )
  const items = new Set([...last.values()].map(t => t.itemId))
  const cells = new Map<string, Movement[]>()
  const replaced = new Map<number, Movement[]>()
  for (const m of movements) {
    if (m.revalues !== null) continue
    if (m.kind !== 'difference' && m.reverses !== null) replaced.set(m.costSeq, [])
    if (!items.has(m.itemId)) continue
    for (const cell of [`${m.itemId}.${m.lotId}.${m.from}`, `${m.itemId}.${m.lotId}.${m.to}`]) {
      if (!last.has(cell)) continue
      const list = cells.get(cell)
      if (list) list.push(m)
      else cells.set(cell, [m])
    }
  }
  for (const m of movements) if (m.revalues === null && m.kind !== 'difference') replaced.get(m.costSeq)?.push(m)
  for (const [cell, t] of last) {
    const facts = foldFacts(cells.get(cell) ?? [], () => false)
    const right = sinceCounted({ ...t, counted: BigInt(t.counted) }, facts, t.placeId, f => {
      const there = f.head === f.costSeq ? undefined : replaced.get(f.costSeq)
      return there ? standsAt(there, f.head) : f.effectiveAt
    })
    const kept = lies.get(t.itemId, t.lotId, t.placeId)
    if (kept !== right)
      faults.push({
        check: 'since it was counted',
        where: `tally ${t.id}`,
        kept: formatDecimal(kept),
        right: formatDecimal(right),
      })
  }
}
