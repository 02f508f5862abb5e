/** Last day of a month (`2026-11`). */
export const lastDay = (m: string): string =>
  new Date(Date.UTC(Number(m.slice(0, 4)), Number(m.slice(5)), 0)).toISOString().slice(0, 10)
/** A month in words: `Nov`, with its year, or in full. */
export const monthWord = (m: string, year = false, month: 'short' | 'long' = 'short'): string =>
  new Intl.DateTimeFormat('en-GB', { month, timeZone: 'UTC', ...(year ? { year: 'numeric' } : {}) }).format(
    new Date(`${m}-15T12:00:00Z`),
  )
