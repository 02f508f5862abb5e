import { and, eq, isNull, ne, sql } from 'drizzle-orm'
import {
  METHODS,
  decimal,
  formatDecimal,
  normaliseCode,
  ratio,
  ratioOf,
  times,
  type CostMethod,
  type IdentifiedBy,
  type Measure,
  type Ratio,
} from '@shelve/core'
import type { Item, ItemInput, Pack } from '@shelve/contract'
import { balance, category, code, item, lot, lotState, movement, pack, pool, slip, slipLine } from '../db/schema.ts'
import { Refused, type App } from '../app.ts'

export type ItemRow = typeof item.$inferSelect
type CategoryRow = typeof category.$inferSelect

/** What a category hands down, looked for upwards. */
function inherited<K extends 'unit' | 'decimals' | 'identifiedBy' | 'method' | 'shelfLifeDays'>(
  app: App,
  categoryId: number | null,
  field: K,
): CategoryRow[K] | null {
  for (let id = categoryId, n = 0; id !== null && n < 50; n++) {
    const row: CategoryRow | undefined = app.db.select().from(category).where(eq(category.id, id)).get()
    if (!row) return null
    if (row[field] !== null) return row[field]
    id = row.parentId
  }
  return null
}
export const methodOf = (app: App, row: Pick<ItemRow, 'method' | 'categoryId'>): CostMethod =>
  (row.method ?? inherited(app, row.categoryId, 'method') ?? app.organisation?.method ?? METHODS[0]) as CostMethod

const categoryId = (app: App, uid: string | null | undefined): number | null => {
  if (!uid) return null
  const row = app.db.select({ id: category.id }).from(category).where(eq(category.uid, uid)).get()
  if (!row)
    throw new Refused(422, 'unknown_category', 'There is no such category.', [
      { field: 'category', code: 'unknown_category', message: 'There is no such category.' },
    ])
  return row.id
}

/** An exact size as it is written in set-up: `12`, `0.75` or `1/3`. */
export function parseSize(text: string): Ratio {
  const [n, d] = text.split('/')
  return d ? times(ratioOf(n!), ratio(1n, BigInt(d))) : ratioOf(n!)
}
export const sizeText = (n: bigint, d: bigint): string => {
  let den = d
  for (const p of [2n, 5n]) while (den % p === 0n) den /= p
  return den === 1n && (n * 1_000_000n) % d === 0n ? formatDecimal((n * 1_000_000n) / d) : `${n}/${d}`
}

/** How quantities of an item are read and measured. */
export function measureOf(app: App, row: ItemRow): Measure {
  return {
    base: row.unit,
    decimals: row.decimals,
    packs: app.ids.packs.all({ item: row.id }).map(p => ({ name: p.name, size: ratio(p.sizeN, p.sizeD) })),
    ...(row.densityN !== null && row.densityD !== null ? { density: ratio(row.densityN, row.densityD) } : {}),
  }
}

/** Makes an item with all that the ledger needs of it: its pool, and the one lot of an item without lots. */
export function createItem(app: App, input: ItemInput): number {
  const catId = categoryId(app, input.category)
  const unit = input.unit ?? inherited(app, catId, 'unit')
  if (!unit)
    throw new Refused(422, 'unit_needed', 'A unit is wanted: neither the item nor its category names one.', [
      { field: 'unit', code: 'unit_needed', message: 'In what is it counted or measured? (each, vial, kg …)' },
    ])
  freeCode(app, input.code, undefined)
  const density = input.density ? parseSize(input.density) : null
  const row = app.db
    .insert(item)
    .values({
      uid: app.uid(),
      code: input.code.trim(),
      name: input.name.trim(),
      categoryId: catId,
      unit,
      decimals: input.decimals ?? inherited(app, catId, 'decimals') ?? 0,
      identifiedBy: input.identifiedBy ?? inherited(app, catId, 'identifiedBy') ?? 'quantity',
      kept: input.kept ?? 'stock',
      method: input.method ?? null,
      shelfLifeDays: input.shelfLifeDays ?? null,
      densityN: density?.n ?? null,
      densityD: density?.d ?? null,
      mass: input.mass ? decimal(input.mass) : null,
      note: input.note ?? '',
      active: true,
      revision: 1,
      createdAt: app.now(),
    })
    .returning({ id: item.id })
    .get()
  const made = app.db.select().from(item).where(eq(item.id, row.id)).get()!
  const method = methodOf(app, made)
  app.db
    .insert(pool)
    .values({
      itemId: row.id,
      lotId: null,
      method,
      firstStandard: 0n,
      current: true,
      quantity: 0n,
      value: 0n,
      standard: 0n,
      tainted: false,
    })
    .run()
  createLot(app, row.id, null, null)
  writePacks(app, row.id, input)
  return row.id
}

/** A lot, with a pool of its own where the item is costed by actual lot. */
export function createLot(
  app: App,
  itemId: number,
  lotCode: string | null,
  expiry: string | null,
  parentId: number | null = null,
): number {
  const made = app.paper.insertLot.get({
    uid: app.uid(),
    item: itemId,
    code: lotCode,
    expiry,
    parent: parentId,
    now: app.now(),
    opened: parentId === null ? null : app.now(),
  })!
  if (app.paper.wholePool.get({ item: itemId })?.method === 'lot')
    app.paper.insertLotPool.run({ item: itemId, lot: made.id })
  return made.id
}

function freeCode(app: App, text: string, self: number | undefined): void {
  const other = app.db
    .select({ name: item.name })
    .from(item)
    .where(and(sql`lower(${item.code}) = lower(${text.trim()})`, self === undefined ? undefined : ne(item.id, self)))
    .get()
  if (other)
    throw new Refused(409, 'code_taken', `The code ${text} belongs to ${other.name}.`, [
      { field: 'code', code: 'code_taken', message: `The code ${text} belongs to ${other.name}. Choose another.` },
    ])
}

/** Registers a code; a code that means something else already is refused by name. */
export function register(
  app: App,
  text: string,
  meaning: {
    kind: 'item' | 'pack' | 'lot' | 'place'
    itemId?: number
    packId?: number
    lotId?: number
    placeId?: number
  },
  field = 'codes',
): void {
  const normal = normaliseCode(text)
  const taken = app.db.select().from(code).where(eq(code.normal, normal)).get()
  if (taken) {
    if (
      taken.itemId === (meaning.itemId ?? null) &&
      taken.packId === (meaning.packId ?? null) &&
      taken.placeId === (meaning.placeId ?? null) &&
      taken.lotId === (meaning.lotId ?? null)
    )
      return
    const owner =
      taken.itemId === null
        ? taken.placeId === null
          ? 'something else'
          : app.places.name(taken.placeId)
        : app.ids.itemById.get({ id: taken.itemId })!.name
    throw new Refused(409, 'code_taken', `The code ${text} already means ${owner}.`, [
      {
        field,
        code: 'code_taken',
        message: `The code ${text} already means ${owner}. Take it off there first, or leave it out here.`,
      },
    ])
  }
  app.db
    .insert(code)
    .values({
      normal,
      kind: meaning.kind,
      itemId: meaning.itemId ?? null,
      packId: meaning.packId ?? null,
      lotId: meaning.lotId ?? null,
      placeId: meaning.placeId ?? null,
    })
    .run()
}

/** Packs never change: a pack of another size is a new row, the old one retires. Codes move with the name. */
function writePacks(app: App, itemId: number, input: ItemInput): void {
  const old = app.ids.packs.all({ item: itemId })
  app.db.delete(code).where(eq(code.itemId, itemId)).run()
  const names = (input.packs ?? []).map(p => p.name.trim().toLowerCase())
  const row = app.ids.itemById.get({ id: itemId })!
  const twice = names.find((n, i) => names.indexOf(n) !== i || n === row.unit.toLowerCase())
  if (twice)
    throw new Refused(422, 'pack_twice', `Two packs are called ${twice}.`, [
      { field: 'packs', code: 'pack_twice', message: `${twice} stands twice, or is the base unit itself.` },
    ])
  for (const p of old) {
    const now = (input.packs ?? []).find(q => q.name.trim() === p.name)
    const size = now && parseSize(now.size)
    if (!size || size.n !== p.sizeN || size.d !== p.sizeD)
      app.db.update(pack).set({ retiredAt: app.now() }).where(eq(pack.id, p.id)).run()
    else
      app.db
        .update(pack)
        .set({ buying: now.buying ?? true, issuing: now.issuing ?? true, counting: now.counting ?? true })
        .where(eq(pack.id, p.id))
        .run()
  }
  for (const p of input.packs ?? []) {
    const size = parseSize(p.size)
    const kept = app.ids.packs.all({ item: itemId }).find(q => q.name === p.name.trim())
    const id =
      kept?.id ??
      app.db
        .insert(pack)
        .values({
          uid: app.uid(),
          itemId,
          name: p.name.trim(),
          sizeN: size.n,
          sizeD: size.d,
          buying: p.buying ?? true,
          issuing: p.issuing ?? true,
          counting: p.counting ?? true,
          retiredAt: null,
        })
        .returning({ id: pack.id })
        .get().id
    for (const c of p.codes ?? []) register(app, c, { kind: 'pack', itemId, packId: id }, 'packs')
  }
  for (const c of input.codes ?? []) register(app, c, { kind: 'item', itemId })
}

export function updateItem(app: App, uid: string, input: ItemInput, revision: number | undefined): void {
  const row = wantItem(app, uid)
  if (revision !== undefined && revision !== row.revision) throw stale()
  freeCode(app, input.code, row.id)
  const unit = input.unit ?? row.unit
  const frozen = hasMoved(app, row.id)
  if (frozen && unit !== row.unit)
    throw new Refused(409, 'unit_frozen', `The unit stays ${row.unit}: stock has moved in it.`, [
      {
        field: 'unit',
        code: 'unit_frozen',
        message: `Stock has moved in ${row.unit}. Make a new item with the other unit instead.`,
      },
    ])
  const identifiedBy = (input.identifiedBy ?? row.identifiedBy) as IdentifiedBy
  if (frozen && identifiedBy !== row.identifiedBy && identifiedBy === 'serial')
    throw new Refused(409, 'identified_frozen', 'Stock has moved without serial numbers.', [
      {
        field: 'identifiedBy',
        code: 'identified_frozen',
        message: 'Stock has moved without serial numbers; make a new item.',
      },
    ])
  if (frozen && (input.decimals ?? row.decimals) < row.decimals)
    throw new Refused(409, 'decimals_frozen', 'Fewer decimals would not hold what has moved.', [
      {
        field: 'decimals',
        code: 'decimals_frozen',
        message: `Stock has moved with ${row.decimals} decimals; more are possible, fewer are not.`,
      },
    ])
  const density = input.density ? parseSize(input.density) : null
  const changed = { ...row, categoryId: categoryId(app, input.category), method: input.method ?? null }
  app.db
    .update(item)
    .set({
      code: input.code.trim(),
      name: input.name.trim(),
      categoryId: changed.categoryId,
      unit,
      decimals: input.decimals ?? row.decimals,
      identifiedBy,
      kept: input.kept ?? 'stock',
      method: changed.method,
      shelfLifeDays: input.shelfLifeDays ?? null,
      densityN: density?.n ?? null,
      densityD: density?.d ?? null,
      mass: input.mass ? decimal(input.mass) : null,
      note: input.note ?? '',
      revision: row.revision + 1,
    })
    .where(eq(item.id, row.id))
    .run()
  // The cost method is stamped on the pool; while something lies there only a slip changes it.
  const method = methodOf(app, changed)
  if (!frozen) restampPool(app, row.id, method)
  else if (method !== methodOf(app, row) && method !== methodOfPools(app, row.id)) {
    if (lies(app, row.id))
      throw new Refused(
        409,
        'method_by_slip',
        'Stock lies there at what it cost by the method it has; a slip of its own changes it over.',
        [
          {
            field: 'method',
            code: 'method_by_slip',
            message:
              'Stock lies there at what it cost. Change the method on its own, so that its value is changed over in the ledger.',
          },
        ],
      )
    changePools(app, row.id, method, 0n)
  }
  writePacks(app, row.id, input)
}

function restampPool(app: App, itemId: number, method: CostMethod): void {
  app.db
    .update(pool)
    .set({ method })
    .where(and(eq(pool.itemId, itemId), isNull(pool.lotId)))
    .run()
  app.db
    .delete(pool)
    .where(and(eq(pool.itemId, itemId), sql`${pool.lotId} is not null`))
    .run()
  if (method === 'lot')
    for (const l of app.ids.itemLots.all({ item: itemId }))
      app.db
        .insert(pool)
        .values({
          itemId,
          lotId: l.id,
          method,
          firstStandard: 0n,
          current: true,
          quantity: 0n,
          value: 0n,
          standard: 0n,
          tainted: false,
        })
        .run()
}

const lies = (app: App, itemId: number) =>
  app.db
    .select({ placeId: balance.placeId, quantity: balance.quantity })
    .from(balance)
    .where(and(eq(balance.itemId, itemId), sql`${balance.quantity} > 0`))
    .get()
/** The method that the item is costed by now, as it is stamped on its pools. */
export const methodOfPools = (app: App, itemId: number): CostMethod =>
  app.paper.wholePool.get({ item: itemId })!.method as CostMethod
/** New pools take the place of an item's; the old ones keep what was costed in them. */
export function changePools(app: App, itemId: number, method: CostMethod, standard: bigint): void {
  app.db
    .update(pool)
    .set({ current: false })
    .where(and(eq(pool.itemId, itemId), eq(pool.current, true)))
    .run()
  const fresh = {
    itemId,
    method,
    firstStandard: standard,
    current: true,
    quantity: 0n,
    value: 0n,
    standard,
    tainted: false,
  }
  app.db
    .insert(pool)
    .values([
      { ...fresh, lotId: null },
      ...(method === 'lot' ? app.ids.itemLots.all({ item: itemId }).map(l => ({ ...fresh, lotId: l.id })) : []),
    ])
    .run()
  app.db.update(item).set({ method }).where(eq(item.id, itemId)).run()
}

export function retireItem(app: App, uid: string, revision: number | undefined): void {
  const row = wantItem(app, uid)
  if (revision !== undefined && revision !== row.revision) throw stale()
  const left = lies(app, row.id)
  if (left)
    throw new Refused(
      409,
      'still_here',
      `${formatDecimal(left.quantity)} ${row.unit} still lie in ${app.places.name(left.placeId)}. Use it up, write it off or move it first.`,
    )
  const waiting = app.db
    .select({ n: sql<number>`count(*)`.mapWith(Number) })
    .from(slipLine)
    .innerJoin(slip, eq(slip.id, slipLine.slipId))
    .where(and(eq(slip.state, 'draft'), sql`${slipLine.content} like ${`%${row.uid}%`}`))
    .get()!
  if (waiting.n)
    throw new Refused(
      409,
      'on_a_draft',
      `${row.name} stands on ${waiting.n} slip${waiting.n === 1 ? '' : 's'} not booked yet.`,
    )
  app.db
    .update(item)
    .set({ active: false, revision: row.revision + 1 })
    .where(eq(item.id, row.id))
    .run()
  app.db.delete(code).where(eq(code.itemId, row.id)).run()
}

/** Takes a retired item into use again. Its codes may mean something else by now: they are linked anew. */
export function reviveItem(app: App, uid: string): void {
  const row = wantItem(app, uid)
  app.db
    .update(item)
    .set({ active: true, revision: row.revision + 1 })
    .where(eq(item.id, row.id))
    .run()
}

export function setLotState(
  app: App,
  uid: string,
  held: 'usable' | 'held' | 'recalled',
  why: string,
  byId: number,
): void {
  const row = app.ids.lot.get({ uid })
  if (!row) throw notFound('lot')
  app.db.update(lot).set({ held }).where(eq(lot.id, row.id)).run()
  app.db.insert(lotState).values({ lotId: row.id, held, since: app.now(), byId, why }).run()
}

export const hasMoved = (app: App, itemId: number): boolean =>
  app.db.select({ seq: movement.seq }).from(movement).where(eq(movement.itemId, itemId)).limit(1).get() !== undefined
export const stale = (): Refused =>
  new Refused(
    409,
    'changed_meanwhile',
    'Somebody changed this meanwhile. Look at it again; what you typed is still here.',
  )
export const notFound = (what: string): Refused => new Refused(404, 'not_found', `There is no such ${what}.`)
export function wantItem(app: App, uid: string): ItemRow {
  const row = app.ids.item.get({ uid })
  if (!row) throw notFound('item')
  return row
}

export function packViews(app: App, itemId: number): Pack[] {
  const codes = app.db.select().from(code).where(eq(code.itemId, itemId)).all()
  return app.ids.packs
    .all({ item: itemId })
    .map(p => ({
      id: p.uid,
      name: p.name,
      size: sizeText(p.sizeN, p.sizeD),
      codes: codes.filter(c => c.packId === p.id).map(c => c.normal),
      buying: p.buying,
      issuing: p.issuing,
      counting: p.counting,
    }))
}

export function itemView(app: App, row: ItemRow): Item {
  const cat =
    row.categoryId === null ? undefined : app.db.select().from(category).where(eq(category.id, row.categoryId)).get()
  return {
    id: row.uid,
    revision: row.revision,
    code: row.code,
    name: row.name,
    category: cat ? { id: cat.uid, name: cat.name } : null,
    unit: row.unit,
    decimals: row.decimals,
    identifiedBy: row.identifiedBy as IdentifiedBy,
    kept: row.kept as Item['kept'],
    method: methodOfPools(app, row.id),
    ownMethod: row.method as CostMethod | null,
    shelfLifeDays: row.shelfLifeDays ?? inherited(app, row.categoryId, 'shelfLifeDays'),
    density: row.densityN === null ? null : sizeText(row.densityN, row.densityD!),
    mass: row.mass === null ? null : formatDecimal(row.mass),
    note: row.note,
    codes: app.db
      .select()
      .from(code)
      .where(and(eq(code.itemId, row.id), eq(code.kind, 'item')))
      .all()
      .map(c => c.normal),
    packs: packViews(app, row.id),
    active: row.active,
    unitFrozen: hasMoved(app, row.id),
  }
}
