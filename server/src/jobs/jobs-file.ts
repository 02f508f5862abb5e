import { type DateOrder, readDay, readTime } from '@shelve/core'
import { type DecimalMark, type FileRow, notTaken, readTable, type Refused, type Wrong } from '../ground/index.ts'

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
export type Row = FileRow<Column>
const JOBS = {
  columns: COLUMNS,
  key: 'reference',
  numbers: [],
  sizes: [],
  quantities: ['for how much', 'quantity'],
  code: 'jobs_not_read',
} as const
/** The lines of a file of jobs; what is no such file is refused in words. */
export const readRows = (text: string, mark: DecimalMark | null): Row[] => readTable(text, JOBS, mark)
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
export const no = (wrong: readonly Wrong[]): Refused => notTaken(JOBS.code, wrong)
