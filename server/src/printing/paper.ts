import type { Content, TableCell } from 'pdfmake/interfaces.js'
import { type Writing, writtenNumber } from '@shelve/core'
import type { Face } from './faces.ts'

/**
 * A paper: what is printed, as plain data, so that it can be handed to the thread that draws it. Points are those of
 * PDF (1/72 inch).
 */
export interface Paper {
  readonly title: string
  /** A4 lying on its side, for wide tables. */
  readonly landscape: boolean
  /** Stands at the foot of each page, before `page n of m`; empty: the paper numbers its pages itself. */
  readonly foot: string
  readonly body: readonly (Content | { readonly chart: ChartOf; readonly decimalMark: Writing['decimalMark'] })[]
  /** Another page than A4, in points, with one margin all around. */
  readonly page?: { readonly width: number; readonly height: number; readonly margin: number }
  /** Across each page, for what is not meant to be used. */
  readonly watermark?: string
}

/**
 * Bars, as plain data: standing side by side with what remained as a line over them, or lying, one name each. A paper
 * carries it as `{ chart }` in its body; the thread that prints draws it.
 */
export interface ChartOf {
  readonly sort: 'standing' | 'lying'
  readonly labels: readonly string[]
  readonly bars: readonly { readonly label: string; readonly values: readonly number[] }[]
  readonly line?: { readonly label: string; readonly values: readonly number[] } | undefined
}

/** Bars of some figures of rows; a line over them where every row has that figure. */
export function barsOf<T>(
  sort: ChartOf['sort'],
  rows: readonly T[],
  label: (r: T) => string,
  figures: Readonly<Record<string, (r: T) => string>>,
  line?: readonly [string, (r: T) => string | null],
): ChartOf {
  const over =
    line && rows.every(r => line[1](r) !== null)
      ? { label: line[0], values: rows.map(r => Number(line[1](r))) }
      : undefined
  return {
    sort,
    labels: rows.map(label),
    bars: Object.entries(figures).map(([name, of]) => ({ label: name, values: rows.map(r => Number(of(r))) })),
    line: over,
  }
}

/** A4 in points, and the margins all papers have: left, top, right, bottom. */
export const A4 = { width: 595.28, height: 841.89 } as const

export const MARGIN = { left: 40, top: 36, right: 40, bottom: 44 } as const

export const INK = '#1D2B30'

export const SOFT = '#5B6A6E'

export const HAIR = '#B9B3A4'

/** Words in the mono face: codes, quantities, money. */
export const mono = (text: string, more: object = {}): Content => ({ text, font: 'Mono', ...more })

export const soft = (text: string, more: object = {}): Content => ({ text, color: SOFT, ...more })

/**
 * A part of what stands on one line. Where the line is too long, those with the lowest `gives` are shortened first; the others
 * never.
 */
export interface Part {
  readonly text: string
  readonly font?: Face
  readonly bold?: boolean
  readonly color?: string
  readonly gives?: number
  /** Shortened in its middle: how it begins and how it ends tells it from others. */
  readonly middle?: boolean
}
/** A line that is set in the thread which prints, where the faces are known. */
export interface Line {
  readonly width: number
  readonly size: number
  readonly parts: readonly Part[]
}
/** Words in bold that keep to two lines, set where the faces are known. */
export interface TwoLines {
  readonly text: string
  readonly width: number
  readonly size: number
  readonly smaller: number
}

/** Words that keep to one line of `width` points at `size`: no row that holds it grows by it. */
export const oneLine = (width: number, size: number, parts: readonly Part[], more: object = {}): Content =>
  ({ line: { width, size, parts } satisfies Line, ...more }) as unknown as Content

/** Words in bold on two lines at most, of `width` points at `size`; smaller where they are more than one line at that. */
export const twoLines = (text: string, width: number, size: number, smaller: number): Content =>
  ({ lines: { text, width, size, smaller } satisfies TwoLines }) as unknown as Content

/** A figure as the organisation writes it; the faces have no narrow blank, so a plain one groups the thousands. */
export const figure = (text: string | null | undefined, w: Pick<Writing, 'decimalMark'>, sign = false): string =>
  writtenNumber(text, w, sign).replaceAll('\u202f', '\u00a0')

export interface Column {
  readonly head: string
  readonly kind: 'text' | 'mono' | 'number'
}

export type Cells = readonly (string | number | null | undefined)[]

/**
 * A list as a paper: the title, what it is about, the table with its head on each page. Numbers stand at the right;
 * where all of a column have as many decimals they stand under each other by their mark.
 */
export function tablePaper(o: {
  title: string
  about: readonly string[]
  columns: readonly Column[]
  rows: Iterable<Cells>
  foot: string
  total?: Cells
  chart?: ChartOf | undefined
  decimalMark?: Writing['decimalMark']
}): Paper {
  const body: TableCell[][] = []
  for (const r of o.rows) body.push(o.columns.map((c, i) => cell(r[i], c)))
  const wide = o.columns.length > 7
  return {
    title: o.title,
    landscape: wide,
    foot: o.foot,
    body: [
      { text: o.title, fontSize: 17, bold: true, margin: [0, 0, 0, 2] },
      ...o.about.filter(Boolean).map(a => soft(a, { margin: [0, 0, 0, 1] })),
      ...(o.chart && body.length ? [{ chart: o.chart, decimalMark: o.decimalMark ?? '.' }] : []),
      body.length === 0
        ? soft('Nothing.', { margin: [0, 12, 0, 0] })
        : {
            margin: [0, 10, 0, 0],
            fontSize: wide ? 8 : 9,
            layout: 'list',
            table: {
              headerRows: 1,
              dontBreakRows: true,
              widths: o.columns.map((c, i) => (c.kind === 'text' && i === widest(o.columns) ? '*' : 'auto')),
              body: [
                o.columns.map(c => ({
                  text: c.head,
                  bold: true,
                  color: SOFT,
                  alignment: c.kind === 'number' ? ('right' as const) : ('left' as const),
                })),
                ...body,
                ...(o.total ? [o.columns.map((c, i) => ({ ...cell(o.total![i], c), bold: true }))] : []),
              ],
            },
          },
    ],
  }
}

/** The column that takes what room is left: the last one in words of those that are names. */
const widest = (columns: readonly Column[]): number => {
  const named = columns.findIndex(c => c.kind === 'text' && /name|what|about|item/i.test(c.head))
  return named >= 0 ? named : columns.findIndex(c => c.kind === 'text')
}

function cell(
  value: string | number | null | undefined,
  c: Column,
): { text: string; alignment?: 'right'; font?: string } {
  const text = value === null || value === undefined ? '' : String(value)
  return c.kind === 'number'
    ? { text, alignment: 'right', font: 'Mono' }
    : c.kind === 'mono'
      ? { text, font: 'Mono' }
      : { text }
}
