import { parse } from 'csv-parse/sync'
import { type DecimalMark, markOf, type Where, withPlainNumbers } from './numbers-in-file.ts'
import { Refused, type RefusedField } from './refused.ts'

/** A line of a file: its number in it, and what stands in each column. */
export interface FileRow<C extends string> {
  readonly at: number
  readonly of: (column: C) => string
}
/** What is wrong with a line; line 0: with all of the file. */
export interface Wrong {
  readonly at: number
  readonly message: string
}
/** Nothing of a file was taken: what is wrong with it, line by line. */
export function notTaken(code: string, wrong: readonly Wrong[]): Refused {
  const fields = wrong.slice(0, 20).map((w): RefusedField => ({
    line: null,
    field: 'text',
    code,
    message: w.at ? `Line ${w.at}: ${w.message}` : w.message,
  }))
  return new Refused(422, code, `${fields[0]!.message} Nothing was taken.`, fields)
}

const named = (head: string) => head.trim().replace(/^"|"$/g, '').toLowerCase().replaceAll('_', ' ')

/**
 * What stands between the columns: of the comma, the semicolon and the tab the one by which the first line names the most
 * columns. Where the decimal mark is a comma, spreadsheets write semicolons, and each of them stands in words.
 */
function delimiterOf(text: string, columns: readonly string[]): string {
  const [head = ''] = text.replace(/^\ufeff/, '').split(/\r?\n|\r/, 1)
  const known = (by: string) => head.split(by).filter(n => columns.includes(named(n))).length
  return [',', ';', '\t'].reduce((best, by) => (known(by) > known(best) ? by : best))
}
/** What a file of ours says without a mark that keeps a spreadsheet from reckoning with it. */
const unmarked = (cell: string) => cell.replace(/^'(?=[=+@-])/, '')

/** What a file is about: its columns, which of them must be there, and the code of its refusals. */
export interface Table<C extends string> {
  readonly columns: readonly C[]
  readonly key: C
  /** Columns that hold numbers; and those of quantities, which are asked of by whoever reads them and knows the item. */
  readonly numbers: readonly C[]
  /** Those where a number stands behind each of several names (`case=12; can=5`). */
  readonly sizes: readonly C[]
  readonly quantities: readonly C[]
  readonly code: string
}
/**
 * The lines of a file whose first line names its columns (RFC 4180); what is no such file is refused in words. Its numbers
 * are given so that each has one reading (rule 58), by the file's decimal mark: as it is said, or as the file shows it.
 */
export function readTable<C extends string>(
  text: string,
  { columns, key, numbers, sizes, quantities, code }: Table<C>,
  saidMark: DecimalMark | null,
): FileRow<C>[] {
  const no = (at: number, message: string) => notTaken(code, [{ at, message }])
  let records: { record: string[]; info: { lines: number } }[]
  const delimiter = delimiterOf(text, columns)
  try {
    records = parse(text, {
      bom: true,
      delimiter,
      info: true,
      relax_column_count: true,
      // `Hose 5" long`, as it is copied out of a spreadsheet.
      relax_quotes: true,
      skip_empty_lines: true,
      trim: true,
    }) as unknown as typeof records
  } catch (e) {
    throw no(0, `This is no CSV file: ${(e as Error).message.split('\n')[0]}`)
  }
  const [head, ...rows] = records
  const names = head?.record.map(named) ?? []
  const known = `Known are ${columns.join(', ')}`
  if (!names.includes(key)) throw no(1, `The first line names the columns. ${known}; ${key} must be there.`)
  const unknown = names.filter(n => n && !(columns as readonly string[]).includes(n))
  if (unknown.length) throw no(1, `Nobody knows the column ${unknown.join(', ')}. ${known}.`)
  const twice = names.find((n, i) => n && names.indexOf(n) !== i)
  if (twice) throw no(1, `The column ${twice} stands twice.`)
  // A comma within a cell that is not quoted would move all that stands behind it to another column.
  const astray = rows.filter(({ record }) => record.some((cell, i) => cell && !names[i]))
  if (astray.length)
    throw notTaken(
      code,
      astray.map(({ info }) => ({
        at: info.lines,
        message: `there are more cells than columns with a name (${names.filter(Boolean).length}). What holds a comma, a semicolon or a tab stands in "quotes".`,
      })),
    )
  const read = rows.map(({ record, info }): FileRow<C> => ({
    at: info.lines,
    of: c => unmarked(record[names.indexOf(c)] ?? ''),
  }))
  const asked = new Map<C, Where>([
    ...numbers.map(c => [c, 'anywhere'] as const),
    ...sizes.map(c => [c, 'behind names'] as const),
  ])
  const all = new Map<C, Where>([...asked, ...quantities.map(c => [c, 'anywhere'] as const)])
  const cells = read.flatMap(r => [...all].map(([c, where]) => [r.of(c), where] as const))
  const mark = saidMark ?? markOf(cells, delimiter)
  return inOneReading(read, mark ? all : asked, mark, code)
}

/** The lines with the numbers of some columns in one reading each; where one has two, nothing of the file is taken. */
function inOneReading<C extends string>(
  rows: readonly FileRow<C>[],
  numbers: ReadonlyMap<C, Where>,
  mark: DecimalMark | undefined,
  code: string,
): FileRow<C>[] {
  const wrong: Wrong[] = []
  const out = rows.map((r): FileRow<C> => {
    const plain = new Map<C, string>()
    for (const [c, where] of numbers) {
      const cell = withPlainNumbers(r.of(c), where, mark)
      if (typeof cell === 'string') plain.set(c, cell)
      else
        wrong.push({
          at: r.at,
          message: `${c}: ${cell.number} could be ${cell.readings.join(' or ')}. Say whether the file has a point or a comma before decimals.`,
        })
    }
    return { at: r.at, of: c => plain.get(c) ?? r.of(c) }
  })
  if (wrong.length) throw notTaken(code, wrong)
  return out
}
