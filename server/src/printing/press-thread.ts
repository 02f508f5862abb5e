import { createRequire } from 'node:module'
import { dirname, join } from 'node:path'
import { parentPort } from 'node:worker_threads'
import pdfmake from 'pdfmake'
import type { Content } from 'pdfmake/interfaces.js'
import { A4, HAIR, INK, MARGIN, type Paper, SOFT } from './paper.ts'

// TrueType files: the ones of the web draw blank text without any error.
const find = createRequire(import.meta.url)

const face = (family: string, name: string) => {
  const dir = dirname(find.resolve(`@expo-google-fonts/atkinson-hyperlegible-${family}/package.json`))
  const Name = `AtkinsonHyperlegible${family === 'next' ? 'Next' : 'Mono'}`
  return join(dir, name, `${Name}_${name}.ttf`)
}

const fonts = {
  Next: {
    normal: face('next', '400Regular'),
    bold: face('next', '700Bold'),
    italics: face('next', '400Regular_Italic'),
    bolditalics: face('next', '700Bold_Italic'),
  },
  Mono: {
    normal: face('mono', '400Regular'),
    bold: face('mono', '700Bold'),
    italics: face('mono', '400Regular'),
    bolditalics: face('mono', '700Bold'),
  },
}

pdfmake.setFonts(fonts)

const allowed = new Set(Object.values(fonts).flatMap(f => Object.values(f)))

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

/** Charts come with a drawing package of their own, which is fetched when one is wanted. */
async function content(paper: Paper): Promise<Content[]> {
  const width = (paper.landscape ? A4.height : A4.width) - MARGIN.left - MARGIN.right
  const out: Content[] = []
  for (const c of paper.body) {
    if (typeof c === 'object' && 'chart' in c)
      out.push({
        svg: (await import('./chart.ts')).chartSvg(c.chart, width, c.decimalMark),
        width,
        margin: [0, 12, 0, 0],
      })
    else out.push(c)
  }
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
                    { text: paper.foot, color: SOFT, fontSize: 8 },
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
