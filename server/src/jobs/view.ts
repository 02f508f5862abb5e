import type { JobLineView, JobView, Template } from '@shelve/contract'
import {
  atCost,
  besideAt,
  couldMake,
  firstToGo,
  formatDecimal,
  formatExact,
  type Formula,
  lotState,
  max,
  min,
  ONE,
  ownCode,
  type Quantity,
  type Value,
} from '@shelve/core'
import { named, sortable } from '../catalogue/index.ts'
import { iso, notFound } from '../ground/index.ts'
import { typedOf } from '../papers/index.ts'
import { costView, levelsView, type StockItem } from '../position/index.ts'
import { about, type Caller, isIn, mayAt, reach } from '../rights/index.ts'
import { type Came, cameOf, inTheBooks } from './came.ts'
import type { House } from './house.ts'
import { insteadOf } from './instead.ts'
import { jobNamed, look, type Looked, met, NOTHING, partFor, scopeOfJob, whenceHere } from './looked.ts'
import { byTemplate, decimalsOf, formulaOfJob, readWanted, TIMES } from './planning.ts'
import { centreNames, isOpen, type NeedLine, type NeedRow, plannedById, wantPlanned } from './rows.ts'
import { nextOf } from './standing.ts'
import { besidesOf, contentAt, formulaOf, formulas, templateById } from './templates.ts'
import { liesWith } from './with-job.ts'
import { headOf, lineOf } from './writing.ts'

const d = formatDecimal
/** What a need is worth: what is taken of it at what one costs there; what is made for it at what making it costs. */
function worthOf(of: Looked, n: NeedLine): Value | null {
  const { house } = of
  const it = house.stock.item(n.itemId)!
  const left = max(n.quantity - of.used(n) - of.lies(n), 0n)
  const part = partFor(of, n)
  const making = part && costOf(of.below(part))
  const m = met(of, it).get(n.id) ?? NOTHING
  const made = part && part.plan.wanted > 0n ? min(left - m.held - m.here, part.plan.wanted) : 0n
  const rest = n.quantity - made
  const one = costOne(of, n)
  if ((rest > 0n && one === null) || (made > 0n && making === null)) return null
  return (
    (rest > 0n ? atCost(rest, { value: one!, quantity: ONE }) : 0n) +
    (made > 0n ? atCost(made, { value: making!, quantity: part!.plan.wanted }) : 0n)
  )
}
/** What one of a need's item costs where the job is done. */
const costOne = (of: Looked, n: Pick<NeedRow, 'itemId'>): Value | null =>
  of.house.stock.here(of.house.stock.item(n.itemId)!, scopeOfJob(of), of.house.today()).cost?.one ?? null

/** What was picked for a job where it was to be done before, and lies there still. */
function behindOf({ house, seen, planned }: Looked): JobView['behind'] {
  const here = house.sources.withJob(planned.job.id)
  return liesWith(house, planned)
    .filter(l => l.placeId !== here && isIn(seen, l.placeId))
    .map(l => ({
      place: house.places.name(house.places.area(l.placeId)),
      item: named(house.known.itemById(l.itemId)!),
      quantity: d(l.quantity),
    }))
}

/** What comes of a template beside what it makes, at so much of that. */
const besidesAt = (house: House, content: Template, wanted: Quantity): JobView['besides'] => {
  const formula = formulaOf(house, content)
  return besidesOf(house, content).map(b => ({
    item: named(b.it),
    quantity: d(besideAt(formula, b.amount, wanted, b.it.decimals)),
  }))
}

/** What needs are worth together; null where nobody knows what one of them costs. */
const sumOf = (worths: readonly (Value | null)[]): Value | null =>
  worths.reduce<Value | null>((sum, w) => (sum === null || w === null ? null : sum + w), 0n)
/** What a job costs, through all that is made for it. */
const costOf = (of: Looked): Value | null => sumOf(of.needs.map(n => worthOf(of, n)))

function lineView(
  of: Looked,
  n: NeedRow,
  says: ReturnType<typeof byTemplate>,
  worth: Value | null,
  came: Came,
  last: ReadonlyMap<number, Quantity> | undefined,
): JobLineView {
  const { house, planned } = of
  const it = house.stock.item(n.itemId)!
  const row = house.known.itemById(n.itemId)!
  const scope = scopeOfJob(of)
  const today = house.today()
  const m = met(of, it).get(n.id) ?? { ...NOTHING, needId: n.id }
  const own = it.held.filter(h => h.reservation.needId === n.id && h.wanted > 0n)
  const keeps = own.filter(h => isIn(of.seen, h.reservation.placeId))
  const used = of.used(n)
  const part = partFor(of, n)
  const here = house.stock.here(it, scope, today)
  const exact = n.typed.trim() ? undefined : says.get(n.itemId)?.exact
  const elsewhere = new Map<number, Quantity>()
  for (const e of m.elsewhere) {
    const area = house.places.area(e.placeId)
    elsewhere.set(area, (elsewhere.get(area) ?? 0n) + e.quantity)
  }
  return about(scope, {
    id: n.uid,
    ...lineOf(house, n, of.seen),
    revision: n.revision,
    position: n.position,
    by: house.rows.personName.get({ id: n.savedBy })!.name,
    named: named(row),
    need: d(n.quantity),
    exact: exact ? formatExact(exact) : null,
    unread: n.typed.trim() ? typedOf(house, row, n).unread : null,
    used: d(used),
    left: d(isOpen(planned.job) ? max(n.quantity - used - of.lies(n), 0n) : 0n),
    lies: d(of.lies(n)),
    held: d(m.held),
    wished: d(own.reduce((sum, h) => sum + h.wanted, 0n)),
    keeps: keeps.map(h => ({
      place: house.places.row(h.reservation.placeId)!.uid,
      placeName: house.places.name(h.reservation.placeId),
      lot: h.reservation.lotId === null ? null : (house.rows.lotById.get({ id: h.reservation.lotId })?.code ?? null),
      quantity: d(h.held),
    })),
    whence: whenceHere(of, m, part),
    here: d(m.here),
    coming: d(m.coming),
    comesOn: m.comesOn,
    elsewhere: [...elsewhere].map(([id, quantity]) => ({
      id: house.places.row(id)!.uid,
      place: house.places.name(id),
      quantity: d(quantity),
    })),
    late: d(m.late),
    lateOn: m.lateOn,
    missing: d(m.missing),
    first: m.here + m.held > 0n ? firstOf(of, it) : null,
    made: part ? { ...jobNamed(part), quantity: d(part.plan.wanted) } : null,
    instead: insteadOf(of, n),
    levels: levelsView(here),
    ...came,
    last: last ? d(last.get(n.itemId) ?? 0n) : null,
    cost: costView(here),
    worth: worth === null ? null : d(worth),
  })
}
/** Which lot is taken first where the job is done, and where it lies. */
function firstOf({ house, planned }: Looked, it: StockItem): JobLineView['first'] {
  const day = planned.plan.day ?? house.today()
  const within = house.places.within(planned.plan.placeId)
  const usable = it.leaves.filter(
    l => within.has(l.placeId) && house.places.isShelf(l.placeId) && lotState(l, day) === 'usable',
  )
  // The day of the first decides; of those that keep as long, what else a lot says. Hundreds of others need not be read.
  const soonest = usable.reduce((day, l) => (l.expiry !== null && l.expiry < day ? l.expiry : day), '9999-12-31')
  const lots = usable
    .filter(l => (l.expiry ?? '9999-12-31') === soonest)
    .map(l => ({ ...l, lot: house.rows.lotById.get({ id: l.lotId })! }))
    .sort(
      (a, b) =>
        firstToGo(sortable(a.lot), sortable(b.lot)) || house.places.order(a.placeId) - house.places.order(b.placeId),
    )
  return lots[0] ? { place: house.places.name(lots[0].placeId), lot: lots[0].lot.code } : null
}

/** How many could be made of what is free where the job is done and what is kept for it (rule 64). */
function couldOf(of: Looked, formula: Formula) {
  const { house, needs } = of
  const own = new Map(needs.map(n => [n.id, n]))
  const all = new Map<number, Formula>([...formulas(house, formula), [formula.output, formula]])
  const scope = scopeOfJob(of)
  const have = (item: number): Quantity => {
    const it = house.stock.item(item)
    if (!it || item === formula.output) return 0n
    const kept = it.held.reduce((sum, h) => (own.has(h.reservation.needId) ? sum + h.held : sum), 0n)
    return max(house.stock.here(it, scope, house.today()).levels.available, 0n) + kept
  }
  return couldMake(all, formula.output, have, decimalsOf(house))
}

/** A job, and how far whoever asks sees: not at all where it is done out of their sight. */
function seenJob(house: House, caller: Caller, uid: string) {
  const planned = wantPlanned(house, uid)
  const seen = reach(house, caller)
  if (!isIn(seen, planned.plan.placeId)) throw notFound('job')
  return { house, seen, planned }
}

/** A job as somebody may see it who may look into the place where it is done. */
export async function jobView(house: House, caller: Caller, uid: string): Promise<JobView> {
  const read = await inTheBooks(seenJob(house, caller, uid))
  // It may have been changed meanwhile, also by being moved out of sight.
  const { seen, planned } = seenJob(house, caller, uid)
  const { job, plan } = planned
  const of = look(house, seen, planned, read.used)
  const template = plan.templateId === null ? undefined : templateById(house, plan.templateId)
  const content = template && contentAt(house, template.id, plan.templateVersion!)
  const formula = formulaOfJob(house, planned, of.rows)
  const says = byTemplate(house, formula, plan.wanted)
  const makes = plan.outputId === null ? undefined : house.known.itemById(plan.outputId)
  const could = formula && isOpen(job) && of.needs.length ? couldOf(of, formula) : undefined
  // The lines are the working of the sum.
  const worths = of.rows.map(n => worthOf(of, n))
  const cost = sumOf(worths)
  const before = plan.followsId === null ? undefined : plannedById(house, plan.followsId)
  const next = nextOf(house, job.id)
  const came = cameOf(of, read, n => costOne(of, n))
  return about(scopeOfJob(of), {
    id: job.uid,
    revision: plan.revision,
    version: plan.version,
    by: house.rows.personName.get({ id: plan.savedBy })!.name,
    savedAt: iso(plan.createdAt),
    state: job.state as JobView['state'],
    own: ownCode('job', job.id),
    head: headOf(house, planned),
    placeName: house.places.name(plan.placeId),
    personName: plan.personId === null ? null : house.rows.personName.get({ id: plan.personId })!.name,
    costCentreName: centreName(house, job.costCentreId),
    template: template
      ? {
          id: template.uid,
          name: content!.name,
          version: plan.templateVersion!,
          last: template.version,
          steps: content!.steps,
        }
      : null,
    makes: makes ? { ...named(makes), shelfLife: content?.makes?.shelfLife ?? null } : null,
    wanted: d(plan.wanted),
    wantedUnit: makes?.unit ?? TIMES.base,
    unread: readWanted(house, plan, content && formulaOf(house, content)).unread,
    made: d(read.made),
    lines: of.rows.map((n, i) => lineView(of, n, says, worths[i]!, came(n), read.last)),
    besides: content ? besidesAt(house, content, plan.wanted) : [],
    behind: behindOf(of),
    wasted: read.wasted,
    others: read.others,
    slips: read.slips,
    earlier: read.earlier,
    parts: of.parts.map(jobNamed),
    parent: plan.parentId === null ? null : jobNamed(plannedById(house, plan.parentId)),
    before: before ? jobNamed(before) : null,
    next: next ? { ...jobNamed(next), day: next.plan.day } : null,
    could: could ? d(could.quantity) : null,
    short: could
      ? [...could.short].map(([item, quantity]) => ({
          item: named(house.known.itemById(item)!),
          quantity: d(quantity),
        }))
      : [],
    cost: cost === null ? null : d(cost),
    one: cost === null || plan.wanted <= 0n ? null : d(atCost(ONE, { value: cost, quantity: plan.wanted })),
    mayChange: mayAt(house, caller, 'book', plan.placeId),
  })
}

const centreName = (house: House, id: number | null): string | null =>
  id === null ? null : (centreNames(house).get(id) ?? null)

/** What is not set aside any more for a job that was opened again. */
export const lostView = (house: House, lost: readonly { readonly itemId: number; readonly quantity: Quantity }[]) =>
  lost.map(l => ({ item: named(house.known.itemById(l.itemId)!), quantity: d(l.quantity) }))
