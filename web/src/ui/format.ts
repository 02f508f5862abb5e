import { dayIn, decimal, formatFixed, minorDigits, partsOf, writtenDay, writtenNumber } from '@shelve/core'
import { useSession } from '../shell/session.ts'

/** How the organisation writes numbers, money and dates; only for showing, never for reading back. */
export function useFormat() {
  const session = useSession()

  /** A decimal string with grouped thousands and the organisation's mark; `−` for minus. */
  const number = (text: string | null | undefined, sign = false): string => writtenNumber(text, session.settings, sign)
  /** The same, padded with blanks so that the marks of a column stand under each other (in a mono face). */
  function aligned(text: string | null | undefined, places: number): string {
    if (!text) return ''
    return number(text) + pad(text, places)
  }
  /** The blanks behind a figure that bring its mark under the others of the column. */
  function pad(text: string | null | undefined, places: number): string {
    const frac = text?.split('.')[1]?.length ?? 0
    return places > frac ? ' '.repeat(places - frac + (frac === 0 ? 1 : 0)) : ''
  }
  /** The most decimals in a column. */
  const placesOf = (column: (string | null | undefined)[]): number =>
    column.reduce((most, t) => Math.max(most, t?.split('.')[1]?.length ?? 0), 0)
  const digits = () => minorDigits(session.settings.currency)
  /** Money with the currency's own decimals. */
  function money(text: string | null | undefined, sign = false): string {
    if (text === null || text === undefined || text === '') return ''
    return number(formatFixed(decimal(text), digits()), sign)
  }
  const symbol = () =>
    (({ EUR: '€', GBP: '£', USD: '$', JPY: '¥' }) as Record<string, string>)[session.settings.currency] ??
    `${session.settings.currency} `
  const amount = (text: string | null | undefined, sign = false): string => {
    const m = money(text, sign)
    return m === '' ? '' : m.replace(/^([−+]?)/, `$1${symbol()}`)
  }

  const parts = (at: Date) => partsOf(at.getTime(), session.settings.zone)
  const dayOf = (at: Date): string => dayIn(at.getTime(), session.settings.zone)
  /** Days from today to a date. */
  const daysTo = (day: string): number => Math.round((Date.parse(day) - Date.parse(session.day())) / 86_400_000)
  /** A calendar date, without the year where it is this one. */
  function date(day: string | null | undefined, always = false): string {
    return day ? writtenDay(day, session.settings, always || day.slice(0, 4) !== session.day().slice(0, 4)) : ''
  }
  /** A date in full, with its weekday: `Wednesday 25 November`. */
  function longDay(day: string): string {
    const p = Object.fromEntries(
      new Intl.DateTimeFormat('en-GB', { timeZone: 'UTC', weekday: 'long', day: 'numeric', month: 'long' })
        .formatToParts(new Date(`${day}T12:00:00Z`))
        .map(x => [x.type, x.value]),
    )
    return session.settings.dateOrder === 'mdy'
      ? `${p.weekday}, ${p.month} ${p.day}`
      : `${p.weekday} ${p.day} ${p.month}`
  }
  /** How far a date is: `in 3 days`, `yesterday`. */
  function far(day: string | null | undefined): string {
    if (!day) return ''
    const n = daysTo(day)
    if (n === 0) return 'today'
    if (n === 1) return 'tomorrow'
    if (n === -1) return 'yesterday'
    const span = (x: number) =>
      x < 100 ? `${x} days` : x < 730 ? `${Math.round(x / 30.4)} months` : `${Math.round(x / 365)} years`
    return n > 0 ? `in ${span(n)}` : `${span(-n)} ago`
  }
  /** When something happened: `today 14:32`, `19 Nov 08:10`. */
  function when(instant: string | null | undefined): string {
    if (!instant) return ''
    const at = new Date(instant)
    const p = parts(at)
    const time = `${p.hour}:${p.minute}`
    const n = daysTo(dayOf(at))
    return n === 0 ? `today ${time}` : n === -1 ? `yesterday ${time}` : `${date(dayOf(at))} ${time}`
  }
  return {
    number,
    aligned,
    pad,
    placesOf,
    money,
    amount,
    symbol,
    date,
    longDay,
    far,
    when,
    today: session.day,
    daysTo,
    dayOf,
  }
}

export const STATE_WORDS = {
  out: 'Out',
  short: 'Short',
  short_coming: 'Short, on its way',
  in_range: 'In range',
  over: 'Over target',
  none: 'None here',
} as const
export const METHOD_WORDS = {
  average: 'moving average',
  fifo: 'first in, first out',
  lot: 'actual lot',
  standard: 'standard',
} as const
export const KIND_WORDS: Record<string, string> = {
  opening: 'Opening stock',
  receipt: 'Delivery',
  issue: 'Issue',
  bring_back: 'Brought back',
  recharge: 'Charged elsewhere',
  move: 'Move',
  dispatch: 'Dispatch',
  arrival: 'Arrival',
  waste: 'Waste',
  count: 'Count',
  adjustment: 'Adjustment',
  relabel: 'Opened',
  make: 'Make',
  supplier_return: 'Back to the supplier',
  correction: 'Correction',
  revaluation: 'Revaluation',
  closing: 'Difference settled',
  method_change: 'Change of cost method',
}
/** A unit behind its figure; single things go without one. */
export const unitBehind = (unit: string): string => (unit === 'each' ? '' : ` ${unit}`)
/** What the lines of a working are called. */
export const LABEL_WORDS: Record<string, string> = {
  before: 'Before that',
  on_hand: 'On hand',
  reserved: 'Reserved',
  unusable: 'Not usable',
  coming: 'Coming',
  available: 'Available',
  planned: 'Planned',
  expired: 'Expired',
  held: 'Held',
  recalled: 'Recalled',
  usable: 'Usable',
  receipt: 'Received',
  direct: 'Straight to the user',
  out: 'Taken',
  return: 'Back to the supplier',
  move: 'Moved',
  back: 'Brought back',
  recharge: 'Charged elsewhere',
  spoil: 'Spoiled with whoever had it',
  difference: 'Counted',
  found: 'Found again',
  close: 'Closed',
  event_out: 'Went into',
  event_in: 'Came of',
  standard: 'Standard cost set',
  taken_back: 'Taken back',
  revalued: 'Value put right',
  counted: 'Counted',
  expected: 'Expected at that minute',
  late_slip: 'Slip booked later',
  lies: 'Lies',
  sent: 'Sent',
  target: 'Target',
  minimum: 'Minimum',
  position: 'Available and coming',
}
