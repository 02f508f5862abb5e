import type { Column, Content, TableCell } from 'pdfmake/interfaces.js'
import { formatDecimal, inPages, pageCode, type PageRow, type Writing, writtenDay, writtenInstant } from '@shelve/core'
import { A4, figure, HAIR, MARGIN, mono, oneLine, type Paper, type Part, soft, SOFT } from '../printing/index.ts'

/** What stands on a line of a sheet. `expected` is left out of a blind one. */
export interface SheetLineFacts {
  readonly bin: string
  readonly code: string
  readonly name: string
  readonly unit: string
  readonly packs: readonly string[]
  readonly lot: string | null
  readonly expiry: string | null
  readonly expected: bigint
}

/** A sheet to be printed; `number` null: only to be looked at. */
export interface SheetFacts {
  readonly number: number | null
  /** The page it begins with, and how many there are of its number (null: as many as it has itself). */
  readonly firstPage: number
  readonly ofPages: number | null
  readonly area: string
  readonly organisation: string
  readonly blind: boolean
  readonly at: number
  readonly by: string
  readonly lines: readonly SheetLineFacts[]
  readonly extra: number
}

/** A row is 10 mm high: roomy enough for a pencil. */
const ROW = 28.5

const HEAD = 118

const ROOM = Math.floor((A4.height - MARGIN.top - MARGIN.bottom - HEAD) / ROW)

const WIDTH = A4.width - MARGIN.left - MARGIN.right

/** The code of the page stands on the right; what is left beside it is the head's. */
const CODE_WIDTH = 128

const HEAD_WIDTH = WIDTH - CODE_WIDTH

/** The columns of lines: number, thing (what is left), expected, as expected, counted, unit; each but the first has 6 points before it. */
const COLUMNS = { number: 16, expected: 52, asExpected: 44, unit: 48 } as const

/** How the lines of a sheet are divided into pages. */
export const sheetPages = <L extends { bin: string }>(lines: readonly L[], extra: number): PageRow<L>[][] =>
  inPages(lines, l => l.bin, ROOM, extra)

/** Sheets of several areas as one paper; each area, and each of its pages, begins a new leaf and carries its own code, which `symbol` draws as SVG. */
export function sheetPaper(sheets: readonly SheetFacts[], w: Writing, symbol: (code: string) => string): Paper {
  const body: Content[] = []
  for (const s of sheets) {
    const pages = sheetPages(s.lines, s.extra)
    let n = 0
    pages.forEach((rows, i) => {
      const first = n
      n += rows.filter(r => r.kind === 'line').length
      body.push({
        stack: [head(s, s.firstPage + i, s.ofPages ?? pages.length, w, symbol), table(s, rows, first, w)],
        ...(body.length ? { pageBreak: 'before' as const } : {}),
      })
    })
  }
  const drafts = sheets.some(s => s.number === null)
  return {
    title: drafts ? 'Count sheets' : [...new Set(sheets.map(s => `Count sheet ${s.number}`))].join(', '),
    landscape: false,
    foot: '',
    body,
    ...(drafts ? { watermark: 'not printed yet' } : {}),
  }
}

function head(s: SheetFacts, page: number, pages: number, w: Writing, symbol: (code: string) => string): Content {
  const code = s.number === null ? undefined : pageCode(s.number, page)
  return {
    margin: [0, 0, 0, 8],
    columns: [
      {
        width: '*',
        stack: [
          // Two lines at most.
          { text: s.area, fontSize: s.area.length > 34 ? 11.5 : 19, bold: true },
          oneLine(HEAD_WIDTH, 9.5, [
            {
              text: `${s.number === null ? 'Count sheet' : `Count sheet ${s.number}`}, page ${page} of ${pages} · ${s.blind ? 'blind' : 'with figures'} · `,
              color: SOFT,
            },
            { text: s.organisation, color: SOFT, gives: 1 },
          ]),
          oneLine(HEAD_WIDTH, 9.5, [
            { text: `Printed ${writtenInstant(s.at, w)} by `, color: SOFT },
            { text: s.by, color: SOFT, gives: 1 },
          ]),
          {
            margin: [0, 13, 0, 0],
            columns: [blank('Counted on', 74), blank('at (time)', 62), blank('by', 130)],
            columnGap: 10,
          },
        ],
      },
      {
        width: CODE_WIDTH,
        alignment: 'right',
        stack:
          code === undefined
            ? []
            : [
                { svg: symbol(code), width: 120, height: 34, alignment: 'right' as const },
                mono(code, { fontSize: 8, alignment: 'right', margin: [0, 2, 0, 0] }),
              ],
      },
    ],
  }
}

const blank = (label: string, width: number): Column => ({
  width: 'auto',
  columns: [
    { width: 'auto', text: label, color: SOFT, margin: [0, 3, 0, 0] },
    { width, canvas: [{ type: 'line', x1: 4, y1: 15, x2: width, y2: 15, lineWidth: 0.8, lineColor: HAIR }] },
  ],
  columnGap: 2,
})

const box = (width: number): Content => ({
  canvas: [{ type: 'rect', x: 0, y: 2, w: width, h: ROW - 8, lineWidth: 0.8, lineColor: '#86816F', r: 2 }],
})

function table(s: SheetFacts, rows: readonly PageRow<SheetLineFacts>[], first: number, w: Writing): Content {
  const columns = s.blind ? 4 : 6
  const pad = (cells: TableCell[]): TableCell[] => [
    ...cells,
    ...Array.from({ length: columns - cells.length }, () => '' as TableCell),
  ]
  const counted = s.blind ? 92 : 74
  const figures = s.blind ? 0 : COLUMNS.expected + COLUMNS.asExpected
  // A name that wrapped would make its row, and then the page, too high: more pages than there are codes for.
  const room = WIDTH - COLUMNS.number - figures - counted - COLUMNS.unit - 6 * (columns - 1)
  const below = (l: SheetLineFacts): Part[] => [
    { text: l.code, font: 'Mono', color: SOFT, gives: 2 },
    ...(l.lot
      ? [
          { text: ' · lot ', color: SOFT },
          { text: l.lot, font: 'Mono' as const, bold: true, color: SOFT, gives: 3, middle: true },
          ...(l.expiry ? [{ text: `, use by ${writtenDay(l.expiry, w)}`, color: SOFT }] : []),
        ]
      : []),
    ...(l.packs.length ? [{ text: ` · ${l.packs.join(', ')}`, color: SOFT, gives: 1 }] : []),
  ]
  // Two lines of small letters where one has no room.
  const unit = (u: string): TableCell =>
    u.length > 9 ? { text: u, margin: [0, 4, 0, 0], fontSize: 7 } : { text: u, margin: [0, 7, 0, 0], fontSize: 9 }
  let n = first
  const line = (l: SheetLineFacts): TableCell[] => [
    mono(String(++n), { color: SOFT, margin: [0, 8, 0, 0], fontSize: 8 }) as TableCell,
    {
      stack: [oneLine(room, 10, [{ text: l.name, gives: 1 }]), oneLine(room, 8, below(l))],
    },
    ...(s.blind
      ? []
      : [
          mono(figure(formatDecimal(l.expected), w), { alignment: 'right', margin: [0, 6, 0, 0] }) as TableCell,
          { canvas: [{ type: 'rect', x: 10, y: 6, w: 12, h: 12, lineWidth: 0.8, lineColor: '#86816F' }] } as TableCell,
        ]),
    box(counted) as TableCell,
    unit(l.unit),
  ]
  const empty = (): TableCell[] => [
    mono('+', { color: SOFT, margin: [0, 8, 0, 0], fontSize: 8 }) as TableCell,
    {
      columns: [
        {
          width: WIDTH / 2.9,
          canvas: [{ type: 'line', x1: 0, y1: ROW - 8, x2: WIDTH / 3, y2: ROW - 8, lineWidth: 0.5, lineColor: HAIR }],
        },
        soft('lot', { fontSize: 8, margin: [0, 9, 0, 0] }) as Column,
      ],
    },
    ...(s.blind ? [] : ['' as TableCell, '' as TableCell]),
    box(counted) as TableCell,
    '',
  ]
  const headings: TableCell[] = [
    { text: '' },
    label('Item'),
    ...(s.blind ? [] : [label('Expected', 'right'), label('as expected', 'center')]),
    label('Counted'),
    label('in'),
  ]
  const body = rows.map(r =>
    r.kind === 'line'
      ? line(r.line)
      : r.kind === 'blank'
        ? empty()
        : pad([
            oneLine(
              WIDTH,
              9.5,
              r.name
                ? [
                    { text: r.name, bold: true, gives: 1, middle: true },
                    ...(r.continued ? [{ text: ', continued', bold: true }] : []),
                  ]
                : [{ text: 'What else lies here', bold: true }],
              { colSpan: columns, margin: [0, 10, 0, 0] },
            ) as TableCell,
          ]),
  )
  return {
    layout: 'sheet',
    table: {
      headerRows: 1,
      widths: [COLUMNS.number, '*', ...(s.blind ? [] : [COLUMNS.expected, COLUMNS.asExpected]), counted, COLUMNS.unit],
      heights: [14, ...body.map(() => ROW - 2.6)],
      body: [headings, ...body],
    },
  }
}

const label = (text: string, alignment: 'left' | 'right' | 'center' = 'left'): TableCell => ({
  text,
  color: SOFT,
  fontSize: 8,
  alignment,
})
