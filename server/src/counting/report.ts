import type { CountReport } from '@shelve/contract'
import { formatDecimal } from '@shelve/core'
import { iso, notFound } from '../ground/index.ts'
import { stockChange } from '../ledger/index.ts'
import { contentOf, slipView } from '../papers/index.ts'
import { about, type Caller } from '../rights/index.ts'
import { doneOf } from './coverage.ts'
import { groupOf } from './groups.ts'
import type { House } from './house.ts'
import { openOfSlip } from './open-now.ts'

/**
 * A booked count line by line: what was counted beside what was expected at its minute, the difference, what it was worth
 * when it was booked and what of it is open by now; and what was left out on purpose, or just not counted.
 */
export function countReport(house: House, caller: Caller, uid: string): CountReport {
  const view = slipView(house, caller, uid)
  const record = house.rows.slip.get({ uid })!
  if (record.kind !== 'count' || record.state !== 'booked') throw notFound('booked count')
  const content = contentOf(house, record)
  const open = openOfSlip(house, record.id)
  const moved = house.rows.movementsOf.all({ slip: record.id })
  const written = new Map(house.rows.talliesOf.all({ slip: record.id }).map(t => [t.lineId, t]))
  const tallies = new Map(
    house.rows.lines.all({ slip: record.id }).flatMap(l => {
      const tally = written.get(l.id)
      return tally ? [[l.uid, { ...tally, line: l.id }] as const] : []
    }),
  )
  let net = 0n
  let gross = 0n
  const rows = content.lines.map(l => {
    const item = house.known.item(l.item ?? '')!
    const placeId = house.places.id(l.from ?? content.place ?? '') ?? record.placeId!
    const told = view.lines.find(x => x.id === l.id)
    const tally = tallies.get(l.id)
    const value = stockChange(
      house,
      moved.filter(m => m.lineId === tally?.line),
    )
    net += value
    gross += value < 0n ? -value : value
    const at = tally?.countedAt ?? (l.countedAt === null ? null : Date.parse(l.countedAt))
    return about(house.places.scope([placeId]), {
      line: l.id,
      item: { id: item.uid, code: item.code, name: item.name, unit: item.unit },
      place: house.places.name(placeId),
      lot: tally ? (house.rows.lotById.get({ id: tally.lotId })?.code ?? null) : l.lot?.code || null,
      state: tally?.confirmed ? ('confirmed' as const) : l.counted,
      by: l.counter === null ? null : (house.rows.personNamed.get({ uid: l.counter })?.name ?? null),
      at: at === null || l.counted === 'not' ? null : iso(at),
      expected: tally ? formatDecimal(tally.expected) : null,
      counted: tally ? formatDecimal(tally.counted) : l.counted === 'counted' ? (told?.quantity ?? null) : null,
      difference: tally ? formatDecimal(tally.counted - tally.expected) : null,
      open: tally ? formatDecimal(-(open.get(tally.id)?.quantity ?? 0n)) : null,
      takenBack: told?.state === 'taken_back' || told?.state === 'replaced',
      note: l.note,
      value: tally ? formatDecimal(value) : null,
    })
  })
  const done = doneOf(house, record.id)
  const group = content.head.group === null ? undefined : groupOf(house, content.head.group)
  const counted = rows.filter(r => r.expected !== null)
  return about(house.places.scope([record.placeId!]), {
    slip: uid,
    number: view.number!,
    place: house.places.name(record.placeId!),
    group: group?.name ?? null,
    countedAt: iso(record.effectiveAt!),
    rows,
    counted: counted.length,
    agreeing: counted.filter(r => r.difference === '0').length,
    leftOut: done?.leftOut ?? 0,
    left: done?.open ?? 0,
    net: formatDecimal(net),
    gross: formatDecimal(gross),
  })
}
