import type { useFormat } from '../ui/format.ts'

/** How far away a day is, in words; nothing where none is said. */
export function howFar(f: ReturnType<typeof useFormat>, day: string | null): string {
  if (day === null) return ''
  const n = f.daysTo(day)
  return n < -1 ? `for ${-n} days` : n === -1 ? 'since yesterday' : f.far(day)
}
