import { csvRow, decimal, formatFixed, minorDigits, writtenDay, writtenInstant, writtenMonth } from '@shelve/core'
import { exported } from '../db/schema.ts'
import type { App } from '../app.ts'
import { figure, tablePaper, type Cells, type ChartOf, type Column } from '../papers/paper.ts'
import { press } from '../papers/press.ts'
import type { Caller } from '../people/rights.ts'

/** A list that can be taken out: as CSV (RFC 4180, exact figures for machines) or as a paper (as the organisation writes). */
export class Listing {
  /** `name` is the file's, without number and ending; `about` says what was asked for, in words. */
  constructor(
    readonly title: string,
    readonly name: string,
    readonly about: readonly string[],
    readonly head: readonly string[],
    readonly rows: Iterable<Cells>,
  ) {}
  /** Heads that elsewhere are money (received, used) are quantities here. */
  money = true
  /** What stands over the table on paper. */
  chart: ChartOf | undefined
  under(chart: ChartOf): this {
    this.chart = chart
    return this
  }
  inQuantities(): this {
    this.money = false
    return this
  }
  *csv(): Generator<string> {
    yield csvRow([...this.head])
    for (const r of this.rows) yield csvRow([...r])
  }
}

const MONEY = new Set([
  'value',
  'opening',
  'opening stock',
  'received',
  'made',
  'used',
  'wasted',
  'differences',
  'price differences',
  'closing',
  'straight to users',
  'debit',
  'credit',
  'balance',
])
const QUANTITIES = new Set([
  'quantity',
  'lines',
  'slips',
  'decimals',
  'change',
  'left',
  'on hand',
  'available',
  'reserved',
  'coming',
  'minimum',
  'target',
  'bring',
  'asked',
  'have',
  'other',
  'remained',
  'days',
  'unit cost',
])
const CODES = new Set(['code', 'lot', 'slip', 'number', 'account', 'codes'])

/** Draws the list as a paper. */
export async function listingPdf(app: App, l: Listing, foot: string): Promise<Uint8Array> {
  const organisation = app.organisation!
  const digits = minorDigits(organisation.currency)
  const isMoney = (head: string) => l.money && MONEY.has(head)
  const isNumber = (head: string) => MONEY.has(head) || QUANTITIES.has(head)
  const rows = [...l.rows]
  const places = l.head.map((h, i) =>
    isMoney(h) || !isNumber(h) ? 0 : Math.max(0, ...rows.map(r => String(r[i] ?? '').split('.')[1]?.length ?? 0)),
  )
  const shown = rows.map(r =>
    r.map((v, i) => {
      const text = v === null || v === undefined ? '' : String(v)
      const head = l.head[i]!
      if (isMoney(head))
        return /^-?\d+(\.\d+)?$/.test(text) ? figure(formatFixed(decimal(text), digits), organisation) : text
      if (isNumber(head)) {
        const own = text.split('.')[1]?.length ?? 0
        return (
          figure(text, organisation) +
          (places[i]! > own && text ? '\u00a0'.repeat(places[i]! - own + (own === 0 ? 1 : 0)) : '')
        )
      }
      if (/^\d{4}-\d{2}-\d{2}$/.test(text)) return writtenDay(text, organisation)
      if (/^\d{4}-\d{2}$/.test(text) && head === 'month') return writtenMonth(text)
      if (/^\d{4}-\d{2}-\d{2}T[\d:.]+Z$/.test(text)) return writtenInstant(Date.parse(text), organisation)
      return text === 'short_coming' ? 'short, on its way' : text.replaceAll('_', ' ')
    }),
  )
  const columns = l.head.map((head): Column => ({
    head,
    kind: isNumber(head) ? 'number' : CODES.has(head) ? 'mono' : 'text',
  }))
  return press(
    tablePaper({
      title: l.title,
      about: [...l.about, ...(columns.some(c => isMoney(c.head)) ? [`Values in ${organisation.currency}`] : [])],
      columns,
      rows: shown,
      foot,
      chart: l.chart,
      decimalMark: organisation.decimalMark,
    }),
  )
}

/** Writes down that a list is taken out, and gives the export's number; null where nothing can be written (the list goes out all the same). */
export function numberOfExport(app: App, caller: Caller, what: string): number | null {
  try {
    return app.db
      .insert(exported)
      .values({ at: app.now(), personId: caller.id, what: what.slice(0, 500) })
      .returning({ id: exported.id })
      .get().id
  } catch {
    return null
  }
}
/** What stands at the foot of a list's pages. */
export const footOf = (app: App, caller: Caller, number: number | null): string =>
  `${app.organisation!.name} · ${number === null ? 'exported' : `export ${number},`} ${writtenInstant(app.now(), app.organisation!)} by ${caller.name}`
