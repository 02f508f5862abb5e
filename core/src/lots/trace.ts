import type { Quantity } from '../quantity/micro.ts'

/** What of a lot went into a make, or came of it. */
export interface LotPart {
  readonly lot: number
  readonly quantity: Quantity
}
/** A make as far as lots are concerned: what went in and what came out. */
export interface MadeLots {
  readonly id: number
  readonly inputs: readonly LotPart[]
  readonly outputs: readonly LotPart[]
}
/** A lot that another one was made of (up), or that is in what was made of it (down). */
export interface TracedLot {
  readonly lot: number
  /** Over how many makes at the least. */
  readonly depth: number
  /** How much of it went into those makes (up), or came of them (down). */
  readonly quantity: Quantity
  readonly makes: readonly number[]
}

/**
 * Follows a lot through all makes: up to everything that it was made of, or down to everything that it is in, each lot once,
 * the nearest first. Up and down are one relation read from its two ends. `makesOf` gives the makes of which one of some lots
 * came (up) or into which it went (down); a lot that does not `goOn` is named and not followed: what is kept without lots is
 * all of it and none. A thing that goes into itself is not made of itself. Where `makesOf` gives `undefined` it has read so far
 * and found none yet: whoever goes through it step by step may let others in.
 */
export function traceLot(...asked: Parameters<typeof tracing>): TracedLot[] {
  let found: ReadonlyMap<number, TracedLot> = new Map()
  for (found of tracing(...asked));
  return [...found.values()]
}
/** The same step by step: what is found so far is told after each make, all of it at last. */
export function* tracing(
  start: number,
  way: 'up' | 'down',
  makesOf: (lots: readonly number[], way: 'up' | 'down') => Iterable<MadeLots | undefined>,
  goesOn: (lot: number) => boolean,
): Generator<ReadonlyMap<number, TracedLot>> {
  const found = new Map<number, TracedLot & { quantity: Quantity; makes: number[] }>()
  const seen = new Set<number>()
  let frontier = [start]
  for (let depth = 1; frontier.length; depth++) {
    const next: number[] = []
    for (const make of makesOf(frontier, way)) {
      if (!make) {
        yield found
        continue
      }
      // A make may be reached from several of its lots, on this level or a later one.
      if (seen.has(make.id)) continue
      seen.add(make.id)
      for (const { lot, quantity } of way === 'up' ? make.inputs : make.outputs) {
        if (lot === start) continue
        const known = found.get(lot)
        if (known) {
          known.quantity += quantity
          known.makes.push(make.id)
          continue
        }
        found.set(lot, { lot, depth, quantity, makes: [make.id] })
        if (goesOn(lot)) next.push(lot)
      }
      yield found
    }
    frontier = next
  }
  yield found
}
