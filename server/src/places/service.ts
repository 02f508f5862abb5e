import { and, eq, sql } from 'drizzle-orm'
import { decimal, ownCode } from '@shelve/core'
import type { Place } from '@shelve/contract'
import { account, code, costCentre, job, level, place, placeWithin, wasteReason } from '../db/schema.ts'
import { Refused, type App } from '../app.ts'
import { isIn, type Scope } from './tree.ts'
import { notFound, register, stale, wantItem } from '../catalogue/service.ts'

export interface PlaceIn {
  readonly name: string
  readonly parent?: string | null
  readonly kind?: (typeof place.$inferSelect)['kind']
  readonly walk?: number
  readonly codes?: readonly string[]
  readonly countEveryDays?: number | null
}

export function createPlace(app: App, input: PlaceIn): number {
  const parentId = input.parent ? app.places.id(input.parent) : null
  if (parentId === undefined) throw notFound('place')
  nameFree(app, input.name, parentId, undefined)
  const id = app.db
    .insert(account)
    .values({ kind: 'place', name: input.name.trim() })
    .returning({ id: account.id })
    .get().id
  app.db
    .insert(place)
    .values({
      id,
      uid: app.uid(),
      parentId,
      kind: input.kind ?? 'bin',
      name: input.name.trim(),
      walk: input.walk ?? nextWalk(app, parentId),
      active: true,
      revision: 1,
      countEveryDays: input.countEveryDays ?? null,
    })
    .run()
  app.db.insert(placeWithin).values({ ancestorId: id, placeId: id }).run()
  if (parentId !== null)
    app.db.run(
      sql`insert into place_within (ancestor_id, place_id) select ancestor_id, ${id} from place_within where place_id = ${parentId}`,
    )
  for (const c of input.codes ?? []) register(app, c, { kind: 'place', placeId: id })
  app.places.forget()
  return id
}

export function updatePlace(app: App, uid: string, input: PlaceIn, revision: number | undefined): void {
  const row = app.places.row(app.places.id(uid) ?? -1)
  if (!row) throw notFound('place')
  if (revision !== undefined && revision !== row.revision) throw stale()
  const parentId = input.parent ? app.places.id(input.parent) : null
  if (parentId === undefined) throw notFound('place')
  if (parentId !== row.parentId)
    throw new Refused(
      409,
      'place_stays',
      'A place stays where it is in the tree; make a new one and move what lies there.',
      [{ field: 'parent', code: 'place_stays', message: 'A place stays where it is in the tree.' }],
    )
  nameFree(app, input.name, parentId, row.id)
  app.db
    .update(place)
    .set({
      name: input.name.trim(),
      walk: input.walk ?? row.walk,
      kind: input.kind ?? row.kind,
      countEveryDays: input.countEveryDays ?? null,
      revision: row.revision + 1,
    })
    .where(eq(place.id, row.id))
    .run()
  app.db.update(account).set({ name: input.name.trim() }).where(eq(account.id, row.id)).run()
  app.db.delete(code).where(eq(code.placeId, row.id)).run()
  for (const c of input.codes ?? []) register(app, c, { kind: 'place', placeId: row.id })
}

function nameFree(app: App, name: string, parentId: number | null, self: number | undefined): void {
  const other = [...app.places.rows.values()].find(
    p => p.parentId === parentId && p.name.toLowerCase() === name.trim().toLowerCase() && p.id !== self,
  )
  if (other)
    throw new Refused(409, 'name_taken', `There is a ${name} here already.`, [
      { field: 'name', code: 'name_taken', message: `There is a ${name} here already. Choose another name.` },
    ])
}
const nextWalk = (app: App, parentId: number | null): number =>
  Math.max(0, ...[...app.places.rows.values()].filter(p => p.parentId === parentId).map(p => p.walk)) + 10

/** The tree of places as far as it may be seen, with what leads there. */
export function placeViews(app: App, seen: Scope): Place[] {
  const codes = app.db
    .select()
    .from(code)
    .where(sql`${code.placeId} is not null`)
    .all()
  const leads = (id: number) => !seen.within || [...app.places.within(id)].some(p => seen.within!.has(p))
  return [...app.places.rows.values()]
    .filter(p => leads(p.id))
    .sort((a, b) => app.places.order(a.id) - app.places.order(b.id))
    .map(p => ({
      id: p.uid,
      revision: p.revision,
      name: p.name,
      parent: p.parentId === null ? null : app.places.row(p.parentId)!.uid,
      kind: p.kind as Place['kind'],
      walk: p.walk,
      active: p.active,
      path: app.places.name(p.id),
      codes: codes.filter(c => c.placeId === p.id).map(c => c.normal),
      own: ownCode('place', p.id),
      mine: isIn(seen, p.id),
      countEveryDays: p.countEveryDays,
    }))
}

/** Minimum and target of an item in a place; both null takes it off the place, unless something lies there. */
export function setLevel(
  app: App,
  input: { item: string; place: string; minimum: string | null; target: string | null; bin: string | null },
): void {
  const item = wantItem(app, input.item)
  const placeId = app.places.id(input.place)
  if (placeId === undefined) throw notFound('place')
  const binId = input.bin === null ? null : app.places.id(input.bin)
  if (binId === undefined || (binId !== null && !app.places.within(placeId).has(binId)))
    throw new Refused(422, 'bin_elsewhere', 'The usual bin lies in another place.', [
      { field: 'bin', code: 'bin_elsewhere', message: 'The usual bin lies in another place.' },
    ])
  const set = {
    minimum: input.minimum === null ? null : decimal(input.minimum),
    target: input.target === null ? null : decimal(input.target),
    binId,
  }
  if (set.minimum === null && set.target === null && binId === null)
    app.db
      .delete(level)
      .where(and(eq(level.itemId, item.id), eq(level.placeId, placeId)))
      .run()
  else
    app.db
      .insert(level)
      .values({ itemId: item.id, placeId, ...set })
      .onConflictDoUpdate({ target: [level.itemId, level.placeId], set })
      .run()
}

/** The bin that a delivery of an item usually goes to in an area: as set, else where most of it lies, else the area itself. */
export function usualBin(app: App, itemId: number, areaId: number): number {
  const set = app.paper.bin.get({ item: itemId, area: areaId })
  if (set?.binId) return set.binId
  const within = app.places.within(areaId)
  const lies = app.paper.lies.all({ item: itemId }).filter(b => within.has(b.placeId))
  return lies.sort((a, b) => (a.quantity > b.quantity ? -1 : 1))[0]?.placeId ?? areaId
}

export function wantSupplier(app: App, name: string): number {
  const known = app.ids.supplierByName.get({ name: name.trim() })
  if (known) return known.id
  const { id } = app.paper.insertAccount.get({ kind: 'supplier', name: name.trim(), jobId: null, costCentreId: null })!
  app.paper.insertSupplier.run({ id, uid: app.uid(), name: name.trim() })
  return id
}
export function createWasteReason(app: App, name: string): string {
  if (
    app.db
      .select()
      .from(wasteReason)
      .where(sql`lower(${wasteReason.name}) = lower(${name})`)
      .get()
  )
    throw new Refused(409, 'name_taken', `There is a reason ${name} already.`, [
      { field: 'name', code: 'name_taken', message: `There is a reason ${name} already.` },
    ])
  const id = app.db.insert(account).values({ kind: 'waste', name }).returning({ id: account.id }).get().id
  const uid = app.uid()
  app.db.insert(wasteReason).values({ id, uid, name, active: true }).run()
  return uid
}
export function createCostCentre(app: App, name: string, text: string | undefined): string {
  const c =
    text ??
    name
      .toUpperCase()
      .replace(/[^A-Z0-9]+/g, '-')
      .slice(0, 12)
  if (
    app.db
      .select()
      .from(costCentre)
      .where(sql`lower(${costCentre.code}) = lower(${c})`)
      .get()
  )
    throw new Refused(409, 'code_taken', `There is a cost centre ${c} already.`, [
      { field: 'code', code: 'code_taken', message: `There is a cost centre ${c} already.` },
    ])
  const uid = app.uid()
  app.db.insert(costCentre).values({ uid, code: c, name, active: true }).run()
  return uid
}
export function createJob(app: App, input: { code: string; name: string; costCentre?: string | null }): string {
  if (
    app.db
      .select()
      .from(job)
      .where(sql`lower(${job.code}) = lower(${input.code})`)
      .get()
  )
    throw new Refused(409, 'code_taken', `There is a job ${input.code} already.`, [
      { field: 'code', code: 'code_taken', message: `There is a job ${input.code} already.` },
    ])
  const centre = input.costCentre ? app.ids.costCentre.get({ uid: input.costCentre }) : undefined
  if (input.costCentre && !centre) throw notFound('cost centre')
  const uid = app.uid()
  app.db
    .insert(job)
    .values({ uid, code: input.code, name: input.name, costCentreId: centre?.id ?? null, state: 'standing' })
    .run()
  return uid
}
/** The account of what a job or a cost centre uses; made when first needed. */
export function usedAccount(app: App, jobId: number | null, centreId: number | null, name: string): number {
  return (
    app.ids.usedAccount.get({ job: jobId, centre: centreId })?.id ??
    app.paper.insertAccount.get({ kind: 'used', name, jobId, costCentreId: centreId })!.id
  )
}
