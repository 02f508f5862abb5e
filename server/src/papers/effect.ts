import type { Effect, EffectLine, LevelsView, SlipContent } from '@shelve/contract'
import {
  atCost,
  type Booked,
  difference,
  foldFacts,
  formatDecimal,
  type Movement,
  type Near,
  ONE,
  groupBy,
} from '@shelve/core'
import { lineValue, slipValue, type SqlBooks } from '../ledger/index.ts'
import { costView, levelsView, type StockItem } from '../position/index.ts'
import { about, isIn, type Scope } from '../rights/index.ts'
import type { House } from './house.ts'
import type { Resolved } from './resolving/resolved.ts'

export interface EffectDraft {
  readonly house: House
  readonly content: SlipContent
  readonly tried: Resolved
  readonly lineIds: ReadonlyMap<string, number>
  readonly books: SqlBooks
}

/** How an item stands in an area, before or after: its levels, and what one costs. */
interface Side {
  readonly levels: LevelsView
  readonly cost: string | null
}

type Sides = ReadonlyMap<string, Side>

/** An item, and the area it comes to or is taken from; everywhere where there is none. */
export interface Subject {
  readonly itemId: number
  readonly areaId: number | null
  /** The area it is taken from, where that is another one. */
  readonly fromId?: number
}
/** Which (item, area) each line is about: where it comes to, or where it is taken from. */
export function subjectsOf(d: EffectDraft): Map<string, Subject> {
  const { house, content } = d
  const { lines, counts = [], changes = [] } = d.tried.draft
  const changed = new Map(changes.map(c => [c.lineId, c]))
  const counted = new Map(counts.map(c => [c.lineId, c]))
  const drafted = new Map(
    [
      ...lines.map(l => [l.lineId, l] as const),
      ...changes.flatMap(c => (c.type === 'replace' ? [[c.lineId, c.by[0]] as const] : [])),
    ]
      // The first of them says where it is: what is set last stays.
      .reverse(),
  )
  const area = (place: number) => (house.places.row(place) ? house.places.area(place) : null)
  const own = content.place === null ? null : area(house.places.id(content.place) ?? -1)
  const everywhere = house.kinds.get(content.kind)!.changesSetUp
  const of = (line: SlipContent['lines'][number]): Subject | undefined => {
    const item = line.item === null ? undefined : house.known.item(line.item)
    // Another cost method is about the item wherever it lies.
    if (everywhere) return item && { itemId: item.id, areaId: null }
    const id = String(d.lineIds.get(line.id))
    const moved = drafted.get(id)
    if (moved) {
      const [from, to] = [area(moved.from), area(moved.to)]
      // What is on its way lies on no shelf.
      if (from === null || from === to || house.places.transit(from))
        return { itemId: moved.itemId, areaId: to ?? from }
      if (to === null || house.places.transit(to)) return { itemId: moved.itemId, areaId: from }
      return { itemId: moved.itemId, areaId: to, fromId: from }
    }
    const count = counted.get(id)
    if (count) return { itemId: count.itemId, areaId: area(count.placeId) }
    const change = changed.get(id)
    if (change && 'key' in change) {
      const m = d.books.movementsAt(change.key.costSeq)[0]
      if (m) return { itemId: m.itemId, areaId: area(m.to) ?? area(m.from) }
    }
    if (change?.type === 'reverse_tally') {
      const t = d.books.tally(change.tallyId)
      if (t) return { itemId: t.itemId, areaId: area(t.placeId) }
    }
    return item && { itemId: item.id, areaId: own }
  }
  return new Map(
    content.lines.flatMap(l => {
      const subject = of(l)
      return subject ? [[l.id, subject]] : []
    }),
  )
}

function sideOf(house: House, it: StockItem, areaId: number | null): Side {
  const here = house.stock.here(it, house.places.scope(areaId === null ? undefined : [areaId]), house.today())
  return { levels: levelsView(here), cost: costView(here) }
}

/** What was last paid for one. */
function usualOf({ lastPaid: paid }: StockItem): string | null {
  return paid && paid.quantity > 0n ? formatDecimal(atCost(ONE, paid)) : null
}

/** What a line will do: how much, of which lots and places; what must not change unseen between looking and booking. */
export interface Plan {
  readonly line: string
  /** All that the line does, and of it what is told of. */
  readonly movements: readonly Movement[]
  readonly shown: readonly Movement[]
  readonly quantity: string
  readonly lots: EffectLine['lots']
  readonly expected: string | null
}

export function planOf(d: EffectDraft, booked: Booked | undefined): Plan[] {
  const { house } = d
  const byLine = groupBy(booked?.movements ?? [], m => m.lineId)
  return d.content.lines.map(l => {
    const id = String(d.lineIds.get(l.id))
    const movements = byLine.get(id) ?? []
    const written = movements.filter(
      m =>
        m.quantity > 0n &&
        (d.content.kind !== 'correction' ||
          m.reverses === null ||
          !movements.some(x => x.reverses === null && x.quantity > 0n)),
    )
    const shown = written.length ? written : movements.filter(m => m.kind === 'difference')
    const expected = d.tried.expected.get(id)
    return {
      line: l.id,
      movements,
      shown,
      quantity: formatDecimal(shown.reduce((sum, m) => sum + m.quantity, 0n)),
      expected: expected ? formatDecimal(expected.expected) : null,
      lots: shown.map(m => {
        const lot = d.books.lotTold(m.lotId)
        const place = house.places.row(m.from) ? m.from : m.to
        return {
          id: lot.uid,
          code: lot.code,
          expiry: lot.expiry,
          quantity: formatDecimal(m.quantity),
          place: house.places.row(place) ? house.places.name(place) : '',
        }
      }),
    }
  })
}

/** How an item stands in an area before a slip and after it, for each that a line is about. */
function sides(
  d: EffectDraft,
  booked: Booked | undefined,
  subjects: Iterable<Subject>,
): { before: Sides; after: Sides } {
  const before = new Map<string, Side>()
  const after = new Map<string, Side>()
  for (const s of subjects)
    for (const areaId of s.fromId === undefined ? [s.areaId] : [s.areaId, s.fromId]) {
      const key = `${s.itemId}.${areaId}`
      if (before.has(key)) continue
      const it = d.house.stock.item(s.itemId)!
      before.set(key, sideOf(d.house, it, areaId))
      after.set(key, sideOf(d.house, booked ? d.house.stock.after(it, booked, d.books) : it, areaId))
    }
  return { before, after }
}

/** What moved beside a tally, by the slip that moved it. */
function nearView(house: House, { slipId, at, delta, before, turned }: Near) {
  const { uid, number } = house.rows.slipById.get({ id: slipId })!
  const instant = (ms: number) => new Date(ms).toISOString()
  const slip = { id: uid, number: number! }
  return { slip, at: instant(at), quantity: formatDecimal(delta), before, turned: instant(turned) }
}

/** What is expected of a line that nobody has counted yet. */
function awaited(d: EffectDraft, id: string): string | null {
  const known = d.tried.awaited.get(id)
  return known ? formatDecimal(known.expected) : null
}

/** Whether what a line brings has no known price: bought without one, or made of something (`unsure`) that was. */
const isGuess = (shown: readonly Movement[], unsure: ReadonlySet<number>): boolean =>
  shown.some(m => m.kind === 'event_in' && unsure.has(m.costSeq)) ||
  foldFacts(
    shown.filter(m => m.kind === 'receipt' || m.kind === 'direct'),
    () => false,
  ).some(f => f.goods === null)

/** Each line's before → after, with the lots it touches and what it is worth. Nothing of it is written. */
export function sidesOf(
  d: EffectDraft,
  booked: Booked | undefined,
  plan: readonly Plan[],
  seen: Scope,
): Pick<Effect, 'lines' | 'goods' | 'charges' | 'value'> {
  const { house } = d
  const subjects = subjectsOf(d)
  const { before, after } = sides(d, booked, subjects.values())
  const plans = new Map(plan.map(p => [p.line, p]))
  const unsure = new Set(booked?.unpriced.flatMap(u => (u.unpriced ? [u.costSeq] : [])))
  const lines: EffectLine[] = []
  for (const l of d.content.lines) {
    const s = subjects.get(l.id)
    // How it stands elsewhere is not for whoever may not look there.
    if (!s || (s.areaId !== null && !isIn(seen, s.areaId))) continue
    const id = String(d.lineIds.get(l.id))
    const key = `${s.itemId}.${s.areaId}`
    const it = house.stock.item(s.itemId)!
    const planned = plans.get(l.id)!
    const { shown } = planned
    const expected = d.tried.expected.get(id)
    const near = expected?.near() ?? []
    const whose = s.areaId === null ? house.places.scope() : house.places.scope([s.areaId])
    lines.push(
      about(whose, {
        line: l.id,
        item: it.uid,
        place: s.areaId === null ? null : house.places.row(s.areaId)!.uid,
        placeName: s.areaId === null ? 'everywhere' : house.places.name(s.areaId),
        reading: d.tried.readings.get(id) ?? '',
        quantity: planned.quantity,
        unit: it.unit,
        provisional: isGuess(shown, unsure),
        lots: planned.lots,
        before: before.get(key)!.levels,
        after: after.get(key)!.levels,
        from:
          s.fromId === undefined || !isIn(seen, s.fromId)
            ? null
            : {
                place: house.places.row(s.fromId)!.uid,
                placeName: house.places.name(s.fromId),
                before: before.get(`${s.itemId}.${s.fromId}`)!.levels,
                after: after.get(`${s.itemId}.${s.fromId}`)!.levels,
              },
        expected: planned.expected ?? awaited(d, id),
        difference: expected ? formatDecimal(difference(expected).figure) : null,
        ...(near.length ? { near: near.map(n => nearView(house, n)) } : {}),
        value: formatDecimal(lineValue(house, planned.movements).figure),
        cost: { before: before.get(key)!.cost, after: after.get(key)!.cost, usual: usualOf(it) },
      }),
    )
  }
  // The whole slip, with the revaluations of earlier lines that follow from it.
  const charges = d.tried.draft.charges?.reduce((sum, c) => sum + c.amount, 0n) ?? 0n
  return {
    lines,
    value: formatDecimal(slipValue(house, booked?.movements ?? []).figure),
    charges: formatDecimal(charges),
    goods: formatDecimal(d.tried.draft.lines.reduce((sum, x) => sum + (x.goods ?? 0n), 0n)),
  }
}
