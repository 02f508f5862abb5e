const NARROW = '\u202f'
/** How an organisation writes numbers and dates: for showing and printing, never for reading back. */
export interface Writing {
  readonly decimalMark: string
  readonly dateOrder: string
  readonly zone: string
}

/** A decimal string with grouped thousands and the organisation's mark; `−` for minus, with `sign` also `+`. */
export function writtenNumber(
  text: string | null | undefined,
  { decimalMark }: Pick<Writing, 'decimalMark'>,
  sign = false,
): string {
  if (text === null || text === undefined || text === '') return ''
  const [whole, fraction] = text.replace('-', '').split('.')
  const grouped = whole!.replace(/\B(?=(\d{3})+$)/g, NARROW)
  return `${text.startsWith('-') ? '−' : sign && !/^0(\.0*)?$/.test(text) ? '+' : ''}${grouped}${fraction ? decimalMark + fraction : ''}`
}

/** Day, month and year in the organisation's order; without a year where that is null. */
export const inOrder = (
  day: string,
  month: string,
  year: string | null,
  { dateOrder }: Pick<Writing, 'dateOrder'>,
): string =>
  (dateOrder === 'ymd' ? [year, month, day] : dateOrder === 'mdy' ? [month, day, year] : [day, month, year])
    .filter(Boolean)
    .join(' ')

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sept', 'Oct', 'Nov', 'Dec']
const formats = new Map<string, Intl.DateTimeFormat>()
/**
 * The parts of an instant (milliseconds since 1970) in a zone, in figures: `25`, `11`, `2026`, `09`, `30`. In what order and by
 * what marks a locale writes them differs from one browser to the next, so nothing is ever read out of such a text.
 */
export function partsOf(at: number, zone: string): Record<'day' | 'month' | 'year' | 'hour' | 'minute', string> {
  let f = formats.get(zone)
  if (!f)
    formats.set(
      zone,
      (f = new Intl.DateTimeFormat('en-GB', {
        timeZone: zone,
        year: 'numeric',
        month: '2-digit',
        day: '2-digit',
        hour: '2-digit',
        minute: '2-digit',
        hourCycle: 'h23',
      })),
    )
  return Object.fromEntries(f.formatToParts(at).map(p => [p.type, p.value])) as ReturnType<typeof partsOf>
}
let latest = { minute: NaN, zone: '', day: '' }
/** The calendar day of an instant (milliseconds since 1970) in a time zone, as `2026-11-25`. */
export function dayIn(at: number, zone: string): string {
  // Asked many times for one moment; no day begins within a minute.
  const minute = Math.floor(at / 60_000)
  if (latest.minute === minute && latest.zone === zone) return latest.day
  const { year, month, day } = partsOf(at, zone)
  latest = { minute, zone, day: `${year}-${month}-${day}` }
  return latest.day
}
/** A calendar date (`2026-11-25`): `25 Nov 2026`, or without its year. */
export function writtenDay(day: string, w: Pick<Writing, 'dateOrder'>, withYear = true): string {
  return inOrder(String(Number(day.slice(8))), shortMonth(day.slice(0, 7)), withYear ? day.slice(0, 4) : null, w)
}
/** The short name of a month (`2026-11`): `Nov`. */
export const shortMonth = (month: string): string => MONTHS[Number(month.slice(5)) - 1] ?? month.slice(5)
/** A month (`2026-11`) with its year: `Nov 2026`. */
export const writtenMonth = (month: string): string => `${shortMonth(month)} ${month.slice(0, 4)}`
/** An instant with its year and minute: `25 Nov 2026 14:32`. */
export function writtenInstant(at: number, w: Writing): string {
  const { hour, minute } = partsOf(at, w.zone)
  return `${writtenDay(dayIn(at, w.zone), w)} ${hour}:${minute}`
}
