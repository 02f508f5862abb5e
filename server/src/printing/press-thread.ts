import { parentPort } from 'node:worker_threads'
import pdfmake from 'pdfmake'
import type { Column, Content } from 'pdfmake/interfaces.js'
import { FACES } from './faces.ts'
import { A4, HAIR, INK, MARGIN, type Paper, soft, SOFT } from './paper.ts'
import { typeset } from './typeset.ts'

pdfmake.setFonts(FACES)

const allowed = new Set<string>(Object.values(FACES).flatMap(f => Object.values(f)))

pdfmake.setUrlAccessPolicy(() => false)

pdfmake.setLocalAccessPolicy(path => allowed.has(path))

pdfmake.addTableLayouts({
  list: {
    hLineWidth: i => (i === 0 ? 0 : 0.5),
    vLineWidth: () => 0,
    hLineColor: () => HAIR,
    paddingLeft: i => (i === 0 ? 0 : 7),
    paddingRight: () => 0,
    paddingTop: () => 3,
    paddingBottom: () => 3,
  },
  labels: {
    hLineWidth: () => 0,
    vLineWidth: () => 0,
    paddingLeft: () => 0,
    paddingRight: () => 0,
    paddingTop: () => 0,
    paddingBottom: () => 0,
  },
  sheet: {
    hLineWidth: () => 0.6,
    vLineWidth: () => 0,
    hLineColor: () => HAIR,
    paddingLeft: i => (i === 0 ? 0 : 6),
    paddingRight: () => 0,
    paddingTop: () => 2,
    paddingBottom: () => 0,
  },
})

/** Says which letters stand on the paper as empty boxes, by their numbers (Unicode): they cannot be printed here either. */
const notDrawn = (letters: ReadonlySet<string>): string => {
  const codes = [...letters].map(l => `U+${l.codePointAt(0)!.toString(16).toUpperCase().padStart(4, '0')}`)
  return `No face for ${codes.slice(0, 12).join(', ')}${codes.length > 12 ? ' and others' : ''}: an empty box stands for each.`
}

/** Charts come with a drawing package of their own, which is fetched when one is wanted. */
async function content(paper: Paper): Promise<Content[]> {
  const width = (paper.landscape ? A4.height : A4.width) - MARGIN.left - MARGIN.right
  const out: Content[] = []
  const missing = new Set<string>()
  for (const c of paper.body) {
    if (typeof c === 'object' && 'chart' in c)
      out.push({
        svg: (await import('./chart.ts')).chartSvg(c.chart, width, c.decimalMark),
        width,
        margin: [0, 12, 0, 0],
      })
    else out.push(typeset(c, width, letter => missing.add(letter)))
  }
  // Labels and sheets have no room for it, and are looked at before they are printed.
  if (missing.size && paper.foot) out.push(soft(notDrawn(missing), { fontSize: 8, margin: [0, 10, 0, 0] }))
  return out
}

// One after the other: where one is too much for the thread, it is known which.
let before: Promise<unknown> = Promise.resolve()
parentPort!.on('message', ({ id, paper }: { id: number; paper: Paper }) => {
  before = before
    .then(() => content(paper))
    .then(drawn =>
      pdfmake
        .createPdf({
          info: { title: paper.title, creator: 'Shelve', producer: 'Shelve' },
          ...(paper.page
            ? { pageSize: { width: paper.page.width, height: paper.page.height }, pageMargins: paper.page.margin }
            : {
                pageSize: 'A4' as const,
                pageOrientation: paper.landscape ? ('landscape' as const) : ('portrait' as const),
                pageMargins: [MARGIN.left, MARGIN.top, MARGIN.right, MARGIN.bottom] as [number, number, number, number],
              }),
          defaultStyle: { font: 'Next', fontSize: 9.5, color: INK },
          content: drawn,
          ...(paper.foot
            ? {
                footer: (page: number, pages: number) => ({
                  margin: [MARGIN.left, 12, MARGIN.right, 0],
                  columns: [
                    typeset({ text: paper.foot, color: SOFT, fontSize: 8 }, 0, () => undefined) as Column,
                    { text: `page ${page} of ${pages}`, alignment: 'right', color: SOFT, fontSize: 8, width: 90 },
                  ],
                }),
              }
            : {}),
          ...(paper.watermark
            ? { watermark: { text: paper.watermark, color: SOFT, opacity: 0.16, bold: true, font: 'Next' } }
            : {}),
        })
        .getBuffer(),
    )
    .then(
      b => parentPort!.postMessage({ id, pdf: new Uint8Array(b) }),
      (e: unknown) => parentPort!.postMessage({ id, trouble: e instanceof Error ? e.message : String(e) }),
    )
})
