import { v7 } from 'uuid'
import { formatDecimal } from '@shelve/core'
import { closeMonth, nextMonth, NOBODY } from '@shelve/server'
import { AREAS, ITEMS, type AreaName, type DemoItem } from './catalogue.ts'
import { invoice, mistake, move, recall, satelliteTrip, settle } from './weeks.ts'
import { DAY, type Line, SATELLITES, type Station, season } from './station.ts'
/** One day: issues, on boat days deliveries, now and then waste, a count, something brought back. */
export function day(s: Station, at: number, end: number): void {
  const { random } = s
  const n = (s.day = Math.round((end - at) / DAY))
  // The boat comes on alternate Thursdays; in a winter storm, or once not long ago, it does not.
  const boat = n % 14 === 5 && n !== 19 && (!random.chance(season(at) < 0.7 ? 0.15 : 0.02) || n === 5)
  for (const area of AREAS) {
    const items = ITEMS.filter(i => i.area === area)
    const who = s.keeper(area)
    const time = (h: number) =>
      Math.min(at + h * 3_600_000 + random.int(0, 50) * 60_000, end - random.int(5, 50) * 60_000)
    if (boat || (area === 'Galley' && n % 7 === 5)) deliveries(s, area, items, time(9), boat)
    for (const h of area === 'Galley' ? [6, 11, 16] : [8, 14]) issue(s, area, items, time(h), who)
    if (random.chance(0.12)) waste(s, area, items, time(17), who)
    if (random.chance(0.1)) bringBack(s, area, time(18), who)
    // What is out of date is cleared away once a week; what came up since the last time waits.
    if (n % 7 === 2 && n > 2) expired(s, s.areas.get(area)!, items, time(19), who)
  }
  if (n % 14 === 9) for (const place of s.satellites.values()) expired(s, place, ITEMS, at + 19 * 3_600_000, 'ruben')
  const of = (area: AreaName) => [s.areas.get(area)!, ITEMS.filter(i => i.area === area)] as const
  if (n % 28 === 24) count(s, ...of('Boat shed'), at + 15 * 3_600_000, 'ruben', 12)
  if (n % 28 === 2 && n > 2) count(s, ...of('Wet lab'), at + 16 * 3_600_000, 'ines', 14)
  if (n % 56 === 9) count(s, ...of('Sick bay'), at + 16 * 3_600_000, 'ines', 14)
  if (n % 7 === 4) count(s, ...of('Galley'), at + 15 * 3_600_000, 'ruben', 12)
  if (n % 91 === 30 || n % 91 === 60) {
    const name = n % 91 === 30 ? 'Launch Petrel' : 'Seal hide'
    count(
      s,
      s.satellites.get(name)!,
      ITEMS.filter(i => SATELLITES[name].some(r => r.startsWith(`${i.code} `))),
      at + 17 * 3_600_000,
      'ruben',
      20,
    )
  }
  if (n % 7 === 1) settle(s, at + 11 * 3_600_000)
  if (n === 40) recall(s, at + 10 * 3_600_000)
  if (n % 30 === 6) mistake(s, at + 12 * 3_600_000)
  if (n % 7 === 3) move(s, at + 13 * 3_600_000)
  if (n % 7 === 6) satelliteTrip(s, at + 12 * 3_600_000)
  if (n % 14 === 8) invoice(s, at + 10 * 3_600_000)
  // The books of a month are closed on the fifth of the month after the next.
  if (new Date(at).getUTCDate() === 5) {
    s.clock.now = at + 8 * 3_600_000
    const month = nextMonth(s.app.today().slice(0, 7), -2)
    if (month >= s.app.today(s.begun).slice(0, 7)) closeMonth(s.app, { ...NOBODY, caller: s.caller('tova') }, month)
  }
}

function deliveries(s: Station, area: AreaName, items: readonly DemoItem[], at: number, boat: boolean): void {
  const short = items.filter(
    it =>
      (boat || ['Milk and cheese', 'Vegetables'].includes(it.category)) &&
      s.have(it) < upTo(s, it, at) * 0.6 &&
      !(it.code === 'FLT-045' || it.code === 'SAL-10' || it.code === 'IMP-W'),
  )
  for (const supplier of new Set(short.map(i => i.supplier))) {
    const lines = short
      .filter(i => i.supplier === supplier && !s.random.chance(0.05))
      .flatMap(it =>
        s.arrival(
          it,
          Math.max(1, Math.ceil((upTo(s, it, at) - s.have(it)) / it.size)),
          at,
          s.random.pick([0, 0, 0.02, 0.04, -0.015]),
          true,
        ),
      )
    const slip =
      lines.length &&
      s.book(s.keeper(area), at, {
        kind: 'receipt',
        place: s.areas.get(area)!,
        taker: 'the boat',
        head: {
          supplier,
          deliveryNote: `DN ${s.random.int(10, 99)}-${s.random.int(1000, 9999)}`,
          charges: boat ? [{ label: 'Freight', amount: String(s.random.int(18, 64)), basis: 'value' }] : [],
        },
        lines,
      })
    if (slip)
      for (const line of lines)
        if (!line.price)
          s.unpriced.push({
            slip,
            line,
            item: ITEMS.find(i => s.items.get(i.code) === line.item)!,
            area,
            day: s.day,
          })
    const priced = lines.find(l => l.price)
    if (slip && priced) s.delivered = { slip, area, line: priced }
  }
}

/** What an item is ordered up to: the use of some weeks, or of as long as it keeps. */
function upTo(s: Station, it: DemoItem, at: number): number {
  return it.life && it.life < 40 ? it.perDay * season(at) * it.life * 0.75 : it.perDay * Math.max(1, season(at)) * 27
}

function issue(s: Station, area: AreaName, items: readonly DemoItem[], at: number, who: 'ines' | 'ruben'): void {
  const share = area === 'Galley' ? 1 / 3 : 1 / 2
  const lines: Line[] = []
  const taken: { item: DemoItem; typed: number; line: string }[] = []
  for (const it of s.random.some(items, s.random.int(4, area === 'Galley' ? 13 : 8))) {
    const factor = (items.length / (area === 'Galley' ? 8.5 : 6)) * share * season(at)
    const wanted = it.perDay * factor * (0.5 + s.random.next())
    const q =
      it.identifiedBy === 'serial'
        ? s.random.chance(it.perDay * 4)
          ? 1
          : 0
        : it.decimals
          ? Number(wanted.toFixed(Math.min(2, it.decimals)))
          : Math.floor(wanted + s.random.next())
    if (q <= 0 || s.have(it) < q) continue
    const line = s.line(it, q)
    lines.push(line)
    taken.push({ item: it, typed: q, line: line.id })
  }
  if (!lines.length) return
  const slip = s.book(who, at, {
    kind: 'issue',
    place: s.areas.get(area)!,
    taker: s.random.pick(['Mirja', 'Sorrel', 'Oskar', 'Wren', 'Bram', 'Linnea']),
    head: { job: s.random.pick(s.jobs.get(area)!) },
    lines,
  })
  if (slip) s.issued.push(...taken.map(t => ({ slip, area, ...t })))
}

function waste(s: Station, area: AreaName, items: readonly DemoItem[], at: number, who: 'ines' | 'ruben'): void {
  const it = s.random.pick(
    area === 'Galley'
      ? items.filter(i => ['Vegetables', 'Milk and cheese'].includes(i.category))
      : items.filter(i => i.identifiedBy !== 'serial'),
  )
  const q = it.decimals ? Number((it.perDay * 0.6 + 0.1).toFixed(2)) : Math.max(1, Math.round(it.perDay))
  if (s.have(it) < q) return
  s.book(who, at, {
    kind: 'waste',
    place: s.areas.get(area)!,
    head: {
      reason: s.reasons.get(area === 'Galley' ? 'Spoiled' : s.random.pick(['Damaged', 'Spilled', 'Contaminated']))!,
    },
    lines: [s.line(it, q)],
  })
}

/** Everything of an area that is out of date goes to waste. */
function expired(s: Station, place: string, items: readonly DemoItem[], at: number, who: 'ines' | 'ruben'): void {
  s.clock.now = at
  const today = s.app.today()
  const lines = items
    .filter(i => i.identifiedBy === 'lot_expiry')
    .flatMap(it =>
      s
        .lies(it, place)
        .filter(l => l.expiry !== null && l.expiry < today)
        .map(l =>
          s.line(it, formatDecimal(l.quantity), {
            lot: { id: l.uid },
            from: s.app.places.row(l.placeId)!.uid,
          }),
        ),
    )
  if (lines.length) s.book(who, at, { kind: 'waste', place, head: { reason: s.reasons.get('Expired')! }, lines })
}

function bringBack(s: Station, area: AreaName, at: number, who: 'ines' | 'ruben'): void {
  const x = s.issued.filter(i => i.area === area && i.typed >= 2 && i.item.decimals === 0).at(-1)
  if (x)
    s.book(who, at, {
      kind: 'bring_back',
      place: s.areas.get(area)!,
      lines: [{ id: v7(), ref: x.line, item: s.items.get(x.item.code)!, typed: '1' }],
    })
}

/** So many days back people have said of a count by turns what it leaves out; before, an area was never counted as a whole. */
const SAID = 120

/** A count by turns: some lines of an area, most of which agree; the others are left out this time, which is said since `SAID`. */
function count(
  s: Station,
  place: string,
  items: readonly DemoItem[],
  at: number,
  who: 'ines' | 'ruben',
  most: number,
): void {
  const lines: Line[] = []
  s.clock.now = at
  for (const it of s.random.some(
    items.filter(i => i.identifiedBy !== 'serial'),
    most,
  )) {
    for (const leaf of s.lies(it, place).slice(0, 2)) {
      const lot = leaf
      const q = Number(formatDecimal(leaf.quantity))
      const off = s.random.chance(0.22) && q >= 2 ? -s.random.int(1, Math.min(3, Math.floor(q - 1))) : 0
      const typed = formatDecimal(leaf.quantity + BigInt(off) * 1_000_000n)
      lines.push(
        s.line(it, typed, {
          from: s.app.places.row(leaf.placeId)!.uid,
          lot: lot.code === null ? null : { id: lot.uid },
          counted: off ? 'counted' : 'confirmed',
          again: off ? typed : '',
        }),
      )
    }
  }
  const said = new Set(lines.map(l => `${l.item} ${l.lot?.id ?? ''} ${l.from}`))
  for (const { item, lot, code, from } of s.day <= SAID ? s.lying(place) : [])
    if (!said.has(`${item} ${code === null ? '' : lot} ${from}`))
      lines.push({
        id: v7(),
        item,
        from,
        lot: code === null ? null : { id: lot },
        counted: 'left_out',
        note: 'not its turn',
      })
  s.book(who, at + 1_200_000, { kind: 'count', place, lines })
}
