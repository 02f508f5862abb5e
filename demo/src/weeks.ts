import { v7 } from 'uuid'
import { openDifferences, setLotState } from '@shelve/server'
import { ITEMS, type AreaName } from './catalogue.ts'
import { DAY, type Line, SATELLITES, type Satellite, type Station, season } from './station.ts'

/** What a count found too few is found again after some days, or closed as unexplained; the last ones are still open. */
export function settle(s: Station, at: number): void {
  s.clock.now = at
  for (const d of openDifferences(s.app, s.app.places.scope(), s.app.places.scope())) {
    if (Date.parse(d.countedAt) > at - 12 * DAY) continue
    const found = d.open.startsWith('-') && s.random.chance(0.4)
    s.book('tova', at, {
      kind: 'closing',
      place: d.place.id,
      lines: [
        {
          id: v7(),
          difference: d.id,
          act: found ? 'found' : 'close',
          item: d.item.id,
          typed: found ? d.open.slice(1) : '',
          to: found ? d.place.id : null,
        },
      ],
    })
  }
}

/** The launch and the hide are filled up from the shelves they belong to, and use some of it. */
export function satelliteTrip(s: Station, at: number): void {
  s.clock.now = at
  for (const [name, rows] of Object.entries(SATELLITES) as [Satellite, readonly string[]][]) {
    const place = s.satellites.get(name)!
    const taken: Line[] = []
    const bySource = new Map<AreaName, Line[]>()
    for (const row of rows) {
      const [code, target] = row.split(' ') as [string, string]
      const it = ITEMS.find(i => i.code === code)!
      const there = s.have(it, place)
      const used = Math.min(there, Math.floor((Number(target) / 4) * season(at) * s.random.next() * 2))
      if (used > 0) taken.push(s.line(it, used))
      const bring = Math.min(Math.floor(Number(target) - there + used), Math.floor(s.have(it) / 2))
      if (bring > 0 && there - used < Number(target) / 2)
        bySource.set(it.area, [...(bySource.get(it.area) ?? []), s.line(it, bring, { to: place })])
    }
    if (taken.length)
      s.book('ruben', at, {
        kind: 'issue',
        place,
        taker: s.random.pick(['Bram', 'Wren']),
        head: { job: s.jobs.get('Boat shed')![name === 'Seal hide' ? 2 : 0]! },
        lines: taken,
      })
    for (const [area, lines] of bySource)
      s.book(s.keeper(area), at + 1_800_000, {
        kind: 'move',
        place: s.areas.get(area)!,
        taker: 'Bram',
        lines,
      })
  }
}

/** Something finds its way to another bin of its area. */
export function move(s: Station, at: number): void {
  s.clock.now = at
  const it = s.random.pick(ITEMS.filter(i => i.identifiedBy === 'quantity' && i.decimals === 0 && s.have(i) >= 4))
  const area = s.areas.get(it.area)!
  s.book(s.keeper(it.area), at, {
    kind: 'move',
    place: area,
    lines: [s.line(it, 2, { to: s.random.pick(s.bins.get(it.area)!) })],
  })
}

/** The invoice of the last delivery names another price for one line. */
export function invoice(s: Station, at: number): void {
  // What came without a price is priced by the invoice; the last deliveries still wait for theirs.
  const due = s.unpriced.filter(u => u.day - s.day >= 8)
  s.unpriced = s.unpriced.filter(u => !due.includes(u))
  for (const u of due)
    s.book('tova', at, {
      kind: 'correction',
      place: s.areas.get(u.area)!,
      head: { corrects: u.slip, why: 'the price came with the invoice' },
      lines: [
        {
          id: v7(),
          ref: u.line.id,
          item: u.line.item,
          act: 'price',
          unit: u.line.unit,
          price: s.price(u.item, 0.01),
        },
      ],
    })
  const last = s.delivered
  if (!last) return
  s.book('tova', at, {
    kind: 'correction',
    place: s.areas.get(last.area)!,
    head: { corrects: last.slip, why: 'the invoice names another price' },
    lines: [
      {
        id: v7(),
        ref: last.line.id,
        item: last.line.item,
        act: 'price',
        unit: last.line.unit,
        price: (Number(last.line.price) * 1.03).toFixed(2),
      },
    ],
  })
  s.delivered = undefined
}

export function recall(s: Station, at: number): void {
  s.clock.now = at
  const it = ITEMS.find(i => i.code === 'PHO-25')!
  const leaf = s.lies(it)[0]
  if (leaf)
    s.app.setUp(
      () => setLotState(s.app, leaf.uid, 'recalled', 'recalled by its maker', s.people.tova),
      'everything',
      'stock',
    )
}

/** A line that was typed wrong, and put right the same day. */
export function mistake(s: Station, at: number): void {
  s.clock.now = at
  const it = ['GLV-M', 'GLV-L', 'VIA-20', 'VIA-50']
    .map(c => ITEMS.find(i => i.code === c))
    .find(i => i && i.decimals === 0 && i.identifiedBy === 'quantity' && s.have(i) > 5)
  if (!it) return
  const area = s.areas.get(it.area)!
  const line = s.line(it, 4)
  const slip =
    s.have(it) > 5
      ? s.book('ines', at, {
          kind: 'issue',
          place: area,
          taker: 'Wren',
          head: { job: s.jobs.get(it.area)![2]! },
          lines: [line],
        })
      : undefined
  if (slip)
    s.book('ines', at + 900_000, {
      kind: 'correction',
      place: area,
      head: { corrects: slip, job: s.jobs.get(it.area)![2]!, note: 'four were typed, two were taken' },
      lines: [s.line(it, 2, { ref: line.id, act: 'replace' })],
    })
}
