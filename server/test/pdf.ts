import { readFile } from 'node:fs/promises'
import { createRequire } from 'node:module'
import { createCanvas, type Canvas } from '@napi-rs/canvas'
import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs'
import { prepareZXingModule, readBarcodes } from 'zxing-wasm/reader'

const open = (pdf: Uint8Array) => getDocument({ data: new Uint8Array(pdf), verbosity: 0 }).promise
/** The text of a PDF as another program reads it (PDF.js): the lines of each page, cells of a line in their order, blanks as one. */
export async function textOf(pdf: Uint8Array): Promise<string[][]> {
  const document = await open(pdf)
  const pages: string[][] = []
  for (let n = 1; n <= document.numPages; n++) {
    const lines = new Map<number, { x: number; text: string }[]>()
    for (const i of (await (await document.getPage(n)).getTextContent()).items) {
      if (!('str' in i) || !i.str.trim()) continue
      const [, , , , x, y] = i.transform as number[]
      const at = [...lines.keys()].find(k => Math.abs(k - y!) < 2.5) ?? y!
      lines.set(at, [...(lines.get(at) ?? []), { x: x!, text: i.str }])
    }
    pages.push(
      [...lines]
        .sort(([a], [b]) => b - a)
        .map(([, cells]) =>
          cells
            .sort((a, b) => a.x - b.x)
            .map(c => c.text)
            .join(' ')
            .replace(/\s+/g, ' ')
            .trim(),
        ),
    )
  }
  return pages
}

const wasm = await readFile(createRequire(import.meta.url).resolve('zxing-wasm/reader/zxing_reader.wasm'))
prepareZXingModule({
  overrides: { wasmBinary: wasm.buffer.slice(wasm.byteOffset, wasm.byteOffset + wasm.byteLength) as ArrayBuffer },
})
async function drawn(pdf: Uint8Array): Promise<Canvas[]> {
  const document = await open(pdf)
  const pages: Canvas[] = []
  for (let n = 1; n <= document.numPages; n++) {
    const page = await document.getPage(n)
    const viewport = page.getViewport({ scale: 3 })
    const canvas = createCanvas(Math.ceil(viewport.width), Math.ceil(viewport.height))
    await page.render({ canvas: canvas as never, canvasContext: canvas.getContext('2d') as never, viewport }).promise
    pages.push(canvas)
  }
  return pages
}
/** The barcodes of a picture, as another program (ZXing) reads them off it; light bars on dark are no code to most scanners. */
export const symbolsIn = async (png: Uint8Array): Promise<string[]> =>
  (await readBarcodes(new Uint8Array(png), { tryHarder: true, tryInvert: false, maxNumberOfSymbols: 20 })).map(
    s => s.text,
  )
/** The barcodes of each page, read off the drawn page. */
export async function symbolsOf(pdf: Uint8Array): Promise<string[][]> {
  return Promise.all((await drawn(pdf)).map(c => symbolsIn(c.toBuffer('image/png'))))
}
/** How high (or how long, lying) the bars of one colour are on the first page, in dots, from left to right (from above). */
export async function barsOf(
  pdf: Uint8Array,
  colour: readonly [number, number, number],
  lying = false,
): Promise<number[]> {
  const page = (await drawn(pdf))[0]!
  const { data, width, height } = page.getContext('2d').getImageData(0, 0, page.width, page.height)
  const [across, along] = lying ? [height, width] : [width, height]
  const bars: number[] = []
  let before = 0
  for (let a = 0; a < across; a++) {
    // From its first to its last dot: a line may run across it.
    let [first, last] = [-1, -2]
    for (let b = 0; b < along; b++) {
      const at = 4 * (lying ? a * width + b : b * width + a)
      if (colour.every((v, k) => Math.abs(data[at + k]! - v) < 6)) {
        if (first < 0) first = b
        last = b
      }
    }
    const n = last - first + 1
    // What is shorter than this is a square of the legend or an edge.
    if (n > 40 && before > 40) bars[bars.length - 1] = Math.max(bars.at(-1)!, n)
    else if (n > 40) bars.push(n)
    before = n
  }
  return bars
}

/** Every piece of text as it stands on its page: where it begins and ends across, how high, and in which face. */
export async function piecesOf(
  pdf: Uint8Array,
): Promise<{ width: number; pieces: { text: string; from: number; to: number; y: number; face: string }[] }[]> {
  const document = await open(pdf)
  return Promise.all(
    Array.from({ length: document.numPages }, async (_, n) => {
      const page = await document.getPage(n + 1)
      // The faces are known once the page was read to be drawn.
      await page.getOperatorList()
      const pieces = (await page.getTextContent()).items.flatMap(i => {
        if (!('str' in i) || !i.str.trim()) return []
        const [, , , , x, y] = i.transform as number[]
        const { name } = page.commonObjs.get(i.fontName) as { name: string }
        return [{ text: i.str, from: x!, to: x! + i.width, y: y!, face: name.replace(/^\w+\+/, '') }]
      })
      return { width: page.getViewport({ scale: 1 }).width, pieces }
    }),
  )
}
