import { TZDate } from '@date-fns/tz'
import type { Ground } from '../ground/index.ts'

/** First instant of a month (`2026-11`) in the organisation's zone. */
export function startOfMonth(house: Pick<Ground, 'organisation'>, name: string): number {
  const [y, m] = name.split('-').map(Number) as [number, number]
  return new TZDate(y, m - 1, 1, house.organisation!.zone).getTime()
}

export const nextMonth = (name: string, by = 1): string => {
  const [y, m] = name.split('-').map(Number) as [number, number]
  const n = y * 12 + m - 1 + by
  return `${Math.floor(n / 12)}-${String((n % 12) + 1).padStart(2, '0')}`
}

export const monthNow = (house: Ground): string => house.today().slice(0, 7)
