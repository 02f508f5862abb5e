import { ONE, type Quantity, type Value } from '../quantity/micro.ts'
import { atCost } from '../cost/pool.ts'
import { dayNumber } from '../lots/day.ts'
import { levels, perDay, type LevelInput, type Levels, type ShortRule } from '../restocking/levels.ts'
import { lotState, type LotState } from '../lots/state.ts'
import { USE_DAYS, type ItemFacts, type Leaf, type LevelFact, type Placed } from './facts.ts'

/** From where an item is looked at: some places, on a day, by the organisation's rule. */
export interface Outlook {
  readonly within: (placeId: number) => boolean
  /** Today in the organisation's zone. */
  readonly day: string
  readonly rule: ShortRule
  /** So many days ahead what jobs are planned to take calls for restocking. */
  readonly ahead: number
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
  /** The need of a job that it is for. */
  readonly needId?: number
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
  readonly levels: Levels
}

/** The state of what lies in a place on a day: what its lot says, or held where nothing there may be used. */
export const leafState = (
  leaf: Pick<Leaf, 'expiry' | 'held' | 'placeId'>,
  view: Pick<Outlook, 'day' | 'shelf'>,
): LotState => (view.shelf(leaf.placeId) ? lotState(leaf, view.day) : 'held')

/** Hears of a part: which figure it is of, how much, where; of what lies there which leaf, and why it is unusable. */
type Tell = (
  of: PartOf,
  amount: bigint,
  placeId: number,
  leaf?: Leaf,
  state?: Exclude<LotState, 'usable'>,
  needId?: number,
) => void

/**
 * Tells every part of every figure. Sums are made of it, and so are workings: what a figure consists of is said once.
 * Parts are told and not made into objects: a list asks this of every item there is.
 *
 *     leaves ─▶ on_hand, worth, unusable      coming, reserved, planned, used ─▶ themselves      levels ─▶ minimum, target
 */
function eachPart(facts: ItemFacts, view: Outlook, tell: Tell): void {
  for (const leaf of facts.leaves) {
    const { placeId } = leaf
    if (!view.within(placeId)) continue
    tell('on_hand', leaf.quantity, placeId, leaf)
    tell('worth', leaf.value, placeId, leaf)
    const state = leafState(leaf, view)
    if (state !== 'usable') tell('unusable', leaf.quantity, placeId, leaf, state)
  }
  const placed = (of: PartOf, list: readonly Placed[]) => {
    for (const p of list) if (view.within(p.placeId)) tell(of, p.quantity, p.placeId, undefined, undefined, p.needId)
  }
  placed('coming', facts.coming)
  placed('reserved', facts.reserved)
  placed('planned', soon(facts.planned, view))
  for (const [placeId, amount] of facts.used) if (view.within(placeId)) tell('used', amount, placeId)
  for (const l of countingLevels(facts.levels, view)) {
    if (l.minimum !== null) tell('minimum', l.minimum, l.placeId)
    if (l.target !== null) tell('target', l.target, l.placeId)
  }
}

/** What is planned for so soon that it calls for restocking now; without a day, it does. */
function soon(planned: ItemFacts['planned'], { day, ahead }: Outlook): ItemFacts['planned'] {
  if (!planned.length) return planned
  const today = dayNumber(day)
  return planned.filter(p => p.day === null || dayNumber(p.day) - today <= ahead)
}
/** All that is planned in some places, by how many days there are until then. */
const datedIn = ({ planned }: ItemFacts, { day, within }: Outlook): LevelInput['dated'] =>
  planned
    .filter(p => within(p.placeId))
    .map(p => ({
      quantity: p.quantity,
      inDays: p.day === null || p.day <= day ? 0 : dayNumber(p.day) - dayNumber(day),
    }))

/** An area's levels are its own; where it has none, those of its bins (rule 59). */
function countingLevels(all: readonly LevelFact[], view: Outlook): readonly LevelFact[] {
  const here = all.filter(l => view.within(l.placeId))
  if (here.length < 2) return here
  const own = new Set(here.filter(l => l.placeId === l.areaId).map(l => l.areaId))
  return here.filter(l => l.placeId === l.areaId || !own.has(l.areaId))
}

/** The parts of one figure, in their order. */
export function partsOfFigure(facts: ItemFacts, view: Outlook, figure: PartOf): Part[] {
  const parts: Part[] = []
  eachPart(facts, view, (of, amount, placeId, leaf, state, needId) => {
    if (of === figure) parts.push({ amount, placeId, leaf, state, needId })
  })
  return parts
}

/** The places in which an item lies, has a level, is needed or comes, each once: elsewhere lists leave it out. */
export function belongsIn(facts: ItemFacts): number[] {
  const places = new Set<number>()
  for (const l of facts.leaves) if (l.quantity !== 0n) places.add(l.placeId)
  for (const l of facts.levels) if (l.minimum !== null || l.target !== null) places.add(l.placeId)
  for (const p of facts.planned) places.add(p.placeId)
  for (const p of facts.coming) places.add(p.placeId)
  return [...places]
}

/** Works out how an item stands within an outlook. Written out field by field: a list asks this of every item there is. */
export function position(facts: ItemFacts, view: Outlook): Position {
  const areas = sumsByArea(facts, view)
  const sums = together(areas)
  const { onHand, unusable, reserved, coming, planned, used, minimum, target, worth } = sums
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
  const out = levels(
    {
      onHand,
      unusable,
      reserved,
      coming,
      planned,
      minimum,
      target,
      perDay: perDay(used, USE_DAYS),
      dated: datedIn(facts, view),
    },
    view.rule,
  )
  return {
    onHand,
    unusable,
    reserved,
    coming,
    planned,
    used,
    minimum,
    target,
    worth,
    cost: costOfOne(facts, onHand, worth),
    provisional: facts.pools.some(
      p => p.provisional && p.quantity > 0n && (p.lotId === null ? onHand > 0n : lots.has(p.lotId)),
    ),
    lots: lots.size,
    firstExpiry,
    levels: out.due || !dueInAnyArea(areas, view.rule) ? out : { ...out, due: true },
  }
}

type Sums = Pick<
  Position,
  'onHand' | 'unusable' | 'reserved' | 'coming' | 'planned' | 'used' | 'minimum' | 'target' | 'worth'
>
type Changing = { -readonly [K in keyof Sums]: Sums[K] }
const FIGURE = {
  on_hand: 'onHand',
  unusable: 'unusable',
  reserved: 'reserved',
  coming: 'coming',
  planned: 'planned',
  used: 'used',
  minimum: 'minimum',
  target: 'target',
  worth: 'worth',
} as const satisfies Record<PartOf, keyof Sums>
const nothing = (): Changing => ({
  onHand: 0n,
  unusable: 0n,
  reserved: 0n,
  coming: 0n,
  planned: 0n,
  used: 0n,
  minimum: null,
  target: null,
  worth: 0n,
})

/** Every sum of each area, in one pass over the facts. */
function sumsByArea(facts: ItemFacts, view: Outlook): ReadonlyMap<number, Sums> {
  const out = new Map<number, Changing>()
  let last: { placeId: number; sums: Changing } | undefined
  eachPart(facts, view, (of, amount, placeId) => {
    if (last?.placeId !== placeId) {
      const area = facts.areaOf(placeId)
      let sums = out.get(area)
      if (!sums) out.set(area, (sums = nothing()))
      last = { placeId, sums }
    }
    const figure = FIGURE[of]
    last.sums[figure] = (last.sums[figure] ?? 0n) + amount
  })
  return out
}

function together(areas: ReadonlyMap<number, Sums>): Sums {
  if (areas.size === 1) for (const only of areas.values()) return only
  const all = nothing()
  for (const sums of areas.values())
    for (const figure of Object.values(FIGURE)) {
      const amount = sums[figure]
      if (amount !== null) all[figure] = (all[figure] ?? 0n) + amount
    }
  return all
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
function dueInAnyArea(areas: ReadonlyMap<number, Sums>, rule: ShortRule): boolean {
  if (areas.size < 2) return false
  for (const sums of areas.values())
    if ((sums.minimum !== null || sums.planned > 0n) && levels(sums, rule).due) return true
  return false
}
