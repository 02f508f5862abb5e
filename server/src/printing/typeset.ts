import type { Content } from 'pdfmake/interfaces.js'
import { type Face, runsOf, widthOf } from './faces.ts'
import type { Line, Part, TwoLines } from './paper.ts'

/** So many letters stay of what is shortened. */
const STAYS = 5

/**
 * How a text in bold stands on lines of `width` points: broken at blanks, within a word only where its line would be half empty;
 * cut at the end of the last one.
 */
export function broken(text: string, width: number, size: number, most: number): string[] {
  const lines: string[] = []
  let rest = text.trim()
  while (rest) {
    if (lines.length === most - 1) return [...lines, shortened({ text: rest, bold: true }, size, width).text]
    const letters = [...rest]
    let n = letters.length
    while (n > 1 && widthOf(letters.slice(0, n).join('').trimEnd(), 'Next', size, true) > width) n--
    const blank = n < letters.length ? letters.slice(0, n + 1).lastIndexOf(' ') : n
    // A line that would stay half empty is filled with the beginning of a long word.
    const at = blank > n / 2 ? blank : n
    lines.push(letters.slice(0, at).join('').trimEnd())
    rest = letters.slice(at).join('').trim()
  }
  return lines
}

const wide = (p: Part, size: number, text = p.text) => widthOf(text, p.font ?? 'Next', size, p.bold)

/** Shortens a part to `room` points. */
function shortened(p: Part, size: number, room: number): Part {
  const letters = [...p.text]
  const cut = (n: number) =>
    p.middle
      ? `${letters.slice(0, Math.ceil(n / 2)).join('')}…${letters.slice(letters.length - Math.floor(n / 2)).join('')}`
      : `${letters.slice(0, n).join('').trimEnd()}…`
  let n = letters.length
  while (n > STAYS && wide(p, size, n === letters.length ? p.text : cut(n)) > room) n--
  return n === letters.length ? p : { ...p, text: cut(n) }
}

/** The parts of a line, shortened until they fit where that can be. */
export function fitted({ width, size, parts }: Line): Part[] {
  const out = [...parts]
  const over = () => out.reduce((sum, p) => sum + wide(p, size), 0) - width
  const givers = parts
    .map((p, i) => ({ i, gives: p.gives }))
    .filter(g => g.gives !== undefined)
    .sort((a, b) => a.gives! - b.gives!)
  for (const { i } of givers) {
    const much = over()
    if (much <= 0) break
    out[i] = shortened(out[i]!, size, wide(out[i]!, size) - much)
  }
  return out
}

interface Cell {
  readonly text?: unknown
  readonly font?: Face
  readonly bold?: boolean
  readonly alignment?: string
}
/** Where words may be broken: at blanks, and behind what joins two words (UAX 14, in so far as lists have it). */
const PIECES = /[ \n]+|(?<=[-–/])(?=\p{L})/u

/**
 * The widths of a list's columns, where its longest words together are wider than the paper: figures keep what they need, the
 * other columns as much as there is for each, and their words are broken. Undefined where no word needs to be broken.
 */
export function columnWidths(body: readonly (readonly Cell[])[], room: number, size: number): number[] | undefined {
  const columns = body[0]!.map((_, i) => {
    let longest = 0
    for (const row of body) {
      const c = row[i]!
      for (const word of String(c.text ?? '').split(PIECES))
        longest = Math.max(longest, widthOf(word, c.font ?? 'Next', size, c.bold))
    }
    return { longest, figures: body[0]![i]!.alignment === 'right' }
  })
  const sum = (of: readonly number[]) => of.reduce((a, b) => a + b, 0)
  // A hair more: what is exactly as wide as its column would be broken by what is lost in rounding.
  const longest = columns.map(c => c.longest + 0.5)
  if (sum(longest) <= room) return undefined
  const kept = sum(longest.filter((_, i) => columns[i]!.figures))
  const others = longest.filter((_, i) => !columns[i]!.figures).sort((a, b) => a - b)
  const LEAST = 20
  if (room - kept < others.length * LEAST) return longest.map(w => (w / sum(longest)) * room)
  // The same for each of those that want more, once the narrow ones have what they want.
  let [left, most] = [room - kept, 0]
  for (const [i, w] of others.entries()) {
    most = left / (others.length - i)
    if (w <= most) left -= w
    else break
  }
  return longest.map((w, i) => (columns[i]!.figures ? w : Math.min(w, most)))
}

type Node = Record<string, unknown>

/** A paper's content as it is drawn: each letter in a face that has it, lines that keep to their width, lists to the paper's. */
export function typeset(content: Content, room: number, missing: (letter: string) => void): Content {
  const inline = (text: unknown, face: Face): unknown => {
    if (Array.isArray(text)) return text.map(t => inline(t, face))
    if (typeof text === 'object' && text !== null) return node(text as Node, face)
    const runs = runsOf(String(text ?? ''), face, missing)
    if (runs.length < 2 && (runs[0]?.face ?? face) === face) return runs[0]?.text ?? ''
    return runs.map(r => (r.face === face ? r.text : { text: r.text, font: r.face }))
  }
  const worded = (text: unknown) => (Array.isArray(text) ? { text } : text)
  const many = (of: unknown, face: Face): unknown => (of as unknown[]).map(n => any(n, face))
  const node = (n: Node, above: Face): Node => {
    const face = (n.font as Face | undefined) ?? above
    const out: Node = { ...n }
    if ('line' in n) {
      const line = n.line as Line
      delete out.line
      return node({ ...out, text: fitted(line), fontSize: line.size, noWrap: true }, face)
    }
    if ('lines' in n) {
      const { text, width, size, smaller } = n.lines as TwoLines
      const one = widthOf(text, face, size, true) <= width
      const fontSize = one ? size : smaller
      delete out.lines
      return node({ ...out, text: broken(text, width, fontSize, 2).join('\n'), bold: true, fontSize }, face)
    }
    if ('text' in n) out.text = inline(n.text, face)
    for (const k of ['stack', 'columns', 'ul', 'ol']) if (k in n) out[k] = many(n[k], face)
    if ('table' in n) {
      const table = n.table as { body: Cell[][]; widths?: unknown }
      const apart = (table.body[0]!.length - 1) * 7
      const widths = n.layout === 'list' ? columnWidths(table.body, room - apart, n.fontSize as number) : undefined
      out.table = { ...table, ...(widths && { widths }), body: table.body.map(r => many(r, face)) }
    }
    return out
  }
  const any = (c: unknown, face: Face): unknown =>
    Array.isArray(c)
      ? many(c, face)
      : typeof c === 'object' && c !== null
        ? node(c as Node, face)
        : worded(inline(c, face))
  return any(content, 'Next') as Content
}
