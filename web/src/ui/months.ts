/** Last day of a month (`2026-11`). */
export const lastDay = (m: string): string =>
  new Date(Date.UTC(Number(m.slice(0, 4)), Number(m.slice(5)), 0)).toISOString().slice(0, 10)
/** A month in full, with its year: `November 2026`. */
export const fullMonth = (m: string): string =>
  new Intl.DateTimeFormat('en-GB', { month: 'long', year: 'numeric', timeZone: 'UTC' }).format(
    new Date(`${m}-15T12:00:00Z`),
  )
