import { SUPPLIERS } from './catalogue.ts'
import type { Station } from './station.ts'

const HOUR = 3_600_000
/** Days that reagents keep once opened, and what one weighs. Densities from memory. */
export const ONCE_OPENED: Record<string, { readonly daysOnceOpened: number; readonly density?: string }> = {
  'HCL-37': { daysOnceOpened: 180, density: '1.18' },
  'LUG-1': { daysOnceOpened: 60 },
  'ISO-P': { daysOnceOpened: 120 },
}

/** What is disposed of by a code of the station’s own. */
export const WASTE_CODES: Record<string, string> = { Reagents: 'GH-2 chemicals', Media: 'GH-4 cultures' }

/** Two bottles stand open on the bench: one is weighed, and some of it was used this morning. */
export function openBottles(s: Station, now: number): void {
  const place = s.areas.get('Wet lab')!
  const at = (hours: number) => ({ effectiveAt: new Date(now - hours * HOUR).toISOString() })
  const line = (code: string, typed: string, more: object = {}) => ({
    id: s.app.uid(),
    item: s.items.get(code)!,
    typed,
    ...more,
  })
  s.book('ines', now, {
    ...at(6),
    kind: 'receipt',
    place,
    head: { supplier: SUPPLIERS['Wet lab'][0]! },
    lines: [line('HCL-37', '3 bottle', { price: '9.80', lot: { id: null, code: 'N3719', expiry: null } })],
  })
  s.book('ines', now, {
    ...at(3),
    kind: 'relabel',
    place,
    lines: [
      line('HCL-37', '1 bottle', { opened: { code: '', useBy: null, weight: '412 g', weighed: 'empty' } }),
      line('LUG-1', '1 bottle'),
    ],
  })
  const [job] = s.jobs.get('Wet lab')!
  s.book('ines', now, {
    ...at(2),
    kind: 'issue',
    place,
    taker: 'Mirja',
    head: { job: job! },
    lines: [line('HCL-37', '0.15'), line('LUG-1', '60')],
  })
}
