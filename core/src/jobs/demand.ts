import { firstToGo, lotState } from '../lots/state.ts'
import { max, min, type Quantity } from '../quantity/micro.ts'
import type { Lying, Placed } from '../position/facts.ts'

/** What a job that is not over needs of an item, and what was taken for it so far, net of what came back. */
export interface OpenNeed {
  readonly needId: number
  readonly jobId: number
  /** Where the job is done. */
  readonly placeId: number
  /** By when it is needed (`2026-11-27`); null: no day was said, it is as good as today. */
  readonly day: string | null
  readonly quantity: Quantity
  readonly used: Quantity
}

/** What was set aside for a need: so much in a place, of one lot where that was wished; `drawn` was taken of it since. */
export interface Reservation {
  /** In the order in which they were made. */
  readonly id: number
  readonly needId: number
  readonly placeId: number
  readonly lotId: number | null
  readonly quantity: Quantity
  readonly drawn: Quantity
}

/** Something that was taken for a need from a place, or (below zero) came back there. */
export interface Taken {
  readonly needId: number
  readonly seq: number
  readonly placeId: number
  readonly lotId: number
  readonly quantity: Quantity
}
/** What was taken for each need, net of what came back. */
export function usedOf(taken: readonly Pick<Taken, 'needId' | 'quantity'>[]): Map<number, Quantity> {
  const used = new Map<number, Quantity>()
  for (const t of taken) used.set(t.needId, (used.get(t.needId) ?? 0n) + t.quantity)
  return used
}
/**
 * What was drawn on reservations: a job's own issue uses its reservation first (rule 65), the first that is of that place
 * and lot. What was taken before one was made (`since`: the movement written last by then) draws nothing on it, and what
 * comes back of that gives it nothing.
 */
export function drawOn(
  rows: readonly (Omit<Reservation, 'drawn'> & { readonly since: number })[],
  taken: readonly Taken[],
  inside: Shelves['inside'],
): Reservation[] {
  const from = new Map<string, { placeId: number; lotId: number; needId: number; seq: number; quantity: Quantity }>()
  for (const t of [...taken].sort((a, b) => a.seq - b.seq)) {
    const key = `${t.needId}.${t.placeId}.${t.lotId}.${rows.filter(r => r.since < t.seq).length}`
    const own = from.get(key)
    if (own) own.quantity += t.quantity
    else from.set(key, { ...t })
  }
  const left = [...from.values()]
  return rows.map(({ since, ...r }) => {
    let drawn = 0n
    for (const t of left) {
      if (t.needId !== r.needId || t.seq <= since || t.quantity <= 0n || drawn >= r.quantity) continue
      if (!inside(t.placeId, r.placeId) || (r.lotId !== null && r.lotId !== t.lotId)) continue
      const x = min(t.quantity, r.quantity - drawn)
      t.quantity -= x
      drawn += x
    }
    return { ...r, drawn }
  })
}

/** How one item lies, for whoever asks what is kept for whom. */
export interface Shelves {
  readonly lying: readonly Lying[]
  /** Today in the organisation's zone. */
  readonly today: string
  /** Whether what lies in a place may be used at all. */
  readonly shelf: (placeId: number) => boolean
  /** Whether a place lies in another, or is it. */
  readonly inside: (placeId: number, outer: number) => boolean
}

/** What is really kept by a reservation: less than was asked for where stock has fallen under it. */
export interface Held {
  readonly reservation: Reservation
  /** What it still asks for: what was reserved, less what was drawn of it, never more than its need lacks. */
  readonly wanted: Quantity
  readonly held: Quantity
}

/** What may be taken of a leaf, while it is given out. */
interface Free {
  readonly leaf: Lying
  left: Quantity
}

/** The day that counts for a need: its own, never one that has passed. */
const dayOf = (need: Pick<OpenNeed, 'day'>, today: string): string =>
  need.day === null || need.day < today ? today : need.day

/** What is wanted first comes first. */
const byDay =
  (today: string) =>
  (a: Pick<OpenNeed, 'day'>, b: Pick<OpenNeed, 'day'>): number => {
    const [x, y] = [dayOf(a, today), dayOf(b, today)]
    return x < y ? -1 : x > y ? 1 : 0
  }

/** Takes from what is free, first to expire first; gives how much of `wanted` there was. */
function takeFrom(free: readonly Free[], wanted: Quantity, fits: (leaf: Lying) => boolean): Quantity {
  let taken = 0n
  for (const f of free) {
    if (taken >= wanted) break
    if (!fits(f.leaf)) continue
    const x = min(f.left, wanted - taken)
    f.left -= x
    taken += x
  }
  return taken
}

const freeOf = ({ lying, shelf }: Shelves): Free[] =>
  lying
    .filter(l => shelf(l.placeId))
    .map(leaf => ({ leaf, left: leaf.quantity }))
    .sort((a, b) => firstToGo(asLot(a.leaf), asLot(b.leaf)) || a.leaf.placeId - b.leaf.placeId)
const asLot = (l: Lying) => ({ id: l.lotId, expiry: l.expiry, held: l.held, received: l.lotId })

const left = (need: OpenNeed): Quantity => max(need.quantity - need.used, 0n)

/**
 * What each reservation really keeps (rule 65): of what lies there and may be used on its job's day, never more than there
 * is. What was asked for of one lot beyond what there is of that lot yields first; then the job that is due last, then
 * the later reservation. Also gives what is free beside them.
 */
function keep(needs: readonly OpenNeed[], reservations: readonly Reservation[], at: Shelves): [Held[], Free[]] {
  const free = freeOf(at)
  const needOf = new Map(needs.map(n => [n.needId, n]))
  const lacks = new Map(needs.map(n => [n.needId, left(n)]))
  const order = byDay(at.today)
  const rows = reservations
    .filter(r => needOf.has(r.needId))
    .sort((a, b) => order(needOf.get(a.needId)!, needOf.get(b.needId)!) || a.id - b.id)
  // Who asked for any lot leaves alone, as long as there is another, what somebody asked for by its lot.
  const wished = new Set(rows.flatMap(r => (r.lotId === null ? [] : [r.lotId])))
  const held = rows.map((reservation): Held => {
    const { needId, placeId, lotId } = reservation
    const wanted = min(max(reservation.quantity - reservation.drawn, 0n), lacks.get(needId)!)
    lacks.set(needId, lacks.get(needId)! - wanted)
    const day = dayOf(needOf.get(needId)!, at.today)
    const fits = (l: Lying) => at.inside(l.placeId, placeId) && lotState(l, day) === 'usable'
    const got = lotId === null ? takeFrom(free, wanted, l => fits(l) && !wished.has(l.lotId)) : 0n
    return {
      reservation,
      wanted,
      held: got + takeFrom(free, wanted - got, l => fits(l) && (lotId === null || l.lotId === lotId)),
    }
  })
  return [held, free]
}

/** What each reservation really keeps, in the order in which they keep it: the last yields first (rule 65). */
export const heldNow = (needs: readonly OpenNeed[], reservations: readonly Reservation[], at: Shelves): Held[] =>
  keep(needs, reservations, at)[0]

/** What is kept for nobody and could be set aside for a need: in a place, of one lot where that is wished, good on its day. */
export function freeFor(
  need: OpenNeed,
  where: Pick<Reservation, 'placeId' | 'lotId'>,
  needs: readonly OpenNeed[],
  reservations: readonly Reservation[],
  at: Shelves,
): Quantity {
  const day = dayOf(need, at.today)
  return keep(needs, reservations, at)[1].reduce(
    (sum, { leaf, left: x }) =>
      at.inside(leaf.placeId, where.placeId) &&
      (where.lotId === null || where.lotId === leaf.lotId) &&
      lotState(leaf, day) === 'usable'
        ? sum + x
        : sum,
    0n,
  )
}

/** What a need is planned to take beyond what is kept for it: a demand of its place, by its day. */
export interface Planned extends Placed {
  readonly needId: number
  readonly day: string | null
}
export function plannedOf(needs: readonly OpenNeed[], held: readonly Held[]): Planned[] {
  const kept = sumByNeed(held)
  return needs.flatMap(n => {
    const quantity = left(n) - (kept.get(n.needId) ?? 0n)
    return quantity > 0n ? [{ needId: n.needId, placeId: n.placeId, day: n.day, quantity }] : []
  })
}
function sumByNeed(held: readonly Held[]): Map<number, Quantity> {
  const sums = new Map<number, Quantity>()
  for (const h of held) sums.set(h.reservation.needId, (sums.get(h.reservation.needId) ?? 0n) + h.held)
  return sums
}

/** What is on its way: to a place, on a day. */
export interface OnItsWay extends Placed {
  readonly day: string
}
/** Where what a need lacks is to come from. The parts add up to what it lacks. */
export interface Met {
  readonly needId: number
  /** What is kept for it, and what is free where the job is. */
  readonly held: Quantity
  readonly here: Quantity
  /** What comes there by its day, and the last day of that. */
  readonly coming: Quantity
  readonly comesOn: string | null
  /** What is free in other places, by place. */
  readonly elsewhere: readonly Placed[]
  /** What comes too late for it, and when the first of that comes. */
  readonly late: Quantity
  readonly lateOn: string | null
  readonly missing: Quantity
}

/**
 * Whether the needs of one item can be met, all together: each in the order of its day takes what is kept for it, then what
 * is free where its job is done and good until then, then what comes there in time. What could be fetched from elsewhere is
 * asked only when every need has had what lies where it is; then what comes late; the rest is missing. Nothing is given
 * out twice. `seen` tells the places that may be spoken of.
 */
export function meetNeeds(
  needs: readonly OpenNeed[],
  reservations: readonly Reservation[],
  coming: readonly OnItsWay[],
  at: Shelves,
  seen: (placeId: number) => boolean = () => true,
): Map<number, Met> {
  const [held, free] = keep(needs, reservations, at)
  const kept = sumByNeed(held)
  const onTheWay = coming
    .map(c => ({ ...c, day: dayOf(c, at.today), left: c.quantity }))
    .sort((a, b) => (a.day < b.day ? -1 : 1))
  /** What comes to a place, the first first: how much of what is wanted, and the first and the last day of it. */
  const arriving = (placeId: number, wanted: Quantity, fits: (day: string) => boolean) => {
    let quantity = 0n
    const days: string[] = []
    for (const c of onTheWay) {
      if (!fits(c.day) || !at.inside(c.placeId, placeId)) continue
      const x = min(c.left, wanted - quantity)
      if (x <= 0n) continue
      c.left -= x
      quantity += x
      days.push(c.day)
    }
    return { quantity, first: days[0] ?? null, last: days.at(-1) ?? null }
  }
  const usable = (day: string) => (l: Lying) => lotState(l, day) === 'usable'
  const order = byDay(at.today)
  const rows = [...needs]
    .sort((a, b) => order(a, b) || a.needId - b.needId)
    .map(need => {
      const day = dayOf(need, at.today)
      const own = kept.get(need.needId) ?? 0n
      let lacks = left(need) - own
      const here = takeFrom(free, lacks, l => at.inside(l.placeId, need.placeId) && usable(day)(l))
      lacks -= here
      const inTime = arriving(need.placeId, lacks, d => d <= day)
      return { need, day, own, here, inTime, lacks: lacks - inTime.quantity }
    })
  return new Map(
    rows.map(({ need, day, own, here, inTime, lacks }) => {
      const elsewhere: Placed[] = []
      let fetched = 0n
      for (const f of free) {
        const x = seen(f.leaf.placeId) && usable(day)(f.leaf) ? min(f.left, lacks - fetched) : 0n
        if (x <= 0n) continue
        f.left -= x
        fetched += x
        elsewhere.push({ placeId: f.leaf.placeId, quantity: x })
      }
      const late = arriving(need.placeId, lacks - fetched, () => true)
      const met: Met = {
        needId: need.needId,
        held: own,
        here,
        coming: inTime.quantity,
        comesOn: inTime.last,
        elsewhere,
        late: late.quantity,
        lateOn: late.first,
        missing: lacks - fetched - late.quantity,
      }
      return [need.needId, met]
    }),
  )
}

/** In a word, where a need comes from: the worst of its parts says it. */
export type Whence = 'here' | 'coming' | 'elsewhere' | 'late' | 'missing'
export const whenceOf = (m: Met): Whence =>
  m.missing > 0n
    ? 'missing'
    : m.late > 0n
      ? 'late'
      : m.elsewhere.length
        ? 'elsewhere'
        : m.coming > 0n
          ? 'coming'
          : 'here'
