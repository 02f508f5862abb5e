import { asc, eq, gt } from 'drizzle-orm'
import { csvRow, dayIn, formatDecimal, journal, type JournalLine, journalName, namesApart } from '@shelve/core'
import { account } from '../accounts/index.ts'
import { item, lot } from '../catalogue/index.ts'
import { iso } from '../ground/index.ts'
import { person } from '../people/index.ts'
import { accountName } from '../places/index.ts'
import type { House } from './house.ts'
import { movement, slip } from './tables.ts'

/** So many rows are read at once: reading them holds the loop. */
const CHUNK = 250

interface Row {
  seq: number
  costSeq: number
  kind: string
  number: string
  slipKind: string
  itemCode: string
  itemName: string
  unit: string
  lot: string | null
  from: number
  to: number
  fromName: string
  toName: string
  quantity: bigint
  value: bigint
  effectiveAt: number
  bookedAt: number
  by: string
  reverses: number | null
  revalues: number | null
  fromKind: string
  toKind: string
}

/** The ledger in the order it was written, in chunks, so that a long export neither fills memory nor holds the database. */
function* rows(house: House): Generator<Row> {
  const names = new Map<number, { name: string; kind: string }>()
  const apart = namesApart<number>()
  const named = (id: number) => {
    let n = names.get(id)
    if (!n) {
      const a = house.db.select().from(account).where(eq(account.id, id)).get()!
      names.set(id, (n = { name: apart(id, pathOf(house, a)), kind: a.kind }))
    }
    return n
  }
  for (let after = 0; ;) {
    const chunk = house.db
      .select({
        seq: movement.seq,
        costSeq: movement.costSeq,
        kind: movement.kind,
        number: slip.number,
        slipKind: slip.kind,
        itemCode: item.code,
        itemName: item.name,
        unit: item.unit,
        lot: lot.code,
        from: movement.fromId,
        to: movement.toId,
        quantity: movement.quantity,
        value: movement.value,
        effectiveAt: movement.effectiveAt,
        bookedAt: movement.bookedAt,
        by: person.name,
        reverses: movement.reverses,
        revalues: movement.revalues,
      })
      .from(movement)
      .innerJoin(slip, eq(slip.id, movement.slipId))
      .innerJoin(item, eq(item.id, movement.itemId))
      .innerJoin(lot, eq(lot.id, movement.lotId))
      .innerJoin(person, eq(person.id, movement.bookedBy))
      .where(gt(movement.seq, after))
      .orderBy(asc(movement.seq))
      .limit(CHUNK)
      .all()
    if (!chunk.length) return
    for (const r of chunk) {
      const f = named(r.from)
      const t = named(r.to)
      yield { ...r, number: r.number!, fromName: f.name, toName: t.name, fromKind: f.kind, toKind: t.kind }
    }
    after = chunk.at(-1)!.seq
  }
}

/** An account by its path; differences and jobs carry their number. */
function pathOf(house: House, a: typeof account.$inferSelect): string {
  if (a.kind === 'place') return `place:${house.places.path(a.id).split(': ').map(journalName).join(':')}`
  if (a.kind === 'difference' || a.kind === 'used')
    return `${a.kind}:${journalName(accountName(house, a.id, a))} ${Math.abs(a.id)}`
  return a.kind === 'supplier' || a.kind === 'waste'
    ? `${a.kind}:${journalName(a.name)}`
    : journalName(a.kind.replace('_', ' '))
}

export function* ledgerCsv(house: House): Generator<string> {
  yield csvRow([
    'seq',
    'cost order',
    'slip',
    'kind',
    'item',
    'name',
    'lot',
    'from',
    'to',
    'quantity',
    'unit',
    'value',
    'currency',
    'happened',
    'booked',
    'by',
    'takes back',
    'revalues',
  ])
  for (const r of rows(house))
    yield csvRow([
      r.seq,
      r.costSeq,
      r.number,
      r.kind,
      r.itemCode,
      r.itemName,
      r.lot,
      r.fromName,
      r.toName,
      formatDecimal(r.quantity),
      r.unit,
      formatDecimal(r.value),
      house.organisation!.currency,
      iso(r.effectiveAt),
      iso(r.bookedAt),
      r.by,
      r.reverses,
      r.revalues,
    ])
}

export function* ledgerJsonLines(house: House): Generator<string> {
  for (const r of rows(house))
    yield `${JSON.stringify({ seq: r.seq, costSeq: r.costSeq, slip: r.number, kind: r.kind, item: r.itemCode, name: r.itemName, lot: r.lot, from: r.fromName, to: r.toName, quantity: formatDecimal(r.quantity), unit: r.unit, value: formatDecimal(r.value), currency: house.organisation!.currency, happened: iso(r.effectiveAt), booked: iso(r.bookedAt), by: r.by, takesBack: r.reverses, revalues: r.revalues })}\n`
}

export function* ledgerJournal(house: House): Generator<string> {
  const zone = house.organisation!.zone
  const inStock = (k: string) => k === 'place' || k === 'stock'
  function* lines(): Generator<JournalLine> {
    for (const r of rows(house))
      yield {
        date: dayIn(r.effectiveAt, zone),
        slip: r.number,
        kind: r.slipKind,
        item: r.itemCode,
        from: r.fromName,
        to: r.toName,
        fromStock: inStock(r.fromKind),
        toStock: inStock(r.toKind),
        quantity: r.quantity,
        value: r.value,
      }
  }
  yield `; The ledger of ${journalName(house.organisation!.name)}, quantities and values as postings of their own\n\n`
  yield* journal(lines(), house.organisation!.currency)
}
