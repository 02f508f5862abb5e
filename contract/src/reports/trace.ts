import { z } from 'zod'
import { decimal, formatDecimal } from '@shelve/core'
import { Day, Decimal, Instant, Short, Uuid } from '../common.ts'
import { ItemNamed } from '../jobs/templates.ts'

/** How much of a lot lies in a place. */
const PlaceLeft = z.object({ place: z.string(), quantity: Decimal })

/** A lot that another was made of, or that is in what was made of it. */
export const TracedLot = z.object({
  id: Uuid,
  /** Null: of an item without lots, which is named and not followed. */
  code: z.string().nullable(),
  item: Uuid,
  expiry: Day.nullable(),
  state: z.enum(['usable', 'held', 'recalled', 'expired']),
  /** Over how many makes. */
  depth: z.number().int(),
  /** How much of it went in, or came of it. */
  quantity: Decimal,
  /** Where something of it lies still. */
  left: z.array(PlaceLeft),
  /** The slips by which it was made, or went in. */
  makes: z.array(Uuid),
})
export type TracedLot = z.infer<typeof TracedLot>
/** Who got something of a lot, or of what was made of it; what came back is not among it. */
export const LotGot = z.object({
  lot: Uuid,
  code: z.string().nullable(),
  item: Uuid,
  kind: z.enum(['used', 'waste', 'supplier']),
  /** The job, cost centre, reason or supplier. */
  name: z.string(),
  takers: z.array(z.string()),
  quantity: Decimal,
  last: Instant,
  slips: z.array(Uuid),
})
export type LotGot = z.infer<typeof LotGot>
/** A lot followed both ways through all makes. What is named in many rows, an item or a slip, is told once. */
export const LotTrace = z
  .object({
    lot: z.object({ id: Uuid, code: z.string().nullable(), item: Uuid, left: z.array(PlaceLeft) }),
    up: z.array(TracedLot),
    down: z.array(TracedLot),
    got: z.array(LotGot),
    items: z.array(ItemNamed),
    slips: z.array(z.object({ id: Uuid, number: z.string(), at: Instant })),
  })
  .meta({ id: 'LotTrace' })
export type LotTrace = z.infer<typeof LotTrace>

/** A trace of which each row says itself what it is about. */
export function wholeTrace(t: LotTrace) {
  const items = new Map(t.items.map(i => [i.id, i]))
  const slips = new Map(t.slips.map(s => [s.id, s]))
  const named = <R extends { item: string }>(r: R) => ({ ...r, item: items.get(r.item)! })
  const lot = (l: TracedLot) => ({
    ...named(l),
    makes: l.makes.map(m => slips.get(m)!),
    left: formatDecimal(l.left.reduce((sum, x) => sum + decimal(x.quantity), 0n)),
  })
  return {
    lot: t.lot.id,
    up: t.up.map(lot),
    down: t.down.map(lot),
    got: t.got.map(g => ({ ...named(g), slips: g.slips.map(s => slips.get(s)!) })),
    // What is kept without lots may be of any of them.
    left: [t.lot, ...t.down.filter(l => l.code !== null)].flatMap(l =>
      l.left.map(x => ({ lot: l.id, code: l.code, item: items.get(l.item)!, ...x })),
    ),
  }
}
export type WholeTrace = ReturnType<typeof wholeTrace>

/** A lot is held or recalled, with everything that is made of it. */
export const Recall = z
  .object({ held: z.enum(['held', 'recalled']), why: Short.min(1, 'a reason is wanted') })
  .meta({ id: 'Recall' })
/** The lots of which that is so now. */
export const Recalled = z
  .object({ lots: z.array(z.object({ id: Uuid, code: z.string().nullable(), item: z.string() })) })
  .meta({ id: 'Recalled' })
export type Recalled = z.infer<typeof Recalled>
