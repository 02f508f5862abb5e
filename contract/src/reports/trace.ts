import { z } from 'zod'
import { Day, Decimal, Instant, Short, Uuid } from '../common.ts'
import { ItemNamed } from '../jobs/templates.ts'

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
  /** What of it lies somewhere still. */
  left: Decimal,
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
/** Where something of a lot, or of what was made of it, lies still. */
export const LotLeft = z.object({
  lot: Uuid,
  code: z.string().nullable(),
  item: Uuid,
  place: z.string(),
  quantity: Decimal,
})

/** A lot followed both ways through all makes. What is named in many rows, an item or a slip, is told once. */
export const LotTrace = z
  .object({
    lot: Uuid,
    up: z.array(TracedLot),
    down: z.array(TracedLot),
    got: z.array(LotGot),
    left: z.array(LotLeft),
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
  const lot = (l: TracedLot) => ({ ...named(l), makes: l.makes.map(m => slips.get(m)!) })
  return {
    lot: t.lot,
    up: t.up.map(lot),
    down: t.down.map(lot),
    got: t.got.map(g => ({ ...named(g), slips: g.slips.map(s => slips.get(s)!) })),
    left: t.left.map(named),
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
