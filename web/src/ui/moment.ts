import { TZDate } from '@date-fns/tz'

/**
 * The instant (milliseconds since 1970) at which a clock in `zone` shows a time on a day (`2026-11-25`); undefined where it never
 * does, since it was put forward over it. Of a time that comes twice, when it is put back, the earlier one.
 */
export function momentOf(
  day: string,
  { hours, minutes }: { readonly hours: number; readonly minutes: number },
  zone: string,
): number | undefined {
  const [year, month, date] = day.split('-').map(Number) as [number, number, number]
  const at = new TZDate(year, month - 1, date, hours, minutes, zone).getTime()
  const shows = (t: number) => {
    const d = new TZDate(t, zone)
    return d.getHours() === hours && d.getMinutes() === minutes
  }
  // Clocks are put back by an hour, on Lord Howe by half of one.
  return [at - 3_600_000, at - 1_800_000, at].find(shows)
}
/** What a clock in `zone` shows at an instant, as it is typed: `14:30`. */
export function clockOf(instant: string, zone: string): string {
  const at = new TZDate(instant, zone)
  return `${String(at.getHours()).padStart(2, '0')}:${String(at.getMinutes()).padStart(2, '0')}`
}
