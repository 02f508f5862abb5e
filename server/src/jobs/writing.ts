import { eq } from 'drizzle-orm'
import type { JobChanges, JobHead, JobLine, JobSaved, NewJob } from '@shelve/contract'
import { LINE_GAP, plainly } from '@shelve/core'
import { account } from '../accounts/index.ts'
import { centreUid, createJob, job, jobCodeFree } from '../costcentres/index.ts'
import { notFound, Refused } from '../ground/index.ts'
import { movement, need, reservation } from '../ledger/index.ts'
import { savePaper, type StandingLine, typedOf } from '../papers/index.ts'
import { renameCrates } from '../places/index.ts'
import { type Caller, demandAt, isIn, reach, type Scope } from '../rights/index.ts'
import type { House } from './house.ts'
import { codeFrom, numberOf } from './numbers.ts'
import { needsByTemplate, planParts, readWanted, templateOfJob, workOutNeeds } from './planning.ts'
import {
  type NeedRow,
  needsOfJob,
  type Planned,
  plannedById,
  plannedByReference,
  wantOpen,
  wantPlanned,
} from './rows.ts'
import { jobPlan, needTakenOff } from './tables.ts'
import { contentOf, formulaOf, templateOf } from './templates.ts'
import { wasPicked } from './with-job.ts'

type DraftLine = Omit<JobLine, 'id'>
const refused = (code: string, field: string, message: string, line: string | null = null, status = 422): never => {
  throw new Refused(status, code, message, [{ line, field, code, message }])
}

const centreId = (house: House, uid: string | null): number | null =>
  uid === null
    ? null
    : (house.rows.costCentre.get({ uid })?.id ??
      refused('unknown_cost_centre', 'costCentre', 'There is no such cost centre.'))
const personId = (house: House, uid: string | null): number | null =>
  uid === null
    ? null
    : (house.rows.personNamed.get({ uid })?.id ?? refused('unknown_person', 'person', 'There is no such person.'))
const placeAt = (house: House, caller: Caller, uid: string): number => {
  const id = house.places.id(uid)
  if (id === undefined) throw notFound('place')
  demandAt(house, caller, 'book', id)
  if (!house.places.isShelf(id))
    refused(
      'no_shelf',
      'place',
      `${house.places.name(id)} is no shelf: nothing may be taken from there. Choose another place.`,
    )
  return id
}
function demandReferenceFree(house: House, reference: string, self: number): void {
  const other = reference ? plannedByReference(house, reference) : undefined
  if (other && other.job.id !== self)
    refused(
      'reference_taken',
      'reference',
      `${other.job.name} (${other.job.code}) has the reference ${reference} already.`,
      null,
      409,
    )
}

/** A job that begins. Gives its id, and the items that it is about. */
export function beginJob(house: House, caller: Caller, input: NewJob): { id: string; items: number[] } {
  const template = input.template ? templateOf(house, input.template) : undefined
  const like = input.like ? wantSeen(house, caller, input.like) : undefined
  const name = input.name ?? template?.name ?? like?.job.name
  if (name === undefined) return refused('name_needed', 'name', 'What is the job called?')
  const code = input.code ?? (input.place === null ? codeFrom(house, name) : numberOf(house))
  const costCentre = input.costCentre ?? (like ? centreUid(house, like.job.costCentreId) : null)
  const uid = createJob(house, { code, name, costCentre }, input.code === null)
  if (input.place === null) return { id: uid, items: [] }
  if (template && !template.active)
    refused(
      'template_out_of_use',
      'template',
      `${template.name} is out of use. Choose another one, or take it into use again.`,
    )
  demandReferenceFree(house, input.reference, 0)
  const jobId = house.rows.job.get({ uid })!.id
  house.db.update(job).set({ state: 'planned' }).where(eq(job.id, jobId)).run()
  insertPlan(house, caller, jobId, placeAt(house, caller, input.place), input, template, like)
  refuseUnreadWanted(house, plannedById(house, jobId))
  if (template) needsByTemplate(house, caller, jobId, contentOf(house, template))
  for (const n of like ? needsOfJob(house, like.job.id) : [])
    house.db
      .insert(need)
      .values({ ...n, id: undefined, uid: house.uid(), jobId, revision: 1, savedBy: caller.id })
      .run()
  const readNeeds = () => new Map(needsOfJob(house, jobId).map(n => [house.known.itemById(n.itemId)!.uid, n]))
  let stand = readNeeds()
  let position = stand.size
  const said = new Set<string>()
  for (const { id, ...l } of input.lines) {
    // Said twice, the second time counts: it is the line that the first made.
    if (said.has(l.item)) stand = readNeeds()
    said.add(l.item)
    const there = stand.get(l.item)
    writeLine(
      house,
      caller,
      jobId,
      there?.uid ?? id,
      1,
      { line: l, position: ++position * LINE_GAP },
      there && standingOf(house, there, reach(house, caller)),
    )
  }
  return { id: uid, items: [...workOutNeeds(house, jobId), ...planParts(house, caller, jobId)] }
}
/** A job that somebody may look at: what it needs is copied only for them. */
function wantSeen(house: House, caller: Caller, uid: string): Planned {
  const found = wantPlanned(house, uid)
  if (!isIn(reach(house, caller), found.plan.placeId)) throw notFound('job')
  return found
}
function insertPlan(
  house: House,
  caller: Caller,
  jobId: number,
  placeId: number,
  input: NewJob,
  template: ReturnType<typeof templateOf>,
  like: Planned | undefined,
): void {
  const plan = like?.plan
  // For as much as the earlier one, where nothing is said; how much a part was for stands in no text.
  const earlier = plan && (plan.parentId === null ? plan : { typed: plainly(plan.wanted), unit: null })
  const { typed, unit } = input.typed.trim() || !earlier ? input : earlier
  house.db
    .insert(jobPlan)
    .values({
      jobId,
      placeId,
      day: input.day,
      time: input.time,
      personId: personId(house, input.person),
      reference: input.reference,
      note: input.note || (plan?.note ?? ''),
      templateId: template?.id ?? plan?.templateId ?? null,
      templateVersion: template?.version ?? plan?.templateVersion ?? null,
      typed,
      unit,
      wanted: 0n,
      repeats: input.repeats,
      again: input.again,
      outputId: template?.outputId ?? plan?.outputId ?? null,
      revision: 1,
      version: 1,
      savedBy: caller.id,
      createdAt: house.now(),
      createdBy: caller.id,
    })
    .run()
}
function refuseUnreadWanted(house: House, planned: Planned): void {
  const content = templateOfJob(house, planned)
  const { unread } = readWanted(house, planned.plan, content && formulaOf(house, content))
  if (unread !== null) refused('quantity_unread', 'typed', unread)
}

/** What a need says, as it is written on the job; a place that one may not look into is not told. */
export const lineOf = (house: House, n: NeedRow, seen: Scope): DraftLine => ({
  item: house.known.itemById(n.itemId)!.uid,
  typed: n.typed,
  unit: n.unit,
  optional: n.optional,
  from: n.fromId === null || !isIn(seen, n.fromId) ? null : house.places.row(n.fromId)!.uid,
  note: n.note,
})
const standingOf = (house: House, n: NeedRow, seen: Scope): StandingLine<DraftLine> => ({
  revision: n.revision,
  position: n.position,
  by: n.savedBy,
  content: lineOf(house, n, seen),
})
function standing(house: House, jobId: number, seen: Scope): Map<string, StandingLine<DraftLine>> {
  const lines = new Map(needsOfJob(house, jobId).map(n => [n.uid, standingOf(house, n, seen)]))
  for (const t of house.db.select().from(needTakenOff).where(eq(needTakenOff.jobId, jobId)).all())
    lines.set(t.uid, { revision: t.revision, position: 0, by: t.savedBy, content: null })
  return lines
}

export const headOf = (house: House, { job: j, plan }: Planned): JobHead => ({
  code: j.code,
  name: j.name,
  place: house.places.row(plan.placeId)!.uid,
  day: plan.day,
  time: plan.time,
  person: plan.personId === null ? null : house.rows.personName.get({ id: plan.personId })!.uid,
  costCentre: centreUid(house, j.costCentreId),
  reference: plan.reference,
  note: plan.note,
  typed: plan.typed,
  unit: plan.unit,
  repeats: plan.repeats,
  again: plan.again,
})

/**
 * Saves what was changed of a job, within the running transaction. Gives what was saved, the items it is about, and whether a
 * place is called otherwise by that: where its things lie is called by its code.
 */
export function saveJob(
  house: House,
  caller: Caller,
  uid: string,
  changes: JobChanges,
  seen: number | undefined,
): { saved: Omit<JobSaved, 'job'>; items: number[]; renamed: boolean } {
  const planned = wantOpen(house, caller, uid)
  const { plan, job: row } = planned
  const before = needsOfJob(house, row.id).map(n => n.itemId)
  const there = standing(house, row.id, reach(house, caller))
  const { answer, set, wrote } = savePaper({
    id: uid,
    row: plan,
    there,
    changes,
    seen,
    theirs: headOf(house, planned),
    by: caller.id,
    now: house.now(),
    nameOf: person => house.rows.personName.get({ id: person })!.name,
    twin: line => [...there].find(([, s]) => s.content?.item === line.item)?.[0],
    write: (id, change, stands, version) => writeLine(house, caller, row.id, id, version, change, stands),
    writeHead: head => writeHead(house, caller, planned, head),
  })
  house.db.update(jobPlan).set(set).where(eq(jobPlan.jobId, row.id)).run()
  const items = wrote ? [...before, ...workOutNeeds(house, row.id), ...planParts(house, caller, row.id)] : []
  const renamed = plannedById(house, row.id).job.code !== row.code && wasPicked(house, row.id)
  return { saved: answer, items, renamed }
}

function writeHead(house: House, caller: Caller, planned: Planned, head: JobHead): void {
  const { job: row, plan } = planned
  if (plan.parentId !== null && (head.typed.trim() !== plan.typed || head.unit !== plan.unit))
    refused(
      'follows_its_job',
      'typed',
      'How much of it is made follows from the job that it is for. Change that one.',
      null,
      409,
    )
  jobCodeFree(house, head.code, row.id)
  demandReferenceFree(house, head.reference, row.id)
  house.db
    .update(job)
    .set({ code: head.code, name: head.name, costCentreId: centreId(house, head.costCentre) })
    .where(eq(job.id, row.id))
    .run()
  if (head.name !== row.name) house.db.update(account).set({ name: head.name }).where(eq(account.jobId, row.id)).run()
  renameCrates(house, row.code, head.code)
  const { day, time, reference, note, typed, unit, repeats, again } = head
  if (plan.parentId !== null && (repeats || again !== null))
    refused(
      'follows_its_job',
      'repeats',
      'It is made for another job: that one comes again, and with it what is made for it.',
      null,
      409,
    )
  house.db
    .update(jobPlan)
    .set({
      placeId: placeAt(house, caller, head.place),
      personId: personId(house, head.person),
      day,
      time,
      reference,
      note,
      typed,
      unit,
      repeats,
      again,
    })
    .where(eq(jobPlan.jobId, row.id))
    .run()
  refuseUnreadWanted(house, plannedById(house, row.id))
}

/** Writes a line of a job; what cannot be read is kept, and needs nothing until it can. */
function writeLine(
  house: House,
  caller: Caller,
  jobId: number,
  id: string,
  revision: number,
  { line, position }: { readonly line: DraftLine | null; readonly position: number },
  stands: StandingLine<DraftLine> | undefined,
): void {
  const saved = { revision, savedBy: caller.id }
  if (line === null) return takeOff(house, jobId, id, saved)
  const it = house.known.item(line.item)
  if (!it?.active) return refused('unknown_item', 'item', 'There is no such item, or it is retired.', id)
  if (it.kept === 'charge')
    return refused(
      'not_stocked',
      'item',
      `${it.name} is a charge: it never lies on a shelf, so no job can take it.`,
      id,
    )
  const was = stands?.content ? house.db.select().from(need).where(eq(need.uid, id)).get() : undefined
  if (was && was.itemId !== it.id) demandUntaken(house, was)
  const values = {
    itemId: it.id,
    typed: line.typed,
    unit: line.unit,
    quantity: typedOf(house, it, line).quantity,
    optional: line.optional,
    fromId: line.from === null ? unseenFrom(house, caller, was) : (house.places.id(line.from) ?? null),
    note: line.note,
    position,
    ...saved,
  }
  if (was) {
    house.db.update(need).set(values).where(eq(need.id, was.id)).run()
    if (was.itemId !== it.id) house.db.delete(reservation).where(eq(reservation.needId, was.id)).run()
    return
  }
  if (house.db.select({ id: need.id }).from(need).where(eq(need.uid, id)).get())
    refused('line_of_another_job', 'id', 'A line with this id stands on another job.', id, 409)
  house.db.delete(needTakenOff).where(eq(needTakenOff.uid, id)).run()
  house.db
    .insert(need)
    .values({ ...values, uid: id, jobId })
    .run()
}

/** Where a line is taken from stays, where whoever writes it may not see that place, and so cannot have meant to change it. */
const unseenFrom = (house: House, caller: Caller, was: NeedRow | undefined): number | null =>
  was && was.fromId !== null && !isIn(reach(house, caller), was.fromId) ? was.fromId : null

function takeOff(house: House, jobId: number, id: string, saved: { revision: number; savedBy: number }): void {
  const was = house.db.select().from(need).where(eq(need.uid, id)).get()
  if (was) {
    demandUntaken(house, was)
    house.db.delete(reservation).where(eq(reservation.needId, was.id)).run()
    house.db.delete(need).where(eq(need.id, was.id)).run()
  }
  house.db
    .insert(needTakenOff)
    .values({ uid: id, jobId, ...saved })
    .onConflictDoUpdate({ target: needTakenOff.uid, set: { jobId, ...saved } })
    .run()
}

/** What movements answer stays: what was taken for a need is found by it. */
function demandUntaken(house: House, n: NeedRow): void {
  if (house.db.select({ seq: movement.seq }).from(movement).where(eq(movement.needId, n.id)).limit(1).get())
    refused(
      'taken_for_it',
      'item',
      `${house.known.itemById(n.itemId)!.name} was taken for this job already. Say that it needs 0 more, or take that issue back first.`,
      n.uid,
      409,
    )
}
