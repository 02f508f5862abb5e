import { createRequire } from 'node:module'
import { dirname, join } from 'node:path'
import { type Font, openSync } from 'fontkit'

// TrueType files: the ones of the web draw blank text without any error.
const find = createRequire(import.meta.url)
const at = (pack: string, ...path: string[]) => join(dirname(find.resolve(`${pack}/package.json`)), ...path)
const hyperlegible = (family: 'next' | 'mono', name: string) =>
  at(
    `@expo-google-fonts/atkinson-hyperlegible-${family}`,
    name,
    `AtkinsonHyperlegible${family === 'next' ? 'Next' : 'Mono'}_${name}.ttf`,
  )
const dejaVu = (name: string) => at('dejavu-fonts-ttf', 'ttf', `DejaVu${name}.ttf`)

/** The faces of papers, as pdfmake wants them: words and figures, and those that stand in for letters which these have not. */
export const FACES = {
  Next: {
    normal: hyperlegible('next', '400Regular'),
    bold: hyperlegible('next', '700Bold'),
    italics: hyperlegible('next', '400Regular_Italic'),
    bolditalics: hyperlegible('next', '700Bold_Italic'),
  },
  Mono: {
    normal: hyperlegible('mono', '400Regular'),
    bold: hyperlegible('mono', '700Bold'),
    italics: hyperlegible('mono', '400Regular'),
    bolditalics: hyperlegible('mono', '700Bold'),
  },
  Wide: {
    normal: dejaVu('Sans'),
    bold: dejaVu('Sans-Bold'),
    italics: dejaVu('Sans-Oblique'),
    bolditalics: dejaVu('Sans-BoldOblique'),
  },
  WideMono: {
    normal: dejaVu('SansMono'),
    bold: dejaVu('SansMono-Bold'),
    italics: dejaVu('SansMono-Oblique'),
    bolditalics: dejaVu('SansMono-BoldOblique'),
  },
} as const
export type Face = keyof typeof FACES

const INSTEAD: Partial<Record<Face, Face>> = { Next: 'Wide', Mono: 'WideMono' }

/** Letters for which another one stands that looks the same (Unicode, compatibility decompositions) or takes as much room. */
const ALIKE: Readonly<Record<string, string>> = {
  '\u00b5': '\u03bc',
  '\u2126': '\u03a9',
  '\u2011': '-',
  '\u202f': '\u00a0',
  '\u2009': '\u00a0',
}

const opened = new Map<string, Font>()
function font(face: Face, bold: boolean): Font {
  const path = FACES[face][bold ? 'bold' : 'normal']
  let f = opened.get(path)
  if (!f) {
    f = openSync(path) as Font
    opened.set(path, f)
  }
  return f
}

/** Words in one face. */
export interface Run {
  readonly text: string
  readonly face: Face
}
/** What both faces have: nearly every text of nearly every organisation. */
const PLAIN = /^[\x20-\x7e\xa0]*$/

/**
 * The words in the faces that have their letters; what no face has stays, and is told to `missing`.
 */
export function runsOf(text: string, face: Face, missing?: (letter: string) => void): Run[] {
  if (PLAIN.test(text)) return [{ text, face }]
  const out: { text: string; face: Face }[] = []
  for (const letter of text) {
    const code = letter.codePointAt(0)!
    let [in_, as] = [face, letter]
    // What only tells how the letter before it is drawn has no picture of its own.
    if (/[\u200b-\u200f\ufe00-\ufe0f\u00ad]/.test(letter)) continue
    if (letter !== '\n' && !font(face, false).hasGlyphForCodePoint(code)) {
      const alike = ALIKE[letter]
      const other = INSTEAD[face]
      if (alike !== undefined && font(face, false).hasGlyphForCodePoint(alike.codePointAt(0)!)) as = alike
      else if (other && font(other, false).hasGlyphForCodePoint(code)) in_ = other
      else missing?.(letter)
    }
    const last = out.at(-1)
    if (last?.face === in_) last.text += as
    else out.push({ text: as, face: in_ })
  }
  return out
}

const advances = new Map<string, number>()
/** How wide words are in points. By the letters alone: what stands closer together (kerning) makes them no wider. */
export function widthOf(text: string, face: Face, size: number, bold = false): number {
  let units = 0
  for (const run of runsOf(text, face))
    for (const letter of run.text) {
      const key = `${run.face}${bold ? 'b' : ''}${letter}`
      let advance = advances.get(key)
      if (advance === undefined) {
        const f = font(run.face, bold)
        advance = f.glyphForCodePoint(letter.codePointAt(0)!).advanceWidth / f.unitsPerEm
        advances.set(key, advance)
      }
      units += advance
    }
  return units * size
}
