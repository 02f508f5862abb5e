import { and, desc, eq, isNotNull, isNull } from 'drizzle-orm'
import type { NewPick, PickView, SlipContent } from '@shelve/contract'
import { formatDecimal, groupBy, max, min, plainly, type Quantity } from '@shelve/core'
import { named } from '../catalogue/index.ts'
import { job } from '../costcentres/index.ts'
import { iso, notFound, Refused } from '../ground/index.ts'
import { slip } from '../ledger/index.ts'
import {
  addLines,
  beginDraft,
  contentOf,
  isPick,
  linesToPick,
  lotOnLine,
  slipOf,
  tooManyLines,
  typedOf,
  whatFits,
} from '../papers/index.ts'
import { metOf, type StockItem, usualBin } from '../position/index.ts'
import { type Caller, demandAt, isIn, reach, type Scope } from '../rights/index.ts'
import { readyFor, takenFrom } from './drafted.ts'
import type { House } from './house.ts'
import { insteadOf } from './instead.ts'
import { look } from './looked.ts'
import { isOpen, needsOfJob, type Planned, plannedById, wantOpen, wantPlanned } from './rows.ts'
import { stateJob } from './states.ts'
import { pickReady } from './tables.ts'
import { liesWith, placeWith } from './with-job.ts'

const d = formatDecimal

/**
 * A list of what some jobs still need and is there, as a draft of a move that puts it with each of them: one line for each
 * lot and bin, in the order of the walk. Gives whether a place was made for it.
 */
export function createPick(house: House, caller: Caller, asked: NewPick): { readonly placed: boolean } {
  const jobs = asked.jobs.map(uid => wantOpen(house, caller, uid))
  const areas = new Set(jobs.map(p => house.places.area(p.plan.placeId)))
  if (areas.size > 1)
    throw new Refused(
      409,
      'several_places',
      `These jobs are done in ${[...areas].map(a => house.places.name(a)).join(' and ')}. What is picked stays in one place: make a list for each.`,
    )
  const [area] = areas
  const place = house.places.row(area!)!.uid
  const seen = reach(house, caller)
  const withs = new Map(jobs.map(p => [p, placeWith(house, p)]))
  const wanted = wantedFor(house, jobs, seen, p => house.places.row(withs.get(p)!.id)!.uid)
  const fewer = (lines: number) => tooManyLines(lines, 'Take fewer jobs at once.')
  if (jobs.length > 1 && wanted.length > whatFits(wanted).length) throw fewer(wanted.length)
  const lines = linesToPick(house, caller, place, wanted)
  if (jobs.length > 1 && lines.length > whatFits(lines).length) throw fewer(lines.length)
  if (!lines.length)
    throw new Refused(
      409,
      'nothing_here',
      `Nothing that ${jobs.map(p => p.job.name).join(', ')} still need${jobs.length === 1 ? 's' : ''} is in ${house.places.name(area!)}.`,
    )
  const name =
    asked.name.trim() ||
    jobs
      .map(p => p.job.name)
      .join(', ')
      .slice(0, 200)
  const list = slipOf({ kind: 'move', place, head: { pick: name, picker: asked.picker }, lines: whatFits(lines) }, '')
  beginDraft(house, caller, asked.id, list)
  house.events.add('draft', { slip: asked.id, places: [place] })
  for (const p of jobs) if (p.job.state === 'planned') stateJob(house, caller, p, 'picking')
  const placed = [...withs.values()].some(w => w.made)
  // Screens know places by their names: there is one more.
  if (placed) house.events.add('places', {})
  return { placed }
}
/**
 * What some jobs still need and is there, as lines that go with each of them; `asked`: how much of a need stands on the
 * list already.
 */
function wantedFor(
  house: House,
  jobs: readonly Planned[],
  seen: Scope,
  to: (p: Planned) => string,
  asked: (p: Planned, item: string) => Quantity = () => 0n,
  read: (items: readonly number[]) => (item: number) => StockItem = items => {
    const now = house.stock.now([...new Set(items)])
    return item => now.get(item)!
  },
): object[] {
  const needs = jobs.flatMap(p => needsOfJob(house, p.job.id).map(n => ({ p, n })))
  const of = read(needs.map(({ n }) => n.itemId))
  return needs.flatMap(({ p, n }) => {
    const it = of(n.itemId)
    const there = min(readyFor(it, n, seen), leftOf(n.id, it)) - asked(p, it.uid)
    return there > 0n ? takenFrom(house, p, seen, it, n, there).map(l => ({ ...l, to: to(p) })) : []
  })
}

/** What the jobs of a list still need, is here by now, and does not stand on it. */
function missingOn(house: House, content: SlipContent, seen: Scope, read?: Parameters<typeof wantedFor>[5]): object[] {
  // A job that is done elsewhere by now wants nothing more from here.
  const area = content.place === null ? undefined : house.places.area(house.places.id(content.place)!)
  const goal = (p: Planned) => house.sources.withJob(p.job.id)
  const jobs = jobsOf(house, content).filter(
    p => isOpen(p.job) && house.places.area(p.plan.placeId) === area && goal(p) !== undefined,
  )
  const to = (p: Planned) => house.places.row(goal(p)!)!.uid
  const asked = (p: Planned, item: string) =>
    content.lines
      .filter(l => l.item === item && l.to === to(p))
      .reduce((sum, l) => {
        const it = house.known.item(item)!
        return sum + max(typedOf(house, it, l).quantity, typedOf(house, it, { typed: l.asked, unit: null }).quantity)
      }, 0n)
  return wantedFor(house, jobs, seen, to, asked, read)
}

/** What came since, or is taken in the place of something, goes on the list too, behind what stands there. */
export function addToPick(house: House, caller: Caller, uid: string): void {
  const found = house.rows.slip.get({ uid })
  const content = found && contentOf(house, found)
  if (!found || !content?.head.pick || found.state !== 'draft' || content.place === null) throw notFound('slip')
  demandAt(house, caller, 'book', house.places.id(content.place)!)
  const lines = linesToPick(house, caller, content.place, missingOn(house, content, reach(house, caller)))
  if (!lines.length) throw new Refused(409, 'nothing_here', 'Nothing more that these jobs need is here.')
  const fit = whatFits(lines, content.lines.length)
  if (!fit.length)
    throw tooManyLines(content.lines.length + lines.length, 'Put this list down, and make another for the rest.')
  addLines(house, caller, uid, fit)
}

/** What a need lacks: neither used nor with the job. */
function leftOf(needId: number, it: StockItem): Quantity {
  const n = it.demand.needs.find(x => x.needId === needId)!
  return max(n.quantity - n.used, 0n)
}

/** The jobs that a list is for: with which its lines are put. */
function jobsOf(house: House, content: SlipContent): Planned[] {
  const ids = content.lines.flatMap(l => {
    const place = l.to === null ? undefined : house.places.id(l.to)
    const of = place === undefined ? undefined : house.sources.jobWith(place)
    return of === undefined ? [] : [of]
  })
  return [...new Set(ids)].map(id => plannedById(house, id))
}

/** A list for jobs was put down: what is taken lies with them, ready to be fetched. */
export function pickBooked(house: House, record: { readonly id: number }, content: SlipContent): void {
  // What fills a shelf is there then: nobody has to fetch it.
  if (content.kind === 'move' && content.head.pick && jobsOf(house, content).length)
    house.db.insert(pickReady).values({ slipId: record.id }).run()
}

type Row = typeof slip.$inferSelect & { readonly ready: typeof pickReady.$inferSelect | null }
/** What was put down, with whether it was fetched. */
const putDown = (house: House) =>
  house.db.select({ slip, ready: pickReady }).from(pickReady).innerJoin(slip, eq(slip.id, pickReady.slipId))

function rowView(house: House, r: Row, content: SlipContent) {
  const name = (id: number | null) => (id === null ? null : (house.rows.personName.get({ id })?.name ?? null))
  const { picker } = content.head
  return {
    id: r.uid,
    number: r.number,
    name: content.head.pick,
    place: r.placeId === null ? '' : house.places.name(r.placeId),
    state:
      r.state === 'draft'
        ? ('picking' as const)
        : r.ready?.fetchedAt != null
          ? ('fetched' as const)
          : ('ready' as const),
    picker: picker === null ? null : (house.rows.personNamed.get({ uid: picker })?.name ?? null),
    by: name(r.bookedBy ?? r.savedBy)!,
    at: iso(r.bookedAt ?? r.savedAt),
    taken: content.lines.filter(l => l.typed.trim()).length,
    lines: content.lines.length,
    jobs: jobsOf(house, content).map(p => ({ id: p.job.uid, code: p.job.code, name: p.job.name })),
    fetchedBy: r.ready?.fetchedBy ?? null,
    fetchedAt: r.ready?.fetchedAt == null ? null : iso(r.ready.fetchedAt),
  }
}

/** Lists that are picked, then what lies ready; `over`: what was fetched, the last first. */
export function pickRows(house: House, scope: Scope, over: boolean) {
  // Where it is picked, or where it goes.
  const inScope = (r: { readonly placeId: number | null }, { lines }: SlipContent) =>
    r.placeId === null ||
    isIn(scope, r.placeId) ||
    lines.some(l => l.to !== null && isIn(scope, house.places.id(l.to) ?? -1))
  const here = (rows: readonly Row[]) =>
    rows.map(r => ({ r, content: contentOf(house, r) })).filter(({ r, content }) => inScope(r, content))
  const shown = over ? fetchedLast(house, here) : here([...picking(house), ...readyNow(house)])
  return shown.map(({ r, content }) => rowView(house, r, content))
}
const picking = (house: House): Row[] =>
  house.db
    .select()
    .from(slip)
    .where(and(eq(slip.state, 'draft'), eq(slip.kind, 'move'), isPick))
    .orderBy(desc(slip.id))
    .all()
    .map(r => ({ ...r, ready: null }))
const asRow = (r: { readonly slip: typeof slip.$inferSelect; readonly ready: Row['ready'] }): Row => ({
  ...r.slip,
  ready: r.ready,
})
/** All that lies ready: what somebody is to fetch is hidden by no other list. */
const readyNow = (house: House): Row[] =>
  putDown(house).where(isNull(pickReady.fetchedAt)).orderBy(desc(pickReady.slipId)).all().map(asRow)

/** So many that were fetched are told, and looked for among ten times as many. */
const FETCHED = 100
function fetchedLast<T>(house: House, here: (rows: readonly Row[]) => T[]): T[] {
  const found: T[] = []
  for (let from = 0; from < 10 * FETCHED && found.length < FETCHED; from += FETCHED) {
    const rows = putDown(house)
      .where(isNotNull(pickReady.fetchedAt))
      .orderBy(desc(pickReady.slipId))
      .limit(FETCHED)
      .offset(from)
      .all()
    found.push(...here(rows.map(asRow)))
    if (rows.length < FETCHED) break
  }
  return found.slice(0, FETCHED)
}

/** A list by the id of its slip. */
export function pickView(house: House, caller: Caller, uid: string): PickView {
  const seen = reach(house, caller)
  const found = house.rows.slip.get({ uid })
  const r = found && { ...found, ready: putDown(house).where(eq(pickReady.slipId, found.id)).get()?.ready ?? null }
  const content = r && contentOf(house, r)
  if (!r || !content?.head.pick || (r.placeId !== null && !isIn(seen, r.placeId))) throw notFound('slip')
  const jobs = jobsOf(house, content)
  return {
    ...rowView(house, r, content),
    places: placesOf(house, content),
    short: jobs.flatMap(p => shortOf(house, p, seen)),
    more: r.state === 'draft' ? moreOf(house, content, seen) : [],
  }
}

const moreOf = (house: House, content: SlipContent, seen: Scope): string[] => {
  // As it is kept, not asked anew: every screen that shows the list reads this at each booking.
  const kept = (items: readonly number[]) => {
    house.stock.want(items)
    return (item: number) => house.stock.item(item)!
  }
  const items = (missingOn(house, content, seen, kept) as { readonly item: string }[]).map(l => l.item)
  return [...new Set(items)].map(item => house.known.item(item)!.name)
}

/** Where a list is put down: with a job, or in a place that it fills. */
function placesOf(house: House, content: SlipContent): PickView['places'] {
  const ids = new Set(content.lines.flatMap(l => (l.to === null ? [] : (house.places.id(l.to) ?? []))))
  return [...ids].map(id => {
    const of = house.sources.jobWith(id)
    const j = of === undefined ? undefined : plannedById(house, of).job
    return {
      id: house.places.row(id)!.uid,
      name: house.places.name(id),
      job: j ? { id: j.uid, code: j.code, name: j.name } : null,
    }
  })
}

/** What a job lacks where it is done, and where else some of it lies. */
function shortOf(house: House, planned: Planned, seen: Scope): PickView['short'] {
  const j = planned.job
  const of = look(house, seen, planned)
  return of.rows.flatMap(n => {
    const it = house.stock.item(n.itemId)!
    const m = metOf(it, p => isIn(seen, p)).get(n.id)
    if (!m) return []
    const quantity = m.elsewhere.reduce((sum, e) => sum + e.quantity, m.missing + m.late + m.coming)
    const elsewhere = [...groupBy(m.elsewhere, e => house.places.area(e.placeId))].map(([area, of]) => ({
      place: house.places.name(area),
      quantity: d(of.reduce((sum, e) => sum + e.quantity, 0n)),
    }))
    const item = named(house.known.itemById(n.itemId)!)
    const short = { job: { id: j.uid, code: j.code }, need: n.uid, item, quantity: d(quantity), elsewhere }
    return quantity > 0n ? [{ ...short, instead: isOpen(j) ? insteadOf(of, n) : [] }] : []
  })
}

/** What lay ready was fetched: whoever it is for has it, and its jobs are in work. Gives the items that that is about. */
export function fetched(house: House, caller: Caller, uid: string, by: string): number[] {
  const found = putDown(house).where(eq(slip.uid, uid)).get()
  if (!found) throw notFound('slip')
  if (found.slip.placeId !== null) demandAt(house, caller, 'book', found.slip.placeId)
  if (found.ready.fetchedAt !== null)
    throw new Refused(409, 'fetched_already', `${found.ready.fetchedBy} fetched it already.`)
  house.db
    .update(pickReady)
    .set({ fetchedBy: by, fetchedAt: house.now(), saidBy: caller.id })
    .where(eq(pickReady.slipId, found.slip.id))
    .run()
  return jobsOf(house, contentOf(house, found.slip)).flatMap(p =>
    p.job.state === 'picking' || p.job.state === 'planned' ? stateJob(house, caller, p, 'in_work').items : [],
  )
}

/** What lies with a job goes back to where it usually lies, as a draft to be looked at and booked. */
export function putBack(house: House, caller: Caller, uid: string, draft: string): void {
  const p = wantPlanned(house, uid)
  const all = liesWith(house, p)
  demandAt(house, caller, 'book', all[0]?.placeId ?? p.plan.placeId)
  if (!all.length) throw new Refused(409, 'nothing_here', `Nothing lies with ${p.job.name}.`)
  // One slip for one area; where the job was picked before it was moved goes first.
  const [first] = all
  const lies = all.filter(l => l.placeId === first!.placeId)
  const area = house.places.area(first!.placeId)
  const place = house.places.row(area)!.uid
  // What does not fit still lies with the job once this is booked, and is put back then.
  const lines = whatFits(lies).map(l => {
    return {
      id: house.uid(),
      item: house.known.itemById(l.itemId)!.uid,
      typed: plainly(l.quantity),
      from: house.places.row(l.placeId)!.uid,
      to: house.places.row(usualBin(house, l.itemId, area))!.uid,
      ...lotOnLine(house, l.lotId),
    }
  })
  beginDraft(house, caller, draft, slipOf({ kind: 'move', place, lines }, ''))
  house.events.add('draft', { slip: draft, places: [place] })
}

/** A list that was begun was thrown away: its jobs are picked no more, where nothing lies with them. */
export function pickDropped(house: House, slipId: number): void {
  const r = house.rows.slipById.get({ id: slipId })
  const content = r && contentOf(house, r)
  if (!content?.head.pick) return
  for (const p of jobsOf(house, content))
    if (p.job.state === 'picking' && !liesWith(house, p).length)
      house.db.update(job).set({ state: 'planned' }).where(eq(job.id, p.job.id)).run()
}
