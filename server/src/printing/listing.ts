import type { Request, Response } from 'express'
import { csvRow, decimal, formatFixed, minorDigits, writtenDay, writtenInstant, writtenMonth } from '@shelve/core'
import { eachInPieces, inPieces, Refused, sendText } from '../ground/index.ts'
import { type Caller, type Scope, Sent } from '../rights/index.ts'
import type { House } from './house.ts'
import { type Cells, type ChartOf, type Column, figure, tablePaper } from './paper.ts'
import { press } from './press.ts'
import { exported } from './tables.ts'

/** A list that can be taken out: as CSV (RFC 4180, exact figures for machines) or as a paper (as the organisation writes). */
export class Listing extends Sent {
  /** `name` is the file's, without number and ending; `about` says what was asked for, in words. */
  constructor(
    readonly house: House,
    readonly title: string,
    readonly name: string,
    readonly about: readonly string[],
    readonly head: readonly string[],
    readonly rows: Iterable<Cells> | AsyncIterable<Cells>,
  ) {
    super()
  }
  send(to: { readonly request: Request; readonly response: Response; readonly caller: Caller }): Promise<void> {
    return sendListing(this.house, to.request, to.response, to.caller, this)
  }
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
  /** So many of its columns stand on paper; the others are for a spreadsheet. */
  onPaper = Infinity
  withOnPaper(columns: number): this {
    this.onPaper = columns
    return this
  }
  async *csv(): AsyncGenerator<string> {
    yield csvRow([...this.head])
    for await (const r of this.rows) yield csvRow([...r])
  }
  /** The whole as one text: where it goes out with a letter. */
  async text(): Promise<string> {
    let text = ''
    for await (const line of this.csv()) text += line
    return text
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
  'items',
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
  'expected',
  'counted',
  'difference',
  'open',
])

const CODES = new Set(['code', 'lot', 'slip', 'number', 'account', 'codes'])

/** So many lines a list on paper has at most: a hundred pages and more are for a spreadsheet. */
const MOST_ON_PAPER = 5_000

/** Draws the list as a paper. */
export async function listingPdf(house: House, l: Listing, foot: string): Promise<Uint8Array> {
  const organisation = house.organisation!
  const digits = minorDigits(organisation.currency)
  const isMoney = (head: string) => l.money && MONEY.has(head)
  const isNumber = (head: string) => MONEY.has(head) || QUANTITIES.has(head)
  const rows: Cells[] = []
  for await (const r of inPieces(l.rows)) {
    rows.push(r.slice(0, l.onPaper))
    if (rows.length > MOST_ON_PAPER)
      throw new Refused(
        422,
        'too_long_for_paper',
        `That is more than ${MOST_ON_PAPER} lines, too long for paper. Narrow it down, or take it as CSV.`,
      )
  }
  const heads = l.head.slice(0, l.onPaper)
  const places = heads.map((h, i) =>
    isMoney(h) || !isNumber(h) ? 0 : Math.max(0, ...rows.map(r => String(r[i] ?? '').split('.')[1]?.length ?? 0)),
  )
  const written = (v: Cells[number], i: number): string => {
    const text = v === null || v === undefined ? '' : String(v)
    const head = heads[i]!
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
  }
  const shown: string[][] = []
  await eachInPieces(rows, r => shown.push(r.map(written)))
  const columns = heads.map((head): Column => ({
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

/** What is written beside what somebody asked for: that a list is taken out. Gives the export's number. */
export const errands = (house: House) => ({
  exported: (personId: number, what: string): number =>
    house.db
      .insert(exported)
      .values({ at: house.now(), personId, what: what.slice(0, 500) })
      .returning({ id: exported.id })
      .get().id,
})
/**
 * Writes down that a list is taken out, and gives the export's number; null where nothing can be written (the list
 * goes out all the same).
 */
const numberOfExport = (house: House, caller: Caller, what: string): Promise<number | null> =>
  house.errand('exported', caller.id, what).then(
    n => n as number,
    () => null,
  )

/** What stands at the foot of a list's pages. */
export const footOf = (house: House, caller: Caller, number: number | null): string =>
  `${house.organisation!.name} · ${number === null ? 'exported' : `copy ${number},`} ${writtenInstant(house.now(), house.organisation!)} by ${caller.name}`

/** A list as a file or a paper; its number and day stand in the name, and on the paper at the foot of each page. */
export async function sendListing(
  house: House,
  request: Request,
  response: Response,
  caller: Caller,
  listing: Listing,
): Promise<void> {
  const pdf = request.accepts(['csv', 'pdf']) === 'pdf'
  const number = await numberOfExport(house, caller, `${pdf ? 'PDF' : 'CSV'} of ${request.originalUrl}`)
  const drawn = pdf ? await listingPdf(house, listing, footOf(house, caller, number)) : undefined
  const name = `${listing.name}-${house.today()}${number === null ? '' : `-copy-${number}`}`.replace(/[^\w.-]+/g, '-')
  response.setHeader('content-disposition', `attachment; filename="${name}.${pdf ? 'pdf' : 'csv'}"`)
  if (drawn) {
    response.status(200).type('application/pdf').end(drawn)
    return
  }
  response.status(200).type('text/csv; charset=utf-8')
  await sendText(response, listing.csv())
}

/** A list of rows as it is taken out: `scope` and `about` say in words what was asked for. */
export const listed = <T>(
  house: House,
  title: string,
  row: (r: T) => Cells,
  head: string[],
  rows: Iterable<T> | AsyncIterable<T>,
  name: string,
  scope?: Scope,
  ...about: string[]
): Listing =>
  new Listing(
    house,
    title,
    name,
    [...(scope ? [scope.within ? scope.name : 'All places'] : []), ...about.filter(Boolean)],
    head,
    mapped(rows, row),
  )

/** Rows as cells; gone through anew each time, where the rows can be. */
function mapped<T>(rows: Iterable<T> | AsyncIterable<T>, row: (r: T) => Cells): AsyncIterable<Cells> {
  return {
    async *[Symbol.asyncIterator]() {
      for await (const r of rows) yield row(r)
    },
  }
}
