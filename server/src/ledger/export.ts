import { eq } from 'drizzle-orm'
import { csvRow, dayIn, formatDecimal, journal, type JournalLine, journalName, namesApart } from '@shelve/core'
import { account } from '../accounts/index.ts'
import { iso, once } from '../ground/index.ts'
import { accountName } from '../places/index.ts'
import type { House } from './house.ts'

/** So many rows are read at once: reading them holds the loop. */
const CHUNK = 250

interface Row {
  readonly seq: number
  readonly costSeq: number
  readonly kind: string
  readonly number: string
  readonly slipKind: string
  readonly itemCode: string
  readonly itemName: string
  readonly unit: string
  readonly lot: string | null
  readonly fromName: string
  readonly toName: string
  readonly quantity: bigint
  readonly value: bigint
  readonly effectiveAt: number
  readonly bookedAt: number
  readonly by: string
  readonly reverses: number | null
  readonly revalues: number | null
  readonly fromKind: string
  readonly toKind: string
}
type Read = [
  seq: number,
  costSeq: number,
  kind: string,
  number: string,
  slipKind: string,
  itemCode: string,
  itemName: string,
  unit: string,
  lot: string | null,
  from: number,
  to: number,
  quantity: string,
  value: string,
  effectiveAt: number,
  bookedAt: number,
  by: string,
  reverses: number | null,
  revalues: number | null,
]
// Hand-written: an export maps a million rows. Amounts come as text, as in `reader.ts`.
const reading = once((house: House) =>
  house.store.client
    .prepare<[number], Read>(
      `select m.seq, m.cost_seq, m.kind, s.number, s.kind, i.code, i.name, i.unit, l.code, m.from_id, m.to_id,
        cast(m.quantity as text), cast(m.value as text), m.effective_at, m.booked_at, p.name, m.reverses, m.revalues
      from movement m join slip s on s.id = m.slip_id join item i on i.id = m.item_id join lot l on l.id = m.lot_id
        join person p on p.id = m.booked_by
      where m.seq > ? order by m.seq limit ${CHUNK}`,
    )
    .safeIntegers(false)
    .raw(),
)

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
  const read = reading(house)
  for (let after = 0; ;) {
    const chunk = read.all(after)
    if (!chunk.length) return
    for (const r of chunk) {
      const f = named(r[9])
      const t = named(r[10])
      yield {
        seq: r[0],
        costSeq: r[1],
        kind: r[2],
        number: r[3],
        slipKind: r[4],
        itemCode: r[5],
        itemName: r[6],
        unit: r[7],
        lot: r[8],
        fromName: f.name,
        toName: t.name,
        quantity: BigInt(r[11]),
        value: BigInt(r[12]),
        effectiveAt: r[13],
        bookedAt: r[14],
        by: r[15],
        reverses: r[16],
        revalues: r[17],
        fromKind: f.kind,
        toKind: t.kind,
      }
    }
    after = chunk.at(-1)![0]
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
