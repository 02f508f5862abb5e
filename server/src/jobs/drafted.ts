import { SlipContent, SlipLine, type Template } from '@shelve/contract'
import { besideAt, daysLater, max, min, neededFor, plainly, type Quantity } from '@shelve/core'
import type { ItemRow } from '../catalogue/index.ts'
import { Refused } from '../ground/index.ts'
import { beginDraft, contentOf, slipOf, typedOf, whatFits } from '../papers/index.ts'
import { metOf, type StockItem } from '../position/index.ts'
import { type Caller, demandAt, isIn, reach, type Scope } from '../rights/index.ts'
import type { House } from './house.ts'
import { madeFor } from './made.ts'
import { byTemplate, formulaOfJob, templateOfJob } from './planning.ts'
import { type NeedRow, needsOfJob, type Planned, wantOpen } from './rows.ts'
import type { Where } from './states.ts'
import { besidesOf, formulaOf } from './templates.ts'
import { usedForNeeds } from './used.ts'
import { liesHere } from './with-job.ts'

/** What a job still needs and is where it is done, or kept for it, becomes an issue, as a draft to be looked at and booked. */
export function handOut(house: House, caller: Caller, uid: string, draft: string): void {
  const planned = wantOpen(house, caller, uid)
  const { job, plan } = planned
  const seen = reach(house, caller)
  const needs = needsOfJob(house, job.id)
  const now = house.stock.now(needs.map(n => n.itemId))
  // What was picked for it is used first.
  const lies = liesHere(house, planned)
  const lines = needs.flatMap(n => {
    const it = now.get(n.itemId)!
    return takenFrom(house, planned, seen, it, n, readyFor(it, n, seen) + (lies.get(n.itemId) ?? 0n))
  })
  if (!lines.length)
    throw new Refused(
      409,
      'nothing_here',
      `Nothing that ${job.name} still needs is in ${house.places.name(plan.placeId)}.`,
    )
  // What does not fit is still needed once this is booked, and stands on the next.
  begin(house, caller, planned, draft, { kind: 'issue', head: { job: uid }, lines: whatFits(lines) })
}

/** How much is made, as somebody types it; nothing: what is still to be made. */
interface HowMuch {
  readonly typed: string
  readonly unit: string | null
}
/**
 * What a job makes, with what that takes, becomes a make, as a draft to be looked at and booked: of what is still to be made
 * as much as is said, or all of it. Optional things go in where they are there.
 */
export function makeIt(house: House, caller: Caller, uid: string, asked: HowMuch & { readonly id: string }): void {
  const { planned, head, lines } = making(house, caller, uid, asked)
  begin(house, caller, planned, asked.id, { kind: 'make', head, lines })
}
/** The lines of such a make, what goes into so much and what comes of it, and whether more is to be made after that. */
export function makeLines(house: House, caller: Caller, uid: string, asked: HowMuch) {
  const { head, lines } = making(house, caller, uid, asked)
  return { lines: lines.map(l => SlipLine.parse(l)), goesOn: head.goesOn }
}

function making(house: House, caller: Caller, uid: string, asked: HowMuch) {
  const planned = wantOpen(house, caller, uid)
  const { job, plan } = planned
  const template = templateOfJob(house, planned)
  if (plan.outputId === null || !template?.makes)
    throw new Refused(409, 'only_uses', `${job.name} makes nothing: hand out what it needs.`)
  const made = madeFor(house, job.id)
  const output = house.known.itemById(plan.outputId)!
  const quantity = asked.typed.trim() ? askedFor(house, output, asked) : max(plan.wanted - made, 0n) || plan.wanted
  const head = { job: uid, goesOn: made + quantity < plan.wanted }
  const lines = [
    ...outputsOf(house, planned, template, output, quantity),
    ...inputsOf(house, caller, planned, made, made + quantity),
  ]
  return { planned, head, lines }
}

/** A make as it was booked, as a draft to be put right: once that is booked it stands in the place of this one. */
export function makeAnew(house: House, caller: Caller, uid: string, draft: string): void {
  const slip = house.rows.slip.get({ uid })
  if (slip?.kind !== 'make' || slip.state !== 'booked')
    throw new Refused(409, 'no_make', 'Only what was made, and booked, can be made anew in its place.')
  if (slip.placeId !== null) demandAt(house, caller, 'book', slip.placeId)
  const { head, lines, ...rest } = contentOf(house, slip)
  const content: SlipContent = {
    ...rest,
    effectiveAt: null,
    head: { ...head, corrects: uid },
    lines: lines.map(l => ({ ...l, id: house.uid() })),
  }
  beginDraft(house, caller, draft, content)
  house.events.add('draft', { slip: draft, places: content.place === null ? [] : [content.place] })
}

function askedFor(house: House, it: ItemRow, asked: HowMuch): Quantity {
  const read = typedOf(house, it, asked)
  if (read.unread === null && read.quantity > 0n) return read.quantity
  const message = read.unread ?? 'How much is made? Type a number above zero.'
  throw new Refused(422, 'quantity_unread', message, [{ line: null, field: 'typed', code: 'quantity_unread', message }])
}

/** Begins the draft in the area where the job is done. */
function begin(
  house: House,
  caller: Caller,
  { plan }: Planned,
  draft: string,
  content: Parameters<typeof slipOf>[0],
): void {
  const place = house.places.row(house.places.area(plan.placeId))!.uid
  beginDraft(house, caller, draft, slipOf({ ...content, place }, 'Make less of it at once.'))
  house.events.add('draft', { slip: draft, places: [place] })
}

/** What is there of an item for a need: kept for it, or free where the job is done. */
export function readyFor(it: StockItem, n: NeedRow, seen: Scope): Quantity {
  const free = metOf(it, p => isIn(seen, p)).get(n.id)?.here ?? 0n
  return it.held.reduce(
    (sum, h) => (h.reservation.needId === n.id && isIn(seen, h.reservation.placeId) ? sum + h.held : sum),
    free,
  )
}

/**
 * Lines that take so much for a need: what is kept for it in another place, or of one lot, from there; all else from where
 * the job is done.
 */
export function takenFrom(
  house: House,
  { plan }: Planned,
  seen: Scope,
  it: StockItem,
  n: NeedRow,
  quantity: Quantity,
): object[] {
  const parts: (Where & { readonly quantity: Quantity })[] = []
  let left = quantity
  for (const { reservation: r, held } of it.held) {
    if (r.needId !== n.id || !isIn(seen, r.placeId)) continue
    if (r.lotId === null && house.places.within(plan.placeId).has(r.placeId)) continue
    const x = min(held, left)
    parts.push({ placeId: r.placeId, lotId: r.lotId, quantity: x })
    left -= x
  }
  parts.push({ placeId: plan.placeId, lotId: null, quantity: left })
  return parts.filter(x => x.quantity > 0n).map(x => taken(house, it.uid, plan.placeId, x))
}
/** A line that takes something for a job; `at`: where that is done. */
function taken(
  house: House,
  item: string,
  at: number,
  { placeId, lotId, quantity }: Where & { readonly quantity: Quantity },
): object {
  const lot = lotId === null ? undefined : house.rows.lotById.get({ id: lotId })!
  return {
    id: house.uid(),
    item,
    typed: plainly(quantity),
    ...(placeId === at ? {} : { from: house.places.row(placeId)!.uid }),
    ...(lot ? { lot: { id: lot.uid, code: lot.code ?? '', expiry: lot.expiry } } : {}),
  }
}

/** What the next part of a job takes (rule 66): its need at all that is made then, less its need at what is made already. */
function inputsOf(house: House, caller: Caller, planned: Planned, before: Quantity, then: Quantity): object[] {
  const seen = reach(house, caller)
  const needs = needsOfJob(house, planned.job.id)
  const formula = formulaOfJob(house, planned, needs)
  const now = house.stock.now(needs.map(n => n.itemId))
  const [was, will] = [byTemplate(house, formula, before), byTemplate(house, formula, then)]
  const used = usedForNeeds(house, needs)
  return needs.flatMap(n => {
    const it = now.get(n.itemId)!
    const { made, handedOut } = used.get(n.id) ?? { made: 0n, handedOut: 0n }
    const quantity = neededFor({
      then: will.get(n.itemId)?.quantity ?? 0n,
      before: was.get(n.itemId)?.quantity ?? 0n,
      made,
      handedOut,
    })
    const some = n.optional ? min(quantity, readyFor(it, n, seen)) : quantity
    return takenFrom(house, planned, seen, it, n, some)
  })
}

/** What comes of it, with a lot of the job's number and the day until which it keeps; then what comes of it beside. */
function outputsOf(
  house: House,
  { job, plan }: Planned,
  template: Template,
  output: ItemRow,
  quantity: Quantity,
): object[] {
  const makes = template.makes!
  const area = house.places.area(plan.placeId)
  const line = (it: ItemRow, typed: Quantity, share: string, shelfLife: number | null) => ({
    id: house.uid(),
    side: 'out',
    item: it.uid,
    typed: plainly(typed),
    share,
    ...(plan.placeId === area ? {} : { to: house.places.row(plan.placeId)!.uid }),
    ...(it.identifiedBy === 'quantity' || it.identifiedBy === 'serial'
      ? {}
      : { lot: { id: null, code: lotCode(house, it.id, job.code), expiry: keptUntil(house, it, shelfLife) } }),
  })
  const formula = formulaOf(house, template)
  // How much of it its lines were reckoned for: whoever types another number sees that, and may have them reckoned anew.
  const reckoned = { asked: plainly(quantity) }
  return [
    { ...line(output, quantity, makes.besides.length ? makes.share.trim() || '1' : '', makes.shelfLife), ...reckoned },
    ...besidesOf(house, template).map(b =>
      line(b.it, besideAt(formula, b.amount, quantity, b.it.decimals), b.share, b.shelfLife),
    ),
  ]
}

const keptUntil = (house: House, it: ItemRow, shelfLife: number | null): string | null =>
  it.identifiedBy === 'lot_expiry' && shelfLife !== null ? daysLater(house.today(), shelfLife) : null

/** A lot is called as the job that it is made by; the second of it by a number behind. */
function lotCode(house: House, item: number, job: string): string {
  let code = job
  for (let n = 2; house.rows.lotByCode.get({ item, code }); n++) code = `${job}-${n}`
  return code
}
