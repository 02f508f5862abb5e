/** In which order an organisation writes day, month and year. */
export type DateOrder = 'dmy' | 'mdy' | 'ymd'
const MONTHS = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec']

/** The last day of a month (1–12), in the calendar of ISO 8601. */
export const lastOfMonth = (year: number, month: number): number =>
  month === 2
    ? year % 4 === 0 && (year % 100 !== 0 || year % 400 === 0)
      ? 29
      : 28
    : [4, 6, 9, 11].includes(month)
      ? 30
      : 31

/**
 * The number of a day (`2026-11-27`) in a count without gaps, of which only differences mean something. Source: H. Hinnant,
 * chrono-Compatible Low-Level Date Algorithms, days_from_civil: years begin in March, so that the day that comes and goes is the last.
 */
export function dayNumber(day: string): number {
  const [year, month, date] = day.split('-').map(Number) as [number, number, number]
  const y = month > 2 ? year : year - 1
  const dayOfYear = Math.floor((153 * (month > 2 ? month - 3 : month + 9) + 2) / 5) + date - 1
  return 365 * y + Math.floor(y / 4) - Math.floor(y / 100) + Math.floor(y / 400) + dayOfYear
}

/**
 * Reads a date as people type it from a package: `30 6 2027`, `30.06.27`, `300627`, `30 Jun 2027`, `2027-06-30`, in the
 * organisation's order; a month alone (`06/2027`, `Jun 27`) means its last day, as on packages without a day (GS1 General
 * Specifications 3.4.6, from memory). A year of two digits is 20xx. Where
 * `thisYear` is given, two short numbers are a day and a month of that year instead. Gives `2027-06-30`; undefined where it is no date.
 */
export function readDay(text: string, order: DateOrder, thisYear?: number): string | undefined {
  const parts = text
    .trim()
    .toLowerCase()
    .split(/[\s./,-]+/)
    .filter(Boolean)
  // A year has two digits or four: `30 6 2` is still being typed.
  const iso = (year: string, month: number, day: string | undefined): string | undefined => {
    if (!/^(\d{2}|\d{4})$/.test(year) || month < 1 || month > 12) return undefined
    const y = year.length === 2 ? 2000 + Number(year) : Number(year)
    const d = day === undefined ? lastOfMonth(y, month) : Number(day)
    return y < 1900 || d < 1 || d > lastOfMonth(y, month)
      ? undefined
      : `${y}-${String(month).padStart(2, '0')}-${String(d).padStart(2, '0')}`
  }
  if (parts.length === 1 && /^\d{6}$|^\d{8}$/.test(parts[0]!)) {
    const p = parts[0]!
    const long = p.length === 8
    const cut =
      order === 'ymd'
        ? [p.slice(0, long ? 4 : 2), p.slice(long ? 4 : 2, long ? 6 : 4), p.slice(-2)]
        : [p.slice(0, 2), p.slice(2, 4), p.slice(4)]
    return readDay(cut.join(' '), order)
  }
  const word = parts.findIndex(p => /^[a-z]{3,9}$/.test(p))
  const month = word < 0 ? undefined : MONTHS.indexOf(parts[word]!.slice(0, 3)) + 1
  const numbers = parts.filter((_, i) => i !== word)
  if (!numbers.every(p => /^\d{1,4}$/.test(p)) || month === 0 || parts.length < 2 || parts.length > 3) return undefined
  const [a, b, c] = numbers as [string, string, string]
  if (thisYear !== undefined && numbers.every(n => n.length <= 2)) {
    if (month !== undefined && numbers.length === 1) return iso(String(thisYear), month, a)
    if (numbers.length === 2 && word < 0)
      return order === 'dmy' ? iso(String(thisYear), Number(b), a) : iso(String(thisYear), Number(a), b)
  }
  const yearFirst = a.length > 2 || (order === 'ymd' && (numbers.at(-1)!.length <= 2 || numbers.length === 1))
  if (month !== undefined)
    return numbers.length === 1 ? iso(a, month, undefined) : a.length > 2 ? iso(a, month, b) : iso(b, month, a)
  if (numbers.length === 2) return yearFirst ? iso(a, Number(b), undefined) : iso(b, Number(a), undefined)
  if (yearFirst) return iso(a, Number(b), c)
  return order === 'mdy' ? iso(c, Number(a), b) : iso(c, Number(b), a)
}

/** The calendar day of a day number that may run over the end of its month: 32 January is 1 February. */
export function dayAfter(year: number, month: number, day: number): string {
  let [y, m, d] = [year, month, day]
  for (let last = lastOfMonth(y, m); d > last; last = lastOfMonth(y, m)) {
    d -= last
    m++
    if (m > 12) {
      m = 1
      y++
    }
  }
  return `${y}-${String(m).padStart(2, '0')}-${String(d).padStart(2, '0')}`
}

/** The day so many days later, or (below 0) earlier: `2026-02-27` and 3 are `2026-03-02`. */
export function daysLater(day: string, days: number): string {
  let [year, month, at] = day.split('-').map(Number) as [number, number, number]
  at += days
  while (at < 1) {
    month--
    if (month < 1) {
      month = 12
      year--
    }
    at += lastOfMonth(year, month)
  }
  return dayAfter(year, month, at)
}

/** Reads a time of day as people type it: `14:30`, `14.30`, `1430`, `9:05`, `9`. Gives hours and minutes; undefined where it is no time. */
export function readTime(text: string): { readonly hours: number; readonly minutes: number } | undefined {
  const t = text.trim()
  const m = /^(\d{1,2})(?:[:.h]?(\d{2}))?$/.exec(t)
  if (!m) return undefined
  const [hours, minutes] = [Number(m[1]), Number(m[2] ?? '0')]
  return hours > 23 || minutes > 59 ? undefined : { hours, minutes }
}
