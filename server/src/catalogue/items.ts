import { and, eq, inArray, isNull, ne, sql } from 'drizzle-orm'
import type { Item, ItemInput, Pack } from '@shelve/contract'
import {
  type CostMethod,
  decimal,
  formatDecimal,
  groupBy,
  type IdentifiedBy,
  METHODS,
  MOST,
  type Ratio,
  ratio,
  ratioOf,
  readMoney,
  times,
} from '@shelve/core'
import { code, register } from '../codes/index.ts'
import { notFound, Refused, stale } from '../ground/index.ts'
import { person } from '../people/index.ts'
import { categoryId, inherited } from './categories.ts'
import type { House } from './house.ts'
import { createLot } from './lots.ts'
import type { ItemRow } from './measure.ts'
import { category, item, pack } from './tables.ts'
import { ownTolerance, toleranceColumns, toleranceOf, toleranceView } from './tolerance.ts'

export const methodOf = (house: House, row: Pick<ItemRow, 'method' | 'categoryId'>): CostMethod =>
  (row.method ?? inherited(house, row.categoryId, 'method') ?? house.organisation?.method ?? METHODS[0]) as CostMethod

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

/**
 * Makes an item with all that the ledger needs of it: its pool, and the one lot of an item without lots. `free`: nobody has its
 * code, as whoever makes many at once has looked for all of them.
 */
export function createItem(
  house: House,
  input: ItemInput,
  { foundBy = null, free = false }: { readonly foundBy?: number | null; readonly free?: boolean } = {},
): number {
  const catId = categoryId(house, input.category)
  const unit = input.unit ?? inherited(house, catId, 'unit')
  if (!unit)
    throw new Refused(422, 'unit_needed', 'A unit is wanted: neither the item nor its category names one.', [
      { field: 'unit', code: 'unit_needed', message: 'In what is it counted or measured? (each, vial, kg …)' },
    ])
  if (!free) freeCode(house, input.code, undefined)
  const density = input.density ? parseSize(input.density) : null
  const row = house.rows.insertItem.get({
    uid: house.uid(),
    code: input.code.trim(),
    name: input.name.trim(),
    categoryId: catId,
    unit,
    decimals: input.decimals ?? inherited(house, catId, 'decimals') ?? 0,
    identifiedBy: input.identifiedBy ?? inherited(house, catId, 'identifiedBy') ?? 'quantity',
    kept: input.kept ?? 'stock',
    method: input.method ?? null,
    shelfLifeDays: input.shelfLifeDays ?? null,
    daysOnceOpened: input.daysOnceOpened ?? null,
    ...toleranceColumns(input.tolerance),
    densityN: density?.n ?? null,
    densityD: density?.d ?? null,
    mass: input.mass ? decimal(input.mass) : null,
    wasteCode: input.wasteCode?.trim() ?? '',
    witnessed: input.witnessed ?? false,
    note: input.note ?? '',
    active: true,
    revision: 1,
    foundBy,
    createdAt: house.now(),
  } satisfies typeof item.$inferInsert)!
  const made = house.rows.itemById.get({ id: row.id })!
  const method = methodOf(house, made)
  house.uses.openPool(row.id, method, standardCost(method, input))
  createLot(house, row.id, null, null)
  writePacks(house, row.id, input)
  return row.id
}

/** What one costs where that is set beforehand: an item is not costed so without it (rule 7). `known`: what it is by now. */
function standardCost(method: CostMethod, input: ItemInput, known?: bigint): bigint {
  if (method !== 'standard') return 0n
  const typed = input.standardCost ?? ''
  const no = (code: string, message: string) => {
    throw new Refused(422, code, message, [{ field: 'standardCost', code, message }])
  }
  if (!typed.trim()) return known ?? no('standard_needed', 'What does one cost? Its method is a standard cost.')
  const cost = readMoney(typed)
  return cost !== undefined && cost <= MOST ? cost : no('not_a_price', `“${typed}” is no amount: write it like 12.50.`)
}

/** Whoever bears a code already, however it is written. */
export const codeBearer = (house: House, text: string, self?: number): { readonly name: string } | undefined =>
  house.db
    .select({ name: item.name })
    .from(item)
    .where(and(sql`fold(${item.code}) = fold(${text.trim()})`, self === undefined ? undefined : ne(item.id, self)))
    .get()

function freeCode(house: House, text: string, self: number | undefined): void {
  const other = codeBearer(house, text, self)
  if (other)
    throw new Refused(409, 'code_taken', `The code ${text} belongs to ${other.name}.`, [
      { field: 'code', code: 'code_taken', message: `The code ${text} belongs to ${other.name}. Choose another.` },
    ])
}

/** Packs never change: a pack of another size is a new row, the old one retires. Codes move with the name. */
function writePacks(house: House, itemId: number, input: ItemInput): void {
  const old = house.rows.packs.all({ item: itemId })
  house.rows.dropItemCodes.run({ item: itemId })
  const names = (input.packs ?? []).map(p => p.name.trim().toLowerCase())
  const row = house.rows.itemById.get({ id: itemId })!
  const twice = names.find((n, i) => names.indexOf(n) !== i || n === row.unit.toLowerCase())
  if (twice)
    throw new Refused(422, 'pack_twice', `Two packs are called ${twice}.`, [
      { field: 'packs', code: 'pack_twice', message: `${twice} stands twice, or is the base unit itself.` },
    ])
  for (const p of old) {
    const now = (input.packs ?? []).find(q => q.name.trim() === p.name)
    const size = now && parseSize(now.size)
    if (!size || size.n !== p.sizeN || size.d !== p.sizeD)
      house.db.update(pack).set({ retiredAt: house.now() }).where(eq(pack.id, p.id)).run()
    else
      house.db
        .update(pack)
        .set({ buying: now.buying ?? true, issuing: now.issuing ?? true, counting: now.counting ?? true })
        .where(eq(pack.id, p.id))
        .run()
  }
  for (const p of input.packs ?? []) {
    const size = parseSize(p.size)
    const kept = house.rows.packs.all({ item: itemId }).find(q => q.name === p.name.trim())
    const id =
      kept?.id ??
      house.rows.insertPack.get({
        uid: house.uid(),
        itemId,
        name: p.name.trim(),
        sizeN: size.n,
        sizeD: size.d,
        buying: p.buying ?? true,
        issuing: p.issuing ?? true,
        counting: p.counting ?? true,
        retiredAt: null,
      } satisfies typeof pack.$inferInsert)!.id
    for (const c of p.codes ?? []) register(house, c, { kind: 'pack', itemId, packId: id }, 'packs')
  }
  for (const c of input.codes ?? []) register(house, c, { kind: 'item', itemId })
}

export function updateItem(house: House, uid: string, input: ItemInput, revision: number | undefined): void {
  const row = wantItem(house, uid)
  if (revision !== undefined && revision !== row.revision) throw stale()
  if (input.code.trim() !== row.code) freeCode(house, input.code, row.id)
  const unit = input.unit ?? row.unit
  const frozen = house.uses.hasMoved(row.id)
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
  const changed = { ...row, categoryId: categoryId(house, input.category), method: input.method ?? null }
  house.db
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
      daysOnceOpened: input.daysOnceOpened ?? null,
      ...toleranceColumns(input.tolerance),
      densityN: density?.n ?? null,
      densityD: density?.d ?? null,
      mass: input.mass ? decimal(input.mass) : null,
      foundBy: null,
      wasteCode: input.wasteCode?.trim() ?? '',
      witnessed: input.witnessed ?? false,
      note: input.note ?? '',
      revision: row.revision + 1,
    })
    .where(eq(item.id, row.id))
    .run()
  // The cost method is stamped on the pool; while something lies there only a slip changes it.
  const method = methodOf(house, changed)
  const stands = house.uses.standing([row.id]).get(row.id)!
  const known = stands.method === 'standard' ? stands.standard : undefined
  if (!frozen) house.uses.restampPool(row.id, method, standardCost(method, input, known))
  else if (method !== methodOf(house, row) && method !== stands.method) {
    if (stands.lies)
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
    house.uses.changePools(row.id, method, standardCost(method, input))
  } else if (known !== undefined && standardCost(stands.method, input, known) !== known)
    throw new Refused(409, 'standard_by_slip', 'What it costs by the standard is set by a slip of its own by now.', [
      {
        field: 'standardCost',
        code: 'standard_by_slip',
        message:
          'Stock has moved at the standard cost it has: set another one on its own, so that the ledger knows it.',
      },
    ])
  writePacks(house, row.id, input)
}

export function retireItem(house: House, uid: string, revision: number | undefined): void {
  const row = wantItem(house, uid)
  if (revision !== undefined && revision !== row.revision) throw stale()
  const left = house.uses.lies(row.id)
  if (left)
    throw new Refused(
      409,
      'still_here',
      `${formatDecimal(left.quantity)} ${row.unit} still lie in ${house.places.name(left.placeId)}. Use it up, write it off or move it first.`,
    )
  const waiting = house.uses.onDrafts(row.uid)
  if (waiting)
    throw new Refused(
      409,
      'on_a_draft',
      `${row.name} stands on ${waiting} slip${waiting === 1 ? '' : 's'} not booked yet.`,
    )
  house.db
    .update(item)
    .set({ active: false, revision: row.revision + 1 })
    .where(eq(item.id, row.id))
    .run()
  house.db.delete(code).where(eq(code.itemId, row.id)).run()
}

/** Takes a retired item into use again. Its codes may mean something else by now: they are linked anew. */
export function reviveItem(house: House, uid: string): void {
  const row = wantItem(house, uid)
  house.db
    .update(item)
    .set({ active: true, revision: row.revision + 1 })
    .where(eq(item.id, row.id))
    .run()
}

export function wantItem(house: House, uid: string): ItemRow {
  const row = house.rows.item.get({ uid })
  if (!row) throw notFound('item')
  return row
}

/** Items as they are told: what belongs to them is read for all of them at once. */
export function itemViews(house: House, rows: readonly ItemRow[]): Item[] {
  const ids = rows.map(r => r.id)
  const categories = new Map(
    house.db
      .select()
      .from(category)
      .all()
      .map(c => [c.id, c]),
  )
  const codes = groupBy(house.db.select().from(code).where(inArray(code.itemId, ids)).all(), c => c.itemId!)
  const packs = groupBy(
    house.db
      .select()
      .from(pack)
      .where(and(inArray(pack.itemId, ids), isNull(pack.retiredAt)))
      .all(),
    p => p.itemId,
  )
  const used = house.uses.standing(ids)
  const finders = new Map(
    house.db
      .select({ id: person.id, name: person.name })
      .from(person)
      .where(
        inArray(
          person.id,
          rows.flatMap(r => r.foundBy ?? []),
        ),
      )
      .all()
      .map(p => [p.id, p.name]),
  )
  const handedDown = (row: ItemRow, of: 'shelfLifeDays' | 'daysOnceOpened') =>
    row[of] ?? inherited(house, row.categoryId, of, id => categories.get(id))
  return rows.map(row => {
    const own = codes.get(row.id) ?? []
    const cat = row.categoryId === null ? undefined : categories.get(row.categoryId)
    const stands = used.get(row.id)!
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
      method: stands.method,
      ownMethod: row.method as CostMethod | null,
      standardCost: stands.method === 'standard' ? formatDecimal(stands.standard) : null,
      shelfLifeDays: handedDown(row, 'shelfLifeDays'),
      daysOnceOpened: handedDown(row, 'daysOnceOpened'),
      ownShelfLifeDays: row.shelfLifeDays,
      ownDaysOnceOpened: row.daysOnceOpened,
      tolerance: toleranceView(toleranceOf(house, row, id => categories.get(id))),
      ownTolerance: ownTolerance(row),
      density: row.densityN === null ? null : sizeText(row.densityN, row.densityD!),
      mass: row.mass === null ? null : formatDecimal(row.mass),
      wasteCode: row.wasteCode,
      witnessed: row.witnessed,
      note: row.note,
      codes: own.filter(c => c.kind === 'item').map(c => c.scanned),
      packs: (packs.get(row.id) ?? []).map(p => packView(p, own)),
      active: row.active,
      foundBy: row.foundBy === null ? null : finders.get(row.foundBy)!,
      unitFrozen: stands.moved,
      methodBySlip: stands.lies,
    }
  })
}
export const itemView = (house: House, row: ItemRow): Item => itemViews(house, [row])[0]!

const packView = (p: typeof pack.$inferSelect, codes: readonly (typeof code.$inferSelect)[]): Pack => ({
  id: p.uid,
  name: p.name,
  size: sizeText(p.sizeN, p.sizeD),
  codes: codes.filter(c => c.packId === p.id).map(c => c.scanned),
  buying: p.buying,
  issuing: p.issuing,
  counting: p.counting,
})
