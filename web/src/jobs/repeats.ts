import { dayNumber } from '@shelve/core'
import type { JobHead } from '@shelve/contract'

/** When a job comes again, as it is chosen on the screen; the rule itself is written by RFC 5545. */
export interface Repeats {
  readonly how: 'never' | 'DAILY' | 'WEEKLY' | 'MONTHLY' | 'after'
  /** Every so many of them; or so many days after it is over. */
  readonly every: number
  /** Of weeks: on which days (`TH`); none: on that of its own day. */
  readonly days: readonly string[]
}
export const WEEKDAYS = [
  ['MO', 'Monday'],
  ['TU', 'Tuesday'],
  ['WE', 'Wednesday'],
  ['TH', 'Thursday'],
  ['FR', 'Friday'],
  ['SA', 'Saturday'],
  ['SU', 'Sunday'],
] as const

type Says = Pick<JobHead, 'repeats' | 'again' | 'day'>
/** What a job says, as it is chosen. */
export function readRepeats({ repeats, again }: Says): Repeats {
  if (again !== null) return { how: 'after', every: again, days: [] }
  const part = (name: string) => new RegExp(`${name}=([^;]+)`).exec(repeats)?.[1]
  const how = part('FREQ') as 'DAILY' | 'WEEKLY' | 'MONTHLY' | undefined
  if (!how) return { how: 'never', every: 1, days: [] }
  return { how, every: Number(part('INTERVAL') ?? 1), days: part('BYDAY')?.split(',') ?? [] }
}
/** What was chosen, as a job says it. */
export function writeRepeats({ how, every, days }: Repeats): Pick<JobHead, 'repeats' | 'again'> {
  const n = Math.max(1, Math.round(every) || 1)
  if (how === 'never') return { repeats: '', again: null }
  if (how === 'after') return { repeats: '', again: Math.min(n, 3650) }
  const most = how === 'DAILY' ? 999 : 99
  return {
    repeats: [
      `FREQ=${how}`,
      ...(n > 1 ? [`INTERVAL=${Math.min(n, most)}`] : []),
      ...(how === 'WEEKLY' && days.length
        ? [`BYDAY=${WEEKDAYS.flatMap(([d]) => (days.includes(d) ? [d] : [])).join(',')}`]
        : []),
    ].join(';'),
    again: null,
  }
}
/** When it comes again, in words. */
export function saysRepeats(says: Says): string {
  const { how, every, days } = readRepeats(says)
  if (how === 'never') return ''
  if (how === 'after') return `comes again ${every} day${every === 1 ? '' : 's'} after it is over`
  const unit = { DAILY: 'day', WEEKLY: 'week', MONTHLY: 'month' }[how]
  // Day 0 is a Monday's: 5 January 1970 was one.
  const own = says.day ? WEEKDAYS[(((dayNumber(says.day) - dayNumber('1970-01-05')) % 7) + 7) % 7]![1] : ''
  const names = WEEKDAYS.flatMap(([d, name]) => (days.includes(d) ? [name] : []))
  const on = how === 'WEEKLY' ? ` on ${names.length ? names.join(' and ') : own}` : ''
  return `comes again every ${every === 1 ? unit : `${every} ${unit}s`}${on.trimEnd() === ' on' ? '' : on}`
}
