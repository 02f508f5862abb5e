import { ITEM_COLUMNS, type Tolerance } from '@shelve/contract'
import { formatDecimal, readDay, readMoney } from '@shelve/core'
import { type DecimalMark, type FileRow, notTaken, readTable, type Refused, type Wrong } from '../ground/index.ts'
import type { House } from './house.ts'

export type Column = (typeof ITEM_COLUMNS)[number]
export type Row = FileRow<Column>
/** How far off a count may be, each limit in a column of its own. */
export const LIMITS = {
  quantity: 'count off by',
  percent: 'count off by %',
  value: 'count off by worth',
} as const satisfies Record<keyof Tolerance, Column>
const ITEMS = {
  columns: ITEM_COLUMNS,
  key: 'code',
  numbers: ['standard cost', 'weight', 'density', 'minimum', 'target', 'one cost', ...Object.values(LIMITS)],
  sizes: ['packs'],
  quantities: ['there now'],
  code: 'items_not_read',
} as const
export const readItems = (text: string, mark: DecimalMark | null): Row[] => readTable(text, ITEMS, mark)
/** So many come at once: nobody else books while they are written. */
export const MOST_ITEMS = 500
export const MOST_ROWS = 2000
export const no = (wrong: readonly Wrong[]): Refused => notTaken(ITEMS.code, wrong)

/** Whether a row says something of a place. */
export const saysOfPlace = (r: Row): boolean =>
  (['minimum', 'target', 'bin', 'there now', 'lot', 'use by', 'one cost'] as const).some(c => r.of(c))

/** Words for what is one of a few, as people write them, and as it is sent. */
const WORDS: Partial<Record<Column, Readonly<Record<string, string>>>> = {
  'identified by': {
    quantity: 'quantity',
    'quantity only': 'quantity',
    lot: 'lot',
    'lot and expiry': 'lot_expiry',
    'lot and use by': 'lot_expiry',
    'lot expiry': 'lot_expiry',
    serial: 'serial',
    'serial number': 'serial',
  },
  'cost method': {
    average: 'average',
    'moving average': 'average',
    fifo: 'fifo',
    'first in, first out': 'fifo',
    lot: 'lot',
    'actual lot': 'lot',
    standard: 'standard',
  },
  kept: {
    stock: 'stock',
    'in stock': 'stock',
    'bought for': 'bought_for',
    'bought for someone': 'bought_for',
    charge: 'charge',
    'a charge': 'charge',
  },
}
/** One of a few, by its word; what nobody knows stays as it is, and is refused by the contract. */
export const wordIn = (column: Column, text: string): string => {
  const plain = text.toLowerCase().replaceAll('_', ' ')
  return WORDS[column]?.[plain] ?? text
}
/** A number as it is written, with a comma or a point; what is none stays as it is, and is refused by the contract. */
export function amountIn(text: string): string {
  const amount = readMoney(text)
  return amount === undefined ? text : formatDecimal(amount)
}
export const numberIn = (text: string): unknown =>
  /^-?\d{1,12}([.,]\d{1,6})?$/.test(text) ? Number(amountIn(text)) : text
/** A date by ISO 8601, or in the organisation's order. */
export const dayIn = (house: House, text: string): string =>
  readDay(text, house.organisation!.dateOrder as 'dmy' | 'mdy' | 'ymd') ?? text

/** How packs are written in one cell: `case=12 09521234000014; can=5`, each with its barcodes behind its size. */
export const packsIn = (text: string): { readonly name: string; readonly size: string; readonly codes: string[] }[] =>
  text
    .split(';')
    .map(p => p.trim())
    .filter(Boolean)
    .map(p => {
      const [name = '', rest = ''] = p.split(/=(.*)/s)
      const [size = '', ...codes] = rest.trim().split(/\s+/)
      return { name: name.trim(), size: amountIn(size), codes: codes.filter(Boolean) }
    })

/** A long number that a spreadsheet wrote in short (`9,52123E+12`), so that most of it is lost. */
export const shortened = (text: string): string | undefined => /(?<!\w)\d([.,]\d+)?E\+\d+/i.exec(text)?.[0]
/** `yes` or `no`; what is neither stays as it is, and is refused by the contract. */
export const yesOrNo = (text: string): unknown => ({ yes: true, no: false })[text.toLowerCase()] ?? text
