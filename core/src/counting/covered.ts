/** How a line of a sheet stands: whether it was counted, was left out on purpose, or was just not counted. */
export type LineState = 'counted' | 'left_out' | 'open'
export interface SheetState<L> {
  /** What the line is about: an item, or a lot of it, in a place. */
  readonly cell: string
  readonly state: LineState
  readonly line: L
}
export interface Covered<L> {
  readonly counted: number
  readonly leftOut: readonly L[]
  /** Lines of the sheet, and what lay there without standing on it, of which nobody said anything. */
  readonly open: readonly L[]
}

/**
 * How far a sheet covers what is to be counted. A cell is counted where any of its lines is; else left out where any is;
 * else open. What `lay` there when the count began and stands on no line is open too; what `done` says was counted or
 * left out before, on the sheet that this one completes, is not asked for again. A due date moves where nothing is open.
 */
export function coverage<L>(
  lines: Iterable<SheetState<L>>,
  lay: Iterable<{ readonly cell: string; readonly line: L }>,
  done: ReadonlySet<string> = new Set(),
): Covered<L> {
  const best = new Map<string, SheetState<L>>()
  const rank = { counted: 2, left_out: 1, open: 0 }
  for (const l of lines) {
    const known = best.get(l.cell)
    if (!known || rank[l.state] > rank[known.state]) best.set(l.cell, l)
  }
  for (const { cell, line } of lay) if (!best.has(cell)) best.set(cell, { cell, line, state: 'open' })
  const of = (state: LineState) => [...best.values()].filter(l => l.state === state)
  return {
    counted: of('counted').length,
    leftOut: of('left_out').map(l => l.line),
    open: of('open')
      .filter(l => !done.has(l.cell))
      .map(l => l.line),
  }
}
