/** One row of the table. Times in milliseconds unless `unit` says otherwise. */
export interface Row {
  readonly what: string
  readonly shelve: number
  readonly unit: string
  readonly bare?: number
  readonly ratio?: number
  readonly goal: string
  readonly met: boolean | null
  readonly note?: string
}

export const quantile = (of: readonly number[], q: number): number =>
  [...of].sort((a, b) => a - b)[Math.min(of.length - 1, Math.floor(q * of.length))]!
export const median = (of: readonly number[]): number => quantile(of, 0.5)
export async function time<T>(run: () => T | Promise<T>): Promise<{ ms: number; value: T }> {
  const began = process.hrtime.bigint()
  const value = await run()
  return { ms: Number(process.hrtime.bigint() - began) / 1e6, value }
}
export async function times(n: number, run: (i: number) => unknown): Promise<number[]> {
  const out: number[] = []
  for (let i = 0; i < n; i++) out.push((await time(() => run(i))).ms)
  return out
}
/** Two things so often each, ten of one and ten of the other in turn: what the machine does to one it does to the other. */
export async function inTurn(n: number, one: () => unknown, other: () => unknown): Promise<[number[], number[]]> {
  const taken: [number[], number[]] = [[], []]
  for (let i = 0; i < n; i += 10) {
    taken[0].push(...(await times(10, one)))
    taken[1].push(...(await times(10, other)))
  }
  return taken
}
const number = (x: number, unit: string): string =>
  `${x >= 100 ? x.toFixed(0) : x >= 10 ? x.toFixed(1) : x.toFixed(2)} ${unit}`
export function table(title: string, rows: readonly Row[]): string {
  const cells = rows.map(r => [
    r.what,
    number(r.shelve, r.unit),
    r.bare === undefined ? '' : number(r.bare, r.unit),
    r.ratio === undefined ? '' : `${r.ratio.toFixed(2)} ×`,
    r.goal,
    r.met === null ? '' : r.met ? 'met' : 'MISSED',
    r.note ?? '',
  ])
  const head = ['what', 'Shelve', 'bare database', 'ratio', 'goal', '', '']
  const width = head.map((h, i) => Math.max(h.length, ...cells.map(c => c[i]!.length)))
  const line = (c: readonly string[]) =>
    c
      .map((x, i) => (i > 0 && i < 4 ? x.padStart(width[i]!) : x.padEnd(width[i]!)))
      .join('  ')
      .trimEnd()
  return [`\n${title}`, line(head), ...cells.map(line)].join('\n')
}
