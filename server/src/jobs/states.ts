import { eq } from 'drizzle-orm'
import type { JobState } from '@shelve/contract'
import { formatDecimal, freeFor, min, type Quantity } from '@shelve/core'
import { job } from '../costcentres/index.ts'
import { notFound, Refused } from '../ground/index.ts'
import { reservation } from '../ledger/index.ts'
import { typedOf } from '../papers/index.ts'
import { type Caller, demandAt } from '../rights/index.ts'
import type { House } from './house.ts'
import { planParts, workOutNeeds } from './planning.ts'
import { comeAgain } from './standing.ts'
import { liesWith } from './with-job.ts'
import { isOpen, type NeedRow, needsOfJob, type Planned, wantOpen, wantPlanned } from './rows.ts'

/** What was set aside for a job that is opened again, and is not free any more. */
export interface Lost {
  readonly itemId: number
  readonly quantity: Quantity
}
/**
 * Says how far a job is. What is over needs nothing more: what was set aside for it is free, and what was to be made for it
 * and nobody began is dropped. Opened again it needs what it needed, and has set aside what is still free of what it had.
 */
export function setState(
  house: House,
  caller: Caller,
  uid: string,
  state: JobState,
): { items: number[]; lost: Lost[] } {
  const planned = wantPlanned(house, uid)
  demandAt(house, caller, 'book', planned.plan.placeId)
  const lies = isOpen({ state }) ? [] : liesWith(house, planned)
  if (lies.length)
    throw new Refused(
      409,
      'lies_with_it',
      `${lies.length === 1 ? 'Something that was' : `${lies.length} things that were`} picked for ${planned.job.name} still lie${lies.length === 1 ? 's' : ''} with it. Use it, or put it back first.`,
    )
  return stateJob(house, caller, planned, state)
}
/** The same, of a job of which it is known that it may be changed. */
export function stateJob(
  house: House,
  caller: Caller,
  planned: Planned,
  state: JobState,
): { items: number[]; lost: Lost[] } {
  const { id } = planned.job
  if (planned.job.state === state) return { items: [], lost: [] }
  house.db.update(job).set({ state }).where(eq(job.id, id)).run()
  const items = [...workOutNeeds(house, id), ...(isOpen({ state }) ? [] : comeAgain(house, caller, id))]
  const lost = isOpen({ state }) && !isOpen(planned.job) ? reserveAgain(house, caller, id) : []
  return { items: [...items, ...planParts(house, caller, id)], lost }
}

/** What a job had set aside before it was over is set aside anew, as far as nobody else has it (rule 65). */
function reserveAgain(house: House, caller: Caller, jobId: number): Lost[] {
  const lost: Lost[] = []
  for (const n of needsOfJob(house, jobId)) {
    const had = house.stock
      .now([n.itemId])
      .get(n.itemId)!
      .held.filter(h => h.reservation.needId === n.id)
    house.db.delete(reservation).where(eq(reservation.needId, n.id)).run()
    for (const { reservation: r, wanted } of had) {
      const quantity = min(wanted, freeOf(house, n, r))
      if (quantity > 0n) keep(house, caller, { needId: n.id, placeId: r.placeId, lotId: r.lotId, quantity })
      if (quantity < wanted) lost.push({ itemId: n.itemId, quantity: wanted - quantity })
    }
  }
  return lost
}
/** What could be set aside for a need in a place (of a lot) at this very moment. */
function freeOf(house: House, n: NeedRow, where: Where): Quantity {
  const { demand, shelves } = house.stock.now([n.itemId]).get(n.itemId)!
  return freeFor(
    demand.needs.find(x => x.needId === n.id)!,
    where,
    demand.needs,
    demand.reservations,
    shelves,
  )
}
function keep(
  house: House,
  caller: Caller,
  r: Pick<typeof reservation.$inferInsert, 'needId' | 'placeId' | 'lotId' | 'quantity'>,
): void {
  const since = house.ledger.lastSeq.get()!.seq
  house.db
    .insert(reservation)
    .values({ ...r, since, madeAt: house.now(), madeBy: caller.id })
    .run()
}

interface Wish {
  readonly need: string | null
  readonly place: string | null
  readonly lot: string | null
  readonly typed: string
  readonly unit: string | null
}
/**
 * Sets aside for a job what is free where it is done: of one need as much as is said (from a place or of a lot, where that
 * is wished), or of every need what it lacks. What is not there is refused, where one need is meant; of all needs each gets
 * what there is of it.
 */
export function reserve(house: House, caller: Caller, uid: string, wish: Wish): number[] {
  const planned = wantOpen(house, caller, uid)
  if (wish.need === null && (wish.place || wish.lot || wish.typed.trim()))
    throw new Refused(422, 'need_wanted', 'Say of which need that much is set aside.')
  const rows = needsOfJob(house, planned.job.id)
  const needs = wish.need === null ? rows : rows.filter(n => n.uid === wish.need)
  if (!needs.length && wish.need !== null) throw notFound('need')
  const now = house.stock.now(needs.map(n => n.itemId))
  const made = needs.flatMap(n => {
    const where = whereOf(house, caller, planned, n, wish)
    const { demand, held, shelves } = now.get(n.itemId)!
    const own = demand.needs.find(x => x.needId === n.id)!
    const kept = held.reduce((sum, h) => (h.reservation.needId === n.id ? sum + h.held : sum), 0n)
    const lacks = own.quantity - own.used - kept
    const there = freeFor(own, where, demand.needs, demand.reservations, shelves)
    const asked = wish.typed.trim() ? typedFor(house, n, wish) : lacks
    if (lacks <= 0n) return []
    if (asked > lacks) throw tooMuch(house, n, asked, lacks)
    // What was said must be there; where nothing was, as much as there is.
    if (asked > there && wish.need !== null && (wish.typed.trim() || there <= 0n))
      throw notThere(house, n, where.placeId, asked, there)
    const quantity = min(there, asked)
    return quantity > 0n ? [{ needId: n.id, ...where, quantity }] : []
  })
  for (const r of made) keep(house, caller, r)
  return needs.map(n => n.itemId)
}

/** Where, and of which lot, something is set aside: where the job is done, if nothing is said. */
function whereOf(house: House, caller: Caller, { plan }: Planned, n: NeedRow, wish: Wish) {
  const lot = wish.lot === null ? undefined : house.rows.lot.get({ uid: wish.lot })
  if (wish.lot !== null && lot?.itemId !== n.itemId)
    throw new Refused(422, 'lot_of_another_item', `That is no lot of ${house.known.itemById(n.itemId)!.name}.`)
  const placeId = wish.place === null ? plan.placeId : house.places.id(wish.place)
  if (placeId === undefined) throw notFound('place')
  demandAt(house, caller, 'book', placeId)
  return { placeId, lotId: lot?.id ?? null }
}

function typedFor(house: House, n: NeedRow, wish: Wish): Quantity {
  const read = typedOf(house, house.known.itemById(n.itemId)!, wish)
  if (read.unread !== null || read.quantity <= 0n) {
    const message = read.unread ?? 'How much is set aside? Type a number above zero.'
    throw new Refused(422, 'quantity_unread', message, [
      { line: n.uid, field: 'typed', code: 'quantity_unread', message },
    ])
  }
  return read.quantity
}

function tooMuch(house: House, n: NeedRow, asked: Quantity, lacks: Quantity): Refused {
  const it = house.known.itemById(n.itemId)!
  const message = `The job lacks ${formatDecimal(lacks)} ${it.unit} of ${it.name}: ${formatDecimal(asked)} is more than that.`
  return new Refused(422, 'more_than_needed', message, [
    { line: n.uid, field: 'typed', code: 'more_than_needed', message },
  ])
}
function notThere(house: House, n: NeedRow, placeId: number, asked: Quantity, free: Quantity): Refused {
  const it = house.known.itemById(n.itemId)!
  const there = free > 0n ? `${formatDecimal(free)} ${it.unit} are free` : 'nothing is free'
  const message = `${formatDecimal(asked)} ${it.unit} of ${it.name} cannot be set aside in ${house.places.name(placeId)}: ${there} there.`
  return new Refused(409, 'not_free', message, [{ line: n.uid, field: 'typed', code: 'not_free', message }])
}

/** What was set aside is free again: of one need, or of all. */
export function free(house: House, caller: Caller, uid: string, needUid: string | null): number[] {
  const { job: row } = wantOpen(house, caller, uid)
  const rows = needsOfJob(house, row.id)
  const needs = needUid === null ? rows : rows.filter(n => n.uid === needUid)
  if (!needs.length && needUid !== null) throw notFound('need')
  for (const n of needs) house.db.delete(reservation).where(eq(reservation.needId, n.id)).run()
  return needs.map(n => n.itemId)
}

/** A place, and of what is there one lot, where that is wished. */
export interface Where {
  readonly placeId: number
  readonly lotId: number | null
}
