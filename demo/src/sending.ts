import { schema, setBudget, updateCostCentre, updatePlace } from '@shelve/server'
import { type AreaName, SUPPLIERS } from './catalogue.ts'
import type { Station } from './station.ts'

const HOUR = 3_600_000
/** The filters for the engine come by boat; of what the hide was sent a part has arrived. Written down today. */
export function sendThings(s: Station, now: number): void {
  const line = (code: string, typed: string, more: object = {}) => ({
    id: s.app.uid(),
    item: s.items.get(code)!,
    typed,
    ...more,
  })
  const at = (hours: number) => new Date(now - hours * HOUR).toISOString()
  const launch = s.satellites.get('Launch Petrel')!
  const hide = s.satellites.get('Seal hide')!
  const shed = s.areas.get('Boat shed')!
  s.book('ruben', now, {
    kind: 'receipt',
    effectiveAt: at(30),
    place: launch,
    head: { supplier: SUPPLIERS['Boat shed'][0]! },
    lines: [line('FLT-GEN', '4', { price: '20.50' })],
  })
  s.book('ruben', now, {
    kind: 'dispatch',
    effectiveAt: at(26),
    place: launch,
    head: { towards: shed, carrier: 'Petrel, on the evening tide', due: s.app.today(now + 2 * 24 * HOUR) },
    lines: [line('FLT-GEN', '4')],
  })
  const sent = s.book('ruben', now, {
    kind: 'dispatch',
    effectiveAt: at(75),
    place: s.areas.get('Galley')!,
    head: { towards: hide, carrier: 'Bram and the cart', due: s.app.today(now - 3 * 24 * HOUR) },
    lines: [line('SUG-W', '1.5')],
  })
  if (sent)
    s.book('ruben', now, {
      kind: 'arrival',
      effectiveAt: at(70),
      place: hide,
      head: { sent },
      lines: [line('SUG-W', '1', { asked: '1.5' })],
    })
}

/** Which area each cost centre is served from; the galley is open to its own cook, and one thing in the sick bay is thrown away by two. */
export function setHabits(s: Station): void {
  const { app } = s
  const from: readonly (readonly [string, AreaName])[] = [
    ['CHEM', 'Wet lab'],
    ['BIRD', 'Wet lab'],
    ['MED', 'Sick bay'],
    ['FOOD', 'Galley'],
    ['BOAT', 'Boat shed'],
  ]
  app.setUp(() => {
    for (const c of app.db.select().from(schema.costCentre).all()) {
      const usual = s.areas.get(from.find(([code]) => code === c.code)![1])!
      updateCostCentre(app, c.uid, { name: c.name, code: c.code, usual })
    }
    const galley = app.places.areas().find(a => a.uid === s.areas.get('Galley'))!
    const { name, countEveryDays } = galley
    updatePlace(app, galley.uid, { name, kind: 'area', countEveryDays, openShelf: true }, undefined)
    app.store.client.prepare('update item set witnessed = 1 where uid = ?').run(s.items.get('ANT-H')!)
  })
}

/** What three cost centres may use this year. */
export function setBudgets(s: Station, now: number): void {
  const year = Number(s.app.today(now).slice(0, 4))
  const centres = s.app.db.select().from(schema.costCentre).all()
  for (const [code, amount, warn, stop] of [
    ['FOOD', '75000', 90, null],
    ['BOAT', '20000', 90, 100],
    ['CHEM', '18000', 90, null],
  ] as const)
    s.app.setUp(() => setBudget(s.app, centres.find(c => c.code === code)!.uid, year, { amount, warn, stop }), 'names')
}
