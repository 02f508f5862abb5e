import { setImmediate } from 'node:timers/promises'
import type { Response } from 'express'

/** So long one request may hold the loop before it lets others in (ms). */
const HOLD = 8

/**
 * Lets others in: whatever has come meanwhile is answered before it goes on. By one turn of the loop it would not be, where
 * it began in answer to something that came: Node looks for what comes, then does what was put off, then looks again.
 */
export async function letIn(): Promise<void> {
  await setImmediate()
  await setImmediate()
}

/** Goes through something long in pieces: whenever it has held the loop for a while, others are let in. */
export async function* inPieces<T>(of: Iterable<T> | AsyncIterable<T>): AsyncGenerator<T> {
  let since = performance.now()
  for await (const x of of) {
    yield x
    if (performance.now() - since < HOLD) continue
    await letIn()
    since = performance.now()
  }
}

/**
 * Does something with each of many, others being let in likewise: of thousands of small ones much faster than one awaited
 * after the other.
 */
export async function eachInPieces<T>(of: Iterable<T>, does: (x: T) => void): Promise<void> {
  let since = performance.now()
  for (const x of of) {
    does(x)
    if (performance.now() - since < HOLD) continue
    await letIn()
    since = performance.now()
  }
}

/** Runs what can be stopped between two pieces of work; others are let in likewise. */
export async function givingWay<T>(work: Generator<undefined, T>): Promise<T> {
  for (let since = performance.now(); ;) {
    const { done, value } = work.next()
    if (done) return value
    if (performance.now() - since < HOLD) continue
    await letIn()
    since = performance.now()
  }
}
/** The same in one go: for whoever cannot wait, or needs all of it of one moment. */
export function atOnce<T>(work: Generator<undefined, T>): T {
  for (;;) {
    const { done, value } = work.next()
    if (done) return value
  }
}

/** Some of many after the other: so many of them at once. */
export function* chunks<T>(of: readonly T[], size: number): Generator<T[]> {
  for (let from = 0; from < of.length; from += size) yield of.slice(from, from + size)
}

/** So many are put in order at once. */
const RUN = 4000
/** Puts something long in order, others being let in: as `sort` does, what is alike stays in its order. */
export async function inOrder<T>(of: readonly T[], compare: (a: T, b: T) => number): Promise<T[]> {
  let sorted: T[] = []
  await eachInPieces(sorting(of, compare), runs => void (sorted = runs))
  return sorted
}
/** Short runs, each put in order, then merged by two; what comes last is all of it. */
function* sorting<T>(of: readonly T[], compare: (a: T, b: T) => number): Generator<T[]> {
  let runs: T[][] = []
  for (const run of chunks(of, RUN)) {
    runs.push(run.sort(compare))
    yield run
  }
  for (; runs.length > 1; runs = runs.filter((_, i) => i % 2 === 0))
    for (let i = 0; i + 1 < runs.length; i += 2) {
      const [a, b] = [runs[i]!, runs[i + 1]!]
      const merged: T[] = (runs[i] = [])
      for (let [x, y] = [0, 0]; merged.length < a.length + b.length;) {
        merged.push(y === b.length || (x < a.length && compare(a[x]!, b[y]!) <= 0) ? a[x++]! : b[y++]!)
        if (merged.length % 1000 === 0) yield merged
      }
    }
  yield runs[0] ?? []
}

/** With so many lines a long list begins: code that ran little is not compiled, and takes some four times as long. */
export const FIRST_PIECE = 10
/**
 * So long the lines of a piece may take to be worked out (ms): twice as many where they took less, half as many where they
 * took more than twice that.
 */
const PIECE_TAKES = 10
/** How many lines the next piece has, of one that took so long (ms). */
export const nextPiece = (piece: number, took: number, most: number): number =>
  took < PIECE_TAKES
    ? Math.min(2 * piece, most)
    : took > 2 * PIECE_TAKES
      ? Math.max(Math.ceil(piece / 2), Math.min(FIRST_PIECE, most))
      : piece

interface Page<T> {
  readonly rows: readonly T[]
  readonly next?: string | null
}
/** The rows of a list page by page, each asked for when the one before was taken. */
export async function* allPages<T>(
  first: Page<T>,
  more: (cursor: string) => Page<T> | Promise<Page<T>>,
): AsyncGenerator<T> {
  for (let page = first; ; page = await more(page.next)) {
    yield* page.rows
    if (!page.next) return
    await letIn()
  }
}

/** Sends a long text, as fast as it is taken and no faster; others are answered meanwhile. Ends quietly where nobody listens any more. */
export async function sendText(response: Response, chunks: Iterable<string> | AsyncIterable<string>): Promise<void> {
  // One listener for all of it: what compresses on the way takes them and gives none back.
  let goesOn = () => undefined as void
  response.on('drain', () => goesOn())
  response.on('close', () => goesOn())
  let text = ''
  for await (const chunk of inPieces(chunks)) {
    if (response.destroyed) return
    text += chunk
    if (text.length < 65_536) continue
    if (!response.write(text) && !response.destroyed)
      await new Promise<void>(ok => {
        goesOn = ok
      })
    text = ''
    // Also where it was taken at once: a fast reader is no reason to keep the others waiting.
    await letIn()
  }
  response.end(text)
}
