import type { Effect, EffectLine, RefusalView, SlipContent, SlipLine } from '@shelve/contract'
import { groupBy, type Value } from '@shelve/core'
import { letIn } from '../ground/index.ts'
import { type Memory, slipValue, SqlBooks } from '../ledger/index.ts'
import type { StockItem } from '../position/index.ts'
import { type Caller, reach } from '../rights/index.ts'
import { attempt, mayOverride } from './attempt.ts'
import { numbered, refuseForeignLines } from './drafts.ts'
import { planOf, sidesOf } from './effect.ts'
import { planSaid } from './fingerprint.ts'
import type { Does } from './hooks.ts'
import type { House } from './house.ts'
import { LOOKS } from './looks.ts'
import { worded } from './refusals.ts'

/** What was judged of all lines about one item. */
interface Judged {
  /** Its lines, as they were judged, and what they said. */
  readonly own: readonly SlipLine[]
  readonly said: string
  /** How the item stood: another one as soon as anything happens to it. */
  readonly it: StockItem | undefined
  readonly refusals: readonly RefusalView[]
  readonly lines: readonly EffectLine[]
  readonly plan: ReadonlyMap<string, string>
  readonly value: Value
  readonly goods: Value
  /** What of it would be written, and where that does something: each by the id of its line, which has another number in another part. */
  readonly moves: Does | undefined
  /** Whether anything of it would be written. */
  readonly does: boolean
}
/** The same of a whole slip, in the order of its lines: of what was told before only what differs. */
export type JudgedSlip = Pick<Judged, 'refusals' | 'value' | 'goods'> & {
  readonly told: Pick<Effect, 'lines' | 'tag' | 'since' | 'without'>
  readonly plan: readonly string[]
  readonly places: ReadonlySet<number>
  readonly notes: readonly string[]
}

/** What was judged of a slip that somebody is writing, item by item; `under`: its head, the day, and what its writer may. */
interface Kept {
  readonly under: string
  readonly items: Map<string, Judged>
  /** What was told at the last looks, each under its name. */
  looks: readonly { readonly tag: string; readonly lines: ReadonlyMap<string, EffectLine> }[]
}
/** So many slips are kept at once: what is looked at again costs one judgement of the whole. */
const MOST = 12

/** What was judged of a slip before, as long as nothing is booked, and neither its head nor its writer's rights are others. */
function keptOf(house: House, caller: Caller, uid: string, content: SlipContent, memory: Memory): Kept {
  const slips = memory.recall('slips judged by item', () => new Map<string, Kept>())
  const under = JSON.stringify([
    { ...content, lines: undefined },
    house.today(),
    mayOverride(house, caller, content),
    reach(house, caller).key,
    reach(house, caller, 'book').key,
  ])
  const key = `${uid} ${caller.id}`
  const known = slips.get(key)
  // What was asked last stands last: the first is the one that nobody asked for longest.
  slips.delete(key)
  const kept = known?.under === under ? known : { under, items: new Map<string, Judged>(), looks: [] }
  slips.set(key, kept)
  if (slips.size > MOST) slips.delete(slips.keys().next().value!)
  return kept
}

/**
 * A slip of which what it does of one item is nothing to the others is judged item by item while it is written:
 * only what changed since it was last asked. Undefined where it is to be judged as a whole: it does nothing yet, or something is wrong with
 * it as a whole, or with what it does.
 */
export function judgedByItem(
  house: House,
  caller: Caller,
  uid: string,
  content: SlipContent,
  memory: Memory,
  since: string | undefined,
): JudgedSlip | undefined {
  const whole = numbered(house, uid, content)
  refuseForeignLines(house, whole)
  const lineId = (line: string) => String(whole.lineIds.get(line))
  const kept = keptOf(house, caller, uid, content, memory)
  if (judgeFresh(house, caller, uid, content, memory, kept) === undefined) return undefined
  const items = [...new Set(content.lines.map(l => l.item ?? ''))].map(item => kept.items.get(item)!)
  const judged = together(content.lines, items)
  if (!judged) return undefined
  // What rooms of work say is about all its lines together: whoever is charged with them may have no more of a budget.
  const does = allOf(items, lineId)
  const override = mayOverride(house, caller, content)
  const more = house.hooks.flatMap(h => h.refusals?.(content, whole.id, lineId, does, override) ?? [])
  const refusals = [...judged.refusals, ...worded(house, caller, content, { refusals: more, lineIds: whole.lineIds })]
  const notes = house.hooks.flatMap(h => h.notes?.(content, lineId, does) ?? [])
  const { lines, ...rest } = judged
  return { ...rest, refusals, notes, told: tellsSince(kept, house.uid(), lines, since) }
}

/**
 * Judges what changed since it was last asked, of as many lines as `most` and some more, and keeps it. Gives whether there is
 * more; undefined where that cannot be judged by itself.
 */
function judgeFresh(
  house: House,
  caller: Caller,
  uid: string,
  content: SlipContent,
  memory: Memory,
  kept: Kept,
  most = Infinity,
): boolean | undefined {
  const byItem = groupBy(content.lines, l => l.item ?? '')
  for (const item of kept.items.keys()) if (!byItem.has(item)) kept.items.delete(item)
  const stockOf = (item: string) => {
    const known = house.known.item(item)
    return known && house.stock.item(known.id)
  }
  const fresh = new Set<string>()
  let lines = 0
  let more = false
  for (const [item, own] of byItem) {
    const known = kept.items.get(item)
    if (known && known.it === stockOf(item) && saysSame(known, own)) continue
    if ((more = lines >= most)) break
    fresh.add(item)
    lines += own.length
  }
  if (fresh.size) {
    const part = { ...content, lines: content.lines.filter(l => fresh.has(l.item ?? '')) }
    const judged = apart(house, caller, uid, part, memory, stockOf)
    if (!judged) return undefined
    for (const [item, j] of judged) kept.items.set(item, j)
  }
  return more
}

/** So many lines, or some more, are judged at once while others are let in. */
const PIECE = 40
/**
 * Judges a long slip before it is asked what it does: some lines at a time, others being let in. What happens meanwhile is
 * judged anew then, as ever.
 */
export async function judgeAhead(house: House, caller: Caller, uid: string, content: SlipContent): Promise<void> {
  if (content.lines.length <= PIECE || !house.kinds.get(content.kind)!.byItem?.(content)) return
  const judge = house.store.client.transaction(() => {
    const memory = house.trials.memory()
    return judgeFresh(house, caller, uid, content, memory, keptOf(house, caller, uid, content, memory), PIECE)
  })
  for (let n = 0; n < content.lines.length && judge.deferred(); n += PIECE) await letIn()
}

/** What some items' lines would do, as if they were one slip. */
function allOf(items: readonly Judged[], lineId: (line: string) => string): Does | undefined {
  const all = items.flatMap(j => j.moves ?? [])
  if (!all.length) return undefined
  const named = <T extends { readonly lineId: string }>(of: T): T => ({ ...of, lineId: lineId(of.lineId) })
  return {
    effectiveAt: all[0]!.effectiveAt,
    movements: all.flatMap(m => m.movements.map(named)),
    touched: all.flatMap(m => m.touched.map(named)),
  }
}

/** Whether lines say what was judged: of a slip of which only a part was sent most of them are the very same. */
const saysSame = ({ own, said }: Judged, lines: readonly SlipLine[]): boolean =>
  (own.length === lines.length && own.every((l, i) => l === lines[i])) || said === JSON.stringify(lines)

/**
 * What is told of the lines to whoever names a look they were told: what is another by now. Each that was not judged anew
 * is the very same.
 */
function tellsSince(
  kept: Kept,
  tag: string,
  lines: readonly EffectLine[],
  since: string | undefined,
): Pick<Effect, 'lines' | 'tag' | 'since' | 'without'> {
  const before = kept.looks.find(l => l.tag === since)
  const now = new Map(lines.map(l => [l.line, l]))
  kept.looks = [...kept.looks.slice(1 - LOOKS), { tag, lines: now }]
  if (!before) return { tag, since: null, without: [], lines: [...lines] }
  return {
    tag,
    since: before.tag,
    without: [...before.lines.keys()].filter(line => !now.has(line)),
    lines: lines.filter(l => before.lines.get(l.line) !== l),
  }
}

/** Judges some lines at once, and says what of it is about which item. Undefined where that cannot be told apart. */
function apart(
  house: House,
  caller: Caller,
  uid: string,
  content: SlipContent,
  memory: Memory,
  stockOf: (item: string) => StockItem | undefined,
): Map<string, Judged> | undefined {
  const tried = attempt(house, caller, uid, content, new SqlBooks(house, memory), [])
  const { booked } = tried
  const { counts = [], lines, changes = [] } = tried.resolved.draft
  const does = new Set([...lines, ...counts, ...changes].map(l => l.lineId))
  if (does.size && !booked) return undefined
  if (tried.reserved.length || tried.witnessed.items.length) return undefined
  const refusals = worded(house, caller, content, tried)
  if (refusals.some(r => r.line === null && !NOTHING.has(r.code))) return undefined
  const itemOf = new Map(content.lines.map(l => [String(tried.lineIds.get(l.id)), l.item ?? '']))
  const draft = { house, content, tried: tried.resolved, lineIds: tried.lineIds, books: tried.books }
  const plan = new Map(planOf(draft, booked).map(l => [l.line, l]))
  const sides = new Map(sidesOf(draft, booked, [...plan.values()], reach(house, caller)).lines.map(l => [l.line, l]))
  const uidOf = new Map([...tried.lineIds].map(([line, id]) => [String(id), line]))
  const byUid = <T extends { readonly lineId: string }>(of: T): T => ({ ...of, lineId: uidOf.get(of.lineId)! })
  const moved = groupBy(booked?.movements ?? [], m => itemOf.get(m.lineId)!)
  const touched = groupBy(booked?.touched ?? [], t => itemOf.get(t.lineId)!)
  const goods = groupBy(lines, l => itemOf.get(l.lineId)!)
  return new Map(
    [...groupBy(content.lines, l => l.item ?? '')].map(([item, own]) => {
      const ids = new Set(own.map(l => l.id))
      return [
        item,
        {
          own,
          said: JSON.stringify(own),
          it: stockOf(item),
          refusals: refusals.filter(r => r.line !== null && ids.has(r.line)),
          lines: own.flatMap(l => sides.get(l.id) ?? []),
          plan: new Map(own.map(l => [l.id, planSaid(plan.get(l.id)!)])),
          value: slipValue(house, moved.get(item) ?? []).figure,
          goods: (goods.get(item) ?? []).reduce((sum, l) => sum + (l.goods ?? 0n), 0n),
          moves: booked && {
            effectiveAt: booked.effectiveAt,
            movements: (moved.get(item) ?? []).map(byUid),
            touched: (touched.get(item) ?? []).map(byUid),
          },
          does: own.some(l => does.has(String(tried.lineIds.get(l.id)))),
        },
      ]
    }),
  )
}

/** What is said of a slip of which no line does anything: whether that is so is known of the whole alone. */
const NOTHING: ReadonlySet<string> = new Set(['nothing_to_tally', 'nothing_counted', 'nothing_picked'])

/** All of a slip, from what was judged of its items. */
function together(
  lines: readonly SlipLine[],
  items: readonly Judged[],
): (Omit<JudgedSlip, 'told' | 'notes'> & { readonly lines: readonly EffectLine[] }) | undefined {
  const refused = groupBy(
    items.flatMap(j => j.refusals),
    r => r.line!,
  )
  const refusals = lines.flatMap(l => refused.get(l.id) ?? [])
  if (!refusals.length && !items.some(j => j.does)) return undefined
  const sides = new Map(items.flatMap(j => j.lines.map(l => [l.line, l] as const)))
  const plan = new Map(items.flatMap(j => [...j.plan]))
  return {
    refusals,
    lines: lines.flatMap(l => sides.get(l.id) ?? []),
    plan: lines.map(l => plan.get(l.id)!),
    value: items.reduce((sum, j) => sum + j.value, 0n),
    goods: items.reduce((sum, j) => sum + j.goods, 0n),
    places: new Set(items.flatMap(j => j.moves?.touched.map(t => t.placeId) ?? [])),
  }
}
