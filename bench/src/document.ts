import { readFileSync, writeFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import type { Row } from './measure.ts'

const root = fileURLToPath(new URL('../..', import.meta.url))
interface Results {
  readonly measuredAt: string
  readonly results: Readonly<Record<string, readonly Row[]>>
}
const figure = (r: { value: number | undefined; unit: string }): string =>
  r.value === undefined
    ? ''
    : `${r.value >= 100 ? r.value.toFixed(0) : r.value >= 10 ? r.value.toFixed(1) : r.value.toFixed(2)}${r.unit ? ` ${r.unit}` : ''}`

/** Writes the table of docs/performance.md from what was measured last, so that no figure stands there that was not. */
export function document(file = `${root}docs/performance.md`): void {
  const { measuredAt, results } = JSON.parse(readFileSync(`${root}bench/results.json`, 'utf8')) as Results
  const [small, large] = [results['100000']!, results['1000000']!]
  const line = (what: string, s: Row | undefined, l: Row) =>
    `| ${what}${l.note ? `; ${l.note}` : ''} | ${figure({ value: s?.shelve, unit: l.unit })} | ${figure({ value: l.shelve, unit: l.unit })} | ${figure({ value: l.bare, unit: l.unit })} | ${l.ratio === undefined ? '' : `${l.ratio.toFixed(2)} ×`} | ${l.goal} | ${l.met === null ? '' : l.met ? 'met' : 'missed'} |`
  const rows = [
    ...large.map((l, i) => line(l.what, small[i], l)),
    ...results.interface!.map(l => line(l.what, undefined, l)),
    ...results.growth!.map(l => line(`as the ledger grows ten times: ${l.what}`, undefined, l)),
  ]
  const text = readFileSync(file, 'utf8')
  const table = `| what | 100 000 movements | 1 000 000 movements | bare database, 1 000 000 | ratio | goal | |\n|---|---:|---:|---:|---:|---|---|\n${rows.join('\n')}\n`
  const next = text
    .replace(/\| what \| 100 000[\s\S]*?\n(?=\n)/, table)
    .replace(/on \d{4}-\d{2}-\d{2}\. Times/, `on ${measuredAt.slice(0, 10)}. Times`)
  if (next === text && !text.includes(table)) throw new Error('docs/performance.md has no table to fill')
  writeFileSync(file, next)
}
