import { chunks } from './pieces.ts'

/** A list of more rows than this is written some rows at a time. */
const LONG = 500
/** So many rows at once: some 10 kB of them. */
const SOME = 50

/** Whether an answer holds a list so long that to write all of it at once would make others wait. */
export const isLong = (answer: unknown): answer is object =>
  typeof answer === 'object' && answer !== null && Object.values(answer).some(v => Array.isArray(v) && v.length > LONG)

/** The text that `JSON.stringify` gives of a plain object, in pieces: what its long lists hold comes some rows at a time. */
export function* jsonInPieces(answer: object): Generator<string> {
  let before = '{'
  for (const [name, value] of Object.entries(answer) as [string, unknown][]) {
    if (value === undefined) continue
    yield `${before}${JSON.stringify(name)}:`
    before = ','
    if (Array.isArray(value)) yield* listInPieces(value)
    else yield JSON.stringify(value)
  }
  yield before === '{' ? '{}' : '}'
}
function* listInPieces(rows: readonly unknown[]): Generator<string> {
  yield '['
  let before = ''
  for (const some of chunks(rows, SOME)) {
    yield before + JSON.stringify(some).slice(1, -1)
    before = ','
  }
  yield ']'
}
