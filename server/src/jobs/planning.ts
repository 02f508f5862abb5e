import { eq } from 'drizzle-orm'
import type { Template } from '@shelve/contract'
import { type Formula, inBatches, LINE_GAP, type Need, needsOf, type Quantity, ratio, readQuantity } from '@shelve/core'
import { job } from '../costcentres/index.ts'
import { need } from '../ledger/index.ts'
import { quantityRefusal, typedOf, wordRefusal } from '../papers/index.ts'
import { metOf } from '../position/index.ts'
import type { Caller } from '../rights/index.ts'
import { besideItems } from './besides.ts'
import type { House } from './house.ts'
import { numberOf } from './numbers.ts'
import { isOpen, type NeedRow, needsOfJob, partsOf, type Planned, plannedById } from './rows.ts'
import { jobPlan } from './tables.ts'
import { contentAt, formulaOf, makerOf } from './templates.ts'

/** By whom something is written; what follows by itself is by whoever wrote what it follows from. */
export type By = Pick<Caller, 'id'>
/** What is made where a job only uses: so many times of it, in whole. */
export const TIMES = { base: 'times', decimals: 0, packs: [] }

/** What a job's template says, in the version that the job keeps to. */
export const templateOfJob = (house: House, { plan }: Planned): Template | undefined =>
  plan.templateId === null ? undefined : contentAt(house, plan.templateId, plan.templateVersion!)

/** For how much a job is, as somebody typed it; nothing typed: what its template is for. A part is for what its job lacks. */
export function readWanted(
  house: House,
  { typed, unit, outputId, parentId, wanted }: Planned['plan'],
  formula: Formula | undefined,
): { quantity: Quantity; unread: string | null } {
  if (!formula) return { quantity: 0n, unread: null }
  if (parentId !== null) return { quantity: inBatches(wanted, formula.batch), unread: null }
  if (!typed.trim()) return { quantity: inBatches(formula.base, formula.batch), unread: null }
  const it = outputId === null ? undefined : house.known.itemById(outputId)
  const read = readQuantity(typed, it ? house.known.measure(it) : TIMES, unit ?? undefined)
  if (read.ok) return { quantity: inBatches(read.quantity, formula.batch), unread: null }
  const called = it?.unit ?? TIMES.base
  const { message } = wordRefusal(house, quantityRefusal(read, typed, called), () => called)
  return { quantity: 0n, unread: message }
}

/**
 * What a job takes, as a formula: its template's lines of those items that are on it and of which nothing else was typed;
 * what was typed is taken once, however much comes of it.
 */
export function formulaOfJob(house: House, planned: Planned, needs: readonly NeedRow[]): Formula | undefined {
  const content = templateOfJob(house, planned)
  if (!content) return undefined
  const formula = formulaOf(house, content)
  const says = new Set(needs.filter(n => !n.typed.trim()).map(n => n.itemId))
  return {
    ...formula,
    output: planned.plan.outputId ?? 0,
    lines: [
      ...formula.lines.filter(l => says.has(l.item)),
      ...needs
        .filter(n => n.typed.trim())
        .map(n => ({ item: n.itemId, amount: 0n, fixed: n.quantity, loss: ratio(0n) })),
    ],
  }
}
export const decimalsOf =
  (house: House) =>
  (item: number): number =>
    house.known.itemById(item)?.decimals ?? 0

/** What each need comes to by the job's template, exactly and as it is written. */
export const byTemplate = (house: House, formula: Formula | undefined, wanted: Quantity): ReadonlyMap<number, Need> =>
  formula && wanted > 0n ? needsOf(formula, wanted, decimalsOf(house)) : new Map()

/** Works out anew what a job needs: by its template at how much it is for, or as it was typed. Gives the items it is about. */
export function workOutNeeds(house: House, jobId: number): number[] {
  const planned = plannedById(house, jobId)
  const { plan } = planned
  const rows = needsOfJob(house, jobId)
  const formula = formulaOfJob(house, planned, rows)
  const { quantity: wanted } = readWanted(house, plan, formula)
  if (wanted !== plan.wanted) house.db.update(jobPlan).set({ wanted }).where(eq(jobPlan.jobId, jobId)).run()
  const says = byTemplate(house, formula, wanted)
  for (const n of rows) {
    const quantity = n.typed.trim()
      ? typedOf(house, house.known.itemById(n.itemId)!, n).quantity
      : (says.get(n.itemId)?.quantity ?? 0n)
    if (quantity !== n.quantity) house.db.update(need).set({ quantity }).where(eq(need.id, n.id)).run()
  }
  return [...rows.map(n => n.itemId), ...(plan.outputId === null ? [] : [plan.outputId]), ...besideItems(house, plan)]
}

/**
 * Plans what must be made first for a job (rule 12): of each of its needs that is made, and of which not enough is there nor
 * coming in time, a job of its own, in whole batches; and so on down. One that nobody began is made as large as it is
 * needed now, and dropped where it is not. Gives the items that all of it is about.
 */
export function planParts(house: House, caller: By, jobId: number): number[] {
  const planned = plannedById(house, jobId)
  const touched: number[] = []
  // What was made of it is done with; of what is wanted beyond that another is begun.
  const parts = new Map(
    partsOf(house, jobId)
      .filter(p => p.job.state !== 'done')
      .map(p => [p.plan.outputId, p]),
  )
  const needs = isOpen(planned.job) ? needsOfJob(house, jobId) : []
  const makers = new Map(needs.map(n => [n.itemId, makerOf(house, n.itemId, 0)]))
  const now = house.stock.now([...makers].flatMap(([item, maker]) => (maker || parts.has(item) ? [item] : [])))
  for (const n of needs) {
    const maker = makers.get(n.itemId)
    const part = parts.get(n.itemId)
    parts.delete(n.itemId)
    if (!maker || (part && isOpen(part.job) && part.job.state !== 'planned')) continue
    const m = metOf(now.get(n.itemId)!, undefined, part?.job.id).get(n.id)!
    const short = m.elsewhere.reduce((sum, e) => sum + e.quantity, 0n) + m.late + m.missing
    if (short <= 0n) {
      if (part) touched.push(...drop(house, caller, part))
      continue
    }
    const id = part?.job.id ?? beginPart(house, caller, planned, maker)
    planPart(house, id, planned, short)
    touched.push(...workOutNeeds(house, id), ...planParts(house, caller, id))
  }
  // What is on the job no more, or of a job that is over, is made no more for it.
  for (const p of parts.values()) touched.push(...drop(house, caller, p))
  return touched
}

/** What is made for a job that was planned and that nobody began: nothing of it is wanted any more. */
function drop(house: House, caller: By, part: Planned): number[] {
  if (part.job.state !== 'planned') return []
  house.db.update(job).set({ state: 'dropped' }).where(eq(job.id, part.job.id)).run()
  return [...workOutNeeds(house, part.job.id), ...planParts(house, caller, part.job.id)]
}

/** A part is wanted on the day of the job that it is for, and there. */
function planPart(house: House, id: number, { plan, job: parent }: Planned, wanted: Quantity): void {
  const { placeId, day, time, personId } = plan
  house.db.update(jobPlan).set({ placeId, day, time, personId, wanted }).where(eq(jobPlan.jobId, id)).run()
  house.db.update(job).set({ state: 'planned', costCentreId: parent.costCentreId }).where(eq(job.id, id)).run()
}

function beginPart(house: House, caller: By, parent: Planned, maker: NonNullable<ReturnType<typeof makerOf>>): number {
  const { id } = house.db
    .insert(job)
    .values({
      uid: house.uid(),
      code: numberOf(house),
      name: maker.name,
      costCentreId: parent.job.costCentreId,
      state: 'planned',
    })
    .returning({ id: job.id })
    .get()
  house.db
    .insert(jobPlan)
    .values({
      jobId: id,
      placeId: parent.plan.placeId,
      time: '',
      reference: '',
      note: '',
      templateId: maker.id,
      templateVersion: maker.version,
      typed: '',
      wanted: 0n,
      repeats: '',
      outputId: maker.outputId,
      parentId: parent.job.id,
      revision: 1,
      version: 1,
      savedBy: caller.id,
      createdAt: house.now(),
      createdBy: caller.id,
    })
    .run()
  needsByTemplate(house, caller, id, contentAt(house, maker.id, maker.version))
  return id
}

/** The lines of a job as its template has them: one for each item. */
export function needsByTemplate(house: House, caller: By, jobId: number, content: Template): void {
  const done = new Set<string>()
  for (const l of content.lines) {
    if (done.has(l.item)) continue
    done.add(l.item)
    const same = content.lines.filter(x => x.item === l.item)
    house.db
      .insert(need)
      .values({
        uid: house.uid(),
        jobId,
        itemId: house.known.item(l.item)!.id,
        quantity: 0n,
        typed: '',
        unit: null,
        optional: same.every(x => x.optional),
        fromId: l.from === null ? null : (house.places.id(l.from) ?? null),
        note: same
          .flatMap(x => (x.note.trim() ? [x.note.trim()] : []))
          .join('; ')
          .slice(0, 200),
        position: done.size * LINE_GAP,
        revision: 1,
        savedBy: caller.id,
      })
      .run()
  }
}
