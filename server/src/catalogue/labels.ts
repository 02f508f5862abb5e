import { eq } from 'drizzle-orm'
import type { Column, Content } from 'pdfmake/interfaces.js'
import { ownCode, writtenDay } from '@shelve/core'
import { notFound } from '../ground/index.ts'
import { code128, oneLine, type Paper, press, soft, twoLines } from '../printing/index.ts'
import type { House } from './house.ts'
import { item, lot } from './tables.ts'

const MM = 72 / 25.4

/** Sheets of 3 × 8 labels of 70 × 37 mm, and rolls of 62 × 29 mm: the sizes that are sold everywhere (common practice). */
export const LABEL_SIZES = {
  sheet: { across: 3, down: 8, width: 70, height: 37 },
  roll: { across: 1, down: 1, width: 62, height: 29 },
} as const

export interface LabelWanted {
  readonly item: string
  readonly lot: string | null
  readonly count: number
}

/** Labels for things and their lots: the name, the code, lot and use-by date, and a symbol that a scanner reads as exactly that lot. `skip`: places of the first sheet that are used up. */
export async function labelsAsPdf(
  house: House,
  wanted: readonly LabelWanted[],
  size: keyof typeof LABEL_SIZES,
  skip: number,
): Promise<Uint8Array> {
  const s = LABEL_SIZES[size]
  const symbol = await code128()
  const labels = wanted.flatMap(w => {
    const it = house.db.select().from(item).where(eq(item.uid, w.item)).get()
    const l = w.lot === null ? undefined : house.db.select().from(lot).where(eq(lot.uid, w.lot)).get()
    if (!it || (w.lot !== null && l?.itemId !== it.id)) throw notFound(it ? 'lot' : 'item')
    const code = l?.code ? ownCode('lot', l.id) : ownCode('item', it.id)
    return Array.from({ length: w.count }, () => label(it, l, code, symbol(code), house, s))
  })
  const cells: Content[] = [...Array.from({ length: size === 'sheet' ? skip : 0 }, () => ({ text: '' })), ...labels]
  const rows: Content[][] = []
  for (let i = 0; i < cells.length; i += s.across)
    rows.push([
      ...cells.slice(i, i + s.across),
      ...Array.from({ length: Math.max(0, s.across - (cells.length - i)) }, () => ({ text: '' })),
    ])
  const page = size === 'sheet' ? { width: 210 * MM, height: 297 * MM } : { width: s.width * MM, height: s.height * MM }
  const pages: Content[] = []
  for (let i = 0; i < rows.length; i += s.down)
    pages.push({
      layout: 'labels',
      table: {
        widths: Array.from({ length: s.across }, () => s.width * MM),
        heights: s.height * MM - 0.01,
        body: rows.slice(i, i + s.down),
      },
      ...(i ? { pageBreak: 'before' as const } : {}),
    })
  const paper: Paper = {
    title: 'Labels',
    landscape: false,
    foot: '',
    body: pages,
    page: { ...page, margin: size === 'sheet' ? 0.4 * MM : 0 },
  }
  return press(paper)
}

/** Width to height of a drawing: one that was given more room would stand in its middle. */
const aspect = (svg: string): number => {
  const m = /viewBox="0 0 ([\d.]+) ([\d.]+)"/.exec(svg)
  return m ? Number(m[1]) / Number(m[2]) : 4
}

function label(
  it: typeof item.$inferSelect,
  l: typeof lot.$inferSelect | undefined,
  code: string,
  svg: string,
  house: House,
  s: { width: number; height: number },
): Content {
  return {
    margin: [4 * MM, 3 * MM, 4 * MM, 0],
    stack: [
      twoLines(it.name, (s.width - 8) * MM, 10.5, 8.5),
      // The symbol under it stays on the label, however long they are: the item's code gives way first, then the middle of the lot's.
      oneLine(
        (s.width - 8) * MM,
        8,
        [
          { text: it.code, font: 'Mono', gives: 1 },
          ...(l?.code
            ? [{ text: '  lot ' }, { text: l.code, font: 'Mono' as const, bold: true, gives: 2, middle: true }]
            : []),
        ],
        { margin: [0, 1, 0, 3] },
      ),
      { svg, width: Math.min((s.width - 10) * MM, 9 * MM * aspect(svg)), height: 9 * MM },
      {
        margin: [0, 1, 0, 0],
        columns: [
          soft(code, { font: 'Mono', fontSize: 7, width: 'auto' }) as Column,
          {
            text: l?.expiry ? `use by ${writtenDay(l.expiry, house.organisation!)}` : '',
            alignment: 'right',
            fontSize: 8,
            bold: true,
          },
        ],
      },
    ],
  }
}
