import { ONE, type Quantity, type Value } from '../quantity/micro.ts'
import { atCost } from '../cost/pool.ts'
import { levels, perDay, type Levels, type ShortRule } from '../restocking/levels.ts'
import { lotState, type LotState } from '../lots/state.ts'
import { USE_DAYS, type ItemFacts, type Leaf, type LevelFact, type Placed } from './facts.ts'

/** From where an item is looked at: some places, on a day, by the organisation's rule. */
export interface Outlook {
  readonly within: (placeId: number) => boolean
  /** Today in the organisation's zone. */
  readonly day: string
  readonly rule: ShortRule
  /** Whether what lies in a place may be used at all: not where goods are held, in transit, or with a job. */
  readonly shelf: (placeId: number) => boolean
}

/** A figure that is a sum of parts, and what each part is about. */
export type PartOf =
  'on_hand' | 'unusable' | 'reserved' | 'coming' | 'planned' | 'used' | 'minimum' | 'target' | 'worth'
export interface Part {
  readonly amount: bigint
  readonly placeId: number
  readonly leaf?: Leaf
  /** Of what is unusable: why. */
  readonly state?: Exclude<LotState, 'usable'>
}

/** How an item stands in some places: the one answer to every list, slip, report and proposal that asks. */
export interface Position {
  readonly onHand: Quantity
  readonly unusable: Quantity
  readonly reserved: Quantity
  readonly coming: Quantity
  readonly planned: Quantity
  readonly used: Quantity
  readonly minimum: Quantity | null
  readonly target: Quantity | null
  readonly worth: Value
  /** What one costs there; `last`: nothing lies there, it is the last known (rule 56). Null where nothing is known. */
  readonly cost: { readonly one: Value; readonly last: boolean } | null
  /** Whether a part of what lies there has no price yet. */
  readonly provisional: boolean
  readonly lots: number
  /** The first day on which usable stock runs out of date. */
  readonly firstExpiry: string | null
  /** Whether it lies there, or has a level there. */
  readonly belongs: boolean
  readonly levels: Levels
}

/** The state of what lies in a place on a day: what its lot says, or held where nothing there may be used. */
export const leafState = (
  leaf: Pick<Leaf, 'expiry' | 'held' | 'placeId'>,
  view: Pick<Outlook, 'day' | 'shelf'>,
): LotState => (view.shelf(leaf.placeId) ? lotState(leaf, view.day) : 'held')

/**
 * Tells every part of every figure. Sums are made of it, and so are workings: what a figure consists of is said once.
 *
 *     leaves ─▶ on_hand, worth, unusable      coming, reserved, planned, used ─▶ themselves      levels ─▶ minimum, target
 */
export function eachPart(facts: ItemFacts, view: Outlook, tell: (of: PartOf, part: Part) => void): void {
  for (const leaf of facts.leaves) {
    const { placeId } = leaf
    if (!view.within(placeId)) continue
    tell('on_hand', { amount: leaf.quantity, placeId, leaf })
    tell('worth', { amount: leaf.value, placeId, leaf })
    const state = leafState(leaf, view)
    if (state !== 'usable') tell('unusable', { amount: leaf.quantity, placeId, leaf, state })
  }
  const placed = (of: PartOf, list: readonly Placed[]) => {
    for (const p of list) if (view.within(p.placeId)) tell(of, { amount: p.quantity, placeId: p.placeId })
  }
  placed('coming', facts.coming)
  placed('reserved', facts.reserved)
  placed('planned', facts.planned)
  for (const [placeId, amount] of facts.used) if (view.within(placeId)) tell('used', { amount, placeId })
  for (const l of countingLevels(facts.levels, view)) {
    if (l.minimum !== null) tell('minimum', { amount: l.minimum, placeId: l.placeId })
    if (l.target !== null) tell('target', { amount: l.target, placeId: l.placeId })
  }
}

/** An area's levels are its own; where it has none, those of its bins (rule 59). */
function countingLevels(all: readonly LevelFact[], view: Outlook): LevelFact[] {
  const here = all.filter(l => view.within(l.placeId))
  const own = new Set(here.filter(l => l.placeId === l.areaId).map(l => l.areaId))
  return here.filter(l => l.placeId === l.areaId || !own.has(l.areaId))
}

/** The parts of one figure, in their order. */
export function partsOfFigure(facts: ItemFacts, view: Outlook, figure: PartOf): Part[] {
  const parts: Part[] = []
  eachPart(facts, view, (of, part) => {
    if (of === figure) parts.push(part)
  })
  return parts
}

/** Works out how an item stands within an outlook. */
export function position(facts: ItemFacts, view: Outlook): Position {
  const sums = sumsOf(facts, view)
  const { onHand, worth } = sums
  let firstExpiry: string | null = null
  const lots = new Set<number>()
  for (const leaf of facts.leaves) {
    if (!view.within(leaf.placeId)) continue
    lots.add(leaf.lotId)
    if (
      leaf.expiry !== null &&
      (firstExpiry === null || leaf.expiry < firstExpiry) &&
      leafState(leaf, view) === 'usable'
    )
      firstExpiry = leaf.expiry
  }
  const out = levels({ ...sums, perDay: perDay(sums.used, USE_DAYS) }, view.rule)
  return {
    ...sums,
    cost: costOfOne(facts, onHand, worth),
    provisional: facts.pools.some(
      p => p.provisional && p.quantity > 0n && (p.lotId === null ? onHand > 0n : lots.has(p.lotId)),
    ),
    lots: lots.size,
    firstExpiry,
    belongs: sums.minimum !== null || sums.target !== null || onHand !== 0n,
    levels: out.due ? out : { ...out, due: dueInAnyArea(facts, view) },
  }
}

type Sums = Pick<
  Position,
  'onHand' | 'unusable' | 'reserved' | 'coming' | 'planned' | 'used' | 'minimum' | 'target' | 'worth'
>
function sumsOf(facts: ItemFacts, view: Outlook): Sums {
  const sums: Record<PartOf, bigint> = {
    on_hand: 0n,
    unusable: 0n,
    reserved: 0n,
    coming: 0n,
    planned: 0n,
    used: 0n,
    minimum: 0n,
    target: 0n,
    worth: 0n,
  }
  let [minimum, target] = [false, false]
  eachPart(facts, view, (of, part) => {
    sums[of] += part.amount
    if (of === 'minimum') minimum = true
    if (of === 'target') target = true
  })
  return {
    onHand: sums.on_hand,
    unusable: sums.unusable,
    reserved: sums.reserved,
    coming: sums.coming,
    planned: sums.planned,
    used: sums.used,
    minimum: minimum ? sums.minimum : null,
    target: target ? sums.target : null,
    worth: sums.worth,
  }
}

/**
 * What one costs: of an item that costs alike everywhere, the pool's cost, whichever shelf it lies on; by actual lot, what
 * the lots there are worth. Of nothing, the last known cost over all lots, the same in every place that shows it.
 */
function costOfOne(facts: ItemFacts, onHand: Quantity, worth: Value): Position['cost'] {
  const whole = facts.pools.length === 1 ? facts.pools[0]! : undefined
  if (whole && whole.lotId === null && whole.quantity > 0n)
    return { one: atCost(ONE, { value: whole.value, quantity: whole.quantity }), last: onHand === 0n }
  if (onHand > 0n && (!whole || whole.lotId !== null))
    return { one: atCost(ONE, { value: worth, quantity: onHand }), last: false }
  return facts.lastKnown && { one: atCost(ONE, facts.lastKnown), last: true }
}

/** Several areas together are due if any one of them is (rule 59): what lies over in one room fills no shelf in another. */
function dueInAnyArea(facts: ItemFacts, view: Outlook): boolean {
  const areas = new Set(facts.levels.filter(l => view.within(l.placeId)).map(l => l.areaId))
  if (areas.size < 2) return false
  return [...areas].some(area => {
    const within = (placeId: number) => view.within(placeId) && facts.areaOf(placeId) === area
    return levels(sumsOf(facts, { ...view, within }), view.rule).due
  })
}
