import { parse } from 'csv-parse/sync'
import { type DateOrder, readDay, readTime } from '@shelve/core'
import { Refused, type RefusedField } from '../ground/index.ts'

const COLUMNS = [
  'reference',
  'name',
  'template',
  'for how much',
  'day',
  'time',
  'cost centre',
  'responsible',
  'note',
  'item',
  'quantity',
] as const
export type Column = (typeof COLUMNS)[number]
/** A line of the file: its number in it, and what stands in each column. */
export interface Row {
  readonly at: number
  readonly of: (column: Column) => string
}

const named = (head: string) => head.trim().replace(/^"|"$/g, '').toLowerCase().replaceAll('_', ' ')

/**
 * What stands between the columns: of the comma, the semicolon and the tab the one by which the first line names the most
 * columns. Where the decimal mark is a comma, spreadsheets write semicolons, and each of them stands in words.
 */
function delimiterOf(text: string): string {
  const [head = ''] = text.replace(/^\ufeff/, '').split(/\r?\n|\r/, 1)
  const known = (by: string) => head.split(by).filter(n => (COLUMNS as readonly string[]).includes(named(n))).length
  return [',', ';', '\t'].reduce((best, by) => (known(by) > known(best) ? by : best))
}

/** The lines of a file of jobs; what is no such file is refused in words. */
export function readRows(text: string): Row[] {
  let records: { record: string[]; info: { lines: number } }[]
  try {
    records = parse(text, {
      bom: true,
      delimiter: delimiterOf(text),
      info: true,
      relax_column_count: true,
      skip_empty_lines: true,
      trim: true,
    }) as unknown as typeof records
  } catch (e) {
    throw no([{ at: 0, message: `This is no CSV file: ${(e as Error).message.split('\n')[0]}` }])
  }
  const [head, ...rows] = records
  const names = head?.record.map(named) ?? []
  if (!names.includes('reference'))
    throw no([
      { at: 1, message: `The first line names the columns. Known are ${COLUMNS.join(', ')}; reference must be there.` },
    ])
  const unknown = names.filter(n => !(COLUMNS as readonly string[]).includes(n))
  if (unknown.length)
    throw no([{ at: 1, message: `Nobody knows the column ${unknown.join(', ')}. Known are ${COLUMNS.join(', ')}.` }])
  return rows.map(({ record, info }) => ({ at: info.lines, of: c => record[names.indexOf(c)] ?? '' }))
}
export interface Wrong {
  readonly at: number
  readonly message: string
}
/**
 * A day and a time as another system or a spreadsheet writes them: by ISO 8601, or in the organisation's order with a year,
 * and without a nought before the hour or with seconds. What is neither stays as it is, and is refused by the contract.
 */
export const whenOf = (row: Row, order: DateOrder): { day: string | null; time: string } => {
  const [day, time] = [row.of('day'), row.of('time')]
  // A month alone is no day on which something is to be done.
  const whole = day.split(/[\s./,-]+/).length === 3
  const at = readTime(time.replace(/^(\d{1,2}:\d{2}):\d{2}$/, '$1'))
  const two = (n: number) => String(n).padStart(2, '0')
  return {
    day: (whole && readDay(day, order)) || day || null,
    time: at ? `${two(at.hours)}:${two(at.minutes)}` : time,
  }
}

/** So many jobs come at once: nobody else books while they are written. */
export const MOST_JOBS = 500
export const no = (wrong: readonly Wrong[]): Refused => {
  const fields = wrong.slice(0, 20).map((w): RefusedField => ({
    line: null,
    field: 'text',
    code: 'jobs_not_read',
    message: w.at ? `Line ${w.at}: ${w.message}` : w.message,
  }))
  return new Refused(422, 'jobs_not_read', `${fields[0]!.message} Nothing was taken.`, fields)
}
