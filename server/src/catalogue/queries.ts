import { and, asc, eq, inArray, isNull, or, sql } from 'drizzle-orm'
import { firstToGo, formatDecimal, isGtin, lotState, normaliseCode, pageOf, readGs1, readOwnCode } from '@shelve/core'
import type { Category, CodeMeaning, IndexItem, LotView } from '@shelve/contract'
import { balance, category, code, costCentre, item, job, lot, pack, slip, supplier, wasteReason } from '../db/schema.ts'
import { iso, type App } from '../app.ts'
import { sheetByNumber } from '../counting/printed.ts'
import { sortable } from '../ledger/cells.ts'
import type { Scope } from '../places/tree.ts'
import { itemView, sizeText, wantItem } from './service.ts'

/** A page of items by code or name; the cursor is the last row's sort key and number. */
export function listItems(
  app: App,
  q: { q?: string; category?: string; active?: string; sort?: string; cursor?: string; limit?: number },
) {
  const limit = q.limit ?? 50
  const descending = q.sort?.startsWith('-') ?? false
  const column = q.sort?.endsWith('name') ? item.name : item.code
  const words = (q.q ?? '').trim().split(/\s+/).filter(Boolean)
  const like = (w: string) => `%${w.replace(/[\\%_]/g, c => `\\${c}`)}%`
  const wanted = and(
    q.active === 'all' ? undefined : eq(item.active, q.active !== 'no'),
    q.category ? inArray(item.categoryId, categoryWithin(app, q.category)) : undefined,
    ...words.map(w =>
      or(
        sql`${item.name} like ${like(w)} escape '\\'`,
        sql`${item.code} like ${like(w)} escape '\\'`,
        sql`exists (select 1 from code where code.item_id = ${item.id} and code.normal like ${like(normaliseCode(w))} escape '\\')`,
      ),
    ),
  )
  const at = readCursor(q.cursor)
  const total = app.db
    .select({ n: sql<number>`count(*)`.mapWith(Number) })
    .from(item)
    .where(wanted)
    .get()!.n
  const rows = app.db
    .select()
    .from(item)
    .where(
      and(
        wanted,
        at ? sql`(${column}, ${item.id}) ${sql.raw(descending ? '<' : '>')} (${at[0]}, ${at[1]})` : undefined,
      ),
    )
    .orderBy(descending ? sql`${column} desc, ${item.id} desc` : sql`${column}, ${item.id}`)
    .limit(limit + 1)
    .all()
  const shown = rows.slice(0, limit)
  const last = shown.at(-1)
  return {
    rows: shown.map(r => itemView(app, r)),
    next: rows.length > limit && last ? writeCursor([column === item.name ? last.name : last.code, last.id]) : null,
    total,
  }
}
export const writeCursor = (parts: (string | number)[]): string =>
  Buffer.from(JSON.stringify(parts)).toString('base64url')
/** A cursor somebody made up is as good as none. */
export function readCursor(text: string | undefined): (string | number)[] | undefined {
  if (!text) return undefined
  try {
    const parts: unknown = JSON.parse(Buffer.from(text, 'base64url').toString())
    return Array.isArray(parts) &&
      parts.length > 0 &&
      parts.every(p => typeof p === 'string' || (typeof p === 'number' && Number.isFinite(p)))
      ? (parts as (string | number)[])
      : undefined
  } catch {
    return undefined
  }
}

export function categoryWithin(app: App, uid: string): number[] {
  const all = app.db.select().from(category).all()
  const top = all.find(c => c.uid === uid)
  if (!top) return []
  const ids = [top.id]
  for (let i = 0; i < ids.length; i++)
    for (const c of all) if (c.parentId === ids[i] && !ids.includes(c.id)) ids.push(c.id)
  return ids
}

export function categories(app: App): Category[] {
  const all = app.db.select().from(category).where(eq(category.active, true)).orderBy(asc(category.name)).all()
  const counts = new Map(
    app.db
      .select({ id: item.categoryId, n: sql<number>`count(*)`.mapWith(Number) })
      .from(item)
      .where(eq(item.active, true))
      .groupBy(item.categoryId)
      .all()
      .map(r => [r.id, r.n]),
  )
  return all.map(c => ({
    id: c.uid,
    revision: c.revision,
    name: c.name,
    parent: all.find(p => p.id === c.parentId)?.uid ?? null,
    unit: c.unit,
    decimals: c.decimals,
    identifiedBy: c.identifiedBy as Category['identifiedBy'],
    method: c.method as Category['method'],
    shelfLifeDays: c.shelfLifeDays,
    items: counts.get(c.id) ?? 0,
  }))
}

/** All items for a device: what a scan and a typed quantity need, nothing else. */
export function itemIndex(app: App): IndexItem[] {
  const packs = app.db.select().from(pack).where(isNull(pack.retiredAt)).all()
  const codes = app.db.select().from(code).all()
  const packName = new Map(packs.map(p => [p.id, p.name]))
  const byItem = <T extends { itemId: number | null }>(rows: T[]) => {
    const m = new Map<number, T[]>()
    for (const r of rows) if (r.itemId !== null) m.set(r.itemId, [...(m.get(r.itemId) ?? []), r])
    return m
  }
  const p = byItem(packs)
  const c = byItem(codes)
  return app.db
    .select({
      id: item.id,
      uid: item.uid,
      code: item.code,
      name: item.name,
      unit: item.unit,
      decimals: item.decimals,
      identifiedBy: item.identifiedBy,
      kept: item.kept,
      densityN: item.densityN,
      densityD: item.densityD,
      category: category.name,
    })
    .from(item)
    .leftJoin(category, eq(category.id, item.categoryId))
    .where(eq(item.active, true))
    .orderBy(asc(item.name))
    .all()
    .map(r => ({
      id: r.uid,
      code: r.code,
      name: r.name,
      unit: r.unit,
      decimals: r.decimals,
      identifiedBy: r.identifiedBy as IndexItem['identifiedBy'],
      kept: r.kept,
      category: r.category,
      density: r.densityN === null ? null : sizeText(r.densityN, r.densityD!),
      packs: (p.get(r.id) ?? []).map(x => ({
        name: x.name,
        size: sizeText(x.sizeN, x.sizeD),
        buying: x.buying,
        issuing: x.issuing,
        counting: x.counting,
      })),
      codes: (c.get(r.id) ?? []).map(x => ({
        code: x.normal,
        pack: x.packId === null ? null : (packName.get(x.packId) ?? null),
      })),
    }))
}

/** The lots of an item, first to go first; only those of which something is left. */
export function lotsOf(app: App, uid: string, { within }: Scope): LotView[] {
  const row = wantItem(app, uid)
  const today = app.today()
  const lots = app.ids.itemLots.all({ item: row.id })
  const lies = app.db
    .select()
    .from(balance)
    .where(and(eq(balance.itemId, row.id), sql`${balance.quantity} > 0`))
    .all()
    .filter(b => !within || within.has(b.placeId))
  const uidOf = new Map(lots.map(l => [l.id, l.uid]))
  return lots
    .sort((a, b) => firstToGo(sortable(a), sortable(b)))
    .map(l => {
      const here = lies.filter(b => b.lotId === l.id)
      return {
        id: l.uid,
        code: l.code,
        expiry: l.expiry,
        state: lotState({ held: l.held as 'usable', expiry: l.expiry }, today),
        received: iso(l.receivedAt),
        opened: l.openedAt === null ? null : iso(l.openedAt),
        parent: l.parentId === null ? null : (uidOf.get(l.parentId) ?? null),
        places: here.map(b => ({
          place: app.places.row(b.placeId)!.uid,
          name: app.places.name(b.placeId),
          quantity: formatDecimal(b.quantity),
        })),
        quantity: formatDecimal(here.reduce((s, b) => s + b.quantity, 0n)),
      }
    })
    .filter(l => l.quantity !== '0')
}

/** What a code means: a registered code, a GS1 element string, a code of our own, a lot, an item's code, a slip's number. */
export function meaningOf(app: App, text: string): CodeMeaning {
  const out: CodeMeaning = {
    code: text,
    kind: 'unknown',
    item: null,
    pack: null,
    lot: null,
    place: null,
    slip: null,
    sheet: null,
    command: null,
    party: null,
    quantity: null,
    why: null,
  }
  const own = readOwnCode(text)
  if (own?.kind === 'command') return { ...out, kind: 'command', command: own.command }
  if (own?.kind === 'place') {
    const p = app.places.row(own.number)
    if (p) return { ...out, kind: 'place', place: p.uid }
  }
  if (own?.kind === 'sheet') {
    const { sheet, page } = pageOf(own.number)
    const s = sheetByNumber(app, sheet)
    if (s && page >= 1 && page <= s.pages) return { ...out, kind: 'sheet', sheet: { id: s.id, page } }
  }
  if (own?.kind === 'item') {
    const i = app.ids.itemById.get({ id: own.number })
    if (i?.active) return { ...out, kind: 'item', item: i.uid }
  }
  if (own?.kind === 'lot') {
    const l = app.ids.lotById.get({ id: own.number })
    if (l)
      return {
        ...out,
        kind: 'lot',
        item: app.ids.itemById.get({ id: l.itemId })!.uid,
        lot: { id: l.uid, code: l.code ?? '', expiry: l.expiry },
      }
  }
  const party = own ? partyOf(app, own.kind, own.number) : undefined
  if (party) return { ...out, kind: 'party', party }
  const known = registered(app, text)
  if (known) return { ...out, ...known }
  const gs1 = readGs1(text, app.today())
  if (gs1.ok && gs1.reading.gtin) return { ...out, ...fromGs1(app, gs1.reading) }
  const byCode = app.db
    .select()
    .from(item)
    .where(and(sql`lower(${item.code}) = lower(${text.trim()})`, eq(item.active, true)))
    .get()
  if (byCode) return { ...out, kind: 'item', item: byCode.uid }
  const lots = app.db
    .select()
    .from(lot)
    .where(sql`upper(${lot.code}) = ${normaliseCode(text)}`)
    .limit(2)
    .all()
  if (lots.length === 1)
    return {
      ...out,
      kind: 'lot',
      item: app.ids.itemById.get({ id: lots[0]!.itemId })!.uid,
      lot: { id: lots[0]!.uid, code: lots[0]!.code!, expiry: lots[0]!.expiry },
    }
  const numbered = app.db.select({ uid: slip.uid }).from(slip).where(eq(slip.number, text.trim().toUpperCase())).get()
  if (numbered) return { ...out, kind: 'slip', slip: numbered.uid }
  const why =
    /^\d{8}$|^\d{12,14}$/.test(text.trim()) && !isGtin(text.trim())
      ? 'wrong_check_digit'
      : !gs1.ok && gs1.code !== 'not_gs1' && /^(\]|\(|01\d{14})/.test(text)
        ? gs1.code
        : null
  return { ...out, why }
}

/** Whom or what a slip is for or from: what its printed card says. */
function partyOf(app: App, kind: string, id: number): CodeMeaning['party'] | undefined {
  const table =
    kind === 'job'
      ? job
      : kind === 'cost_centre'
        ? costCentre
        : kind === 'supplier'
          ? supplier
          : kind === 'reason'
            ? wasteReason
            : undefined
  const row = table && app.db.select({ uid: table.uid, name: table.name }).from(table).where(eq(table.id, id)).get()
  return row && { kind: kind as 'job', id: row.uid, name: row.name }
}

function registered(app: App, text: string): Partial<CodeMeaning> | undefined {
  const row = app.db
    .select()
    .from(code)
    .where(eq(code.normal, normaliseCode(text)))
    .get()
  if (!row) return undefined
  if (row.placeId !== null) return { kind: 'place', place: app.places.row(row.placeId)?.uid ?? null }
  if (row.kind === 'person') return { kind: 'person' }
  if (row.itemId === null) return undefined
  const owner = app.ids.itemById.get({ id: row.itemId })!
  const packName =
    row.packId === null
      ? null
      : (app.db.select({ name: pack.name }).from(pack).where(eq(pack.id, row.packId)).get()?.name ?? null)
  return { kind: row.kind as 'item' | 'pack', item: owner.uid, pack: packName }
}

function fromGs1(
  app: App,
  r: { gtin?: string; lot?: string; serial?: string; expiry?: string; count?: bigint; weight?: bigint },
): Partial<CodeMeaning> {
  const known = registered(app, r.gtin!)
  const lotCode = r.serial ?? r.lot
  const itemId = known?.item ? app.ids.item.get({ uid: known.item })!.id : undefined
  const found = itemId !== undefined && lotCode ? app.ids.lotByCode.get({ item: itemId, code: lotCode }) : undefined
  const quantity = r.count ?? r.weight
  return {
    ...(known ?? { kind: 'unknown' as const }),
    lot:
      lotCode || r.expiry
        ? { id: found?.uid ?? null, code: lotCode ?? '', expiry: r.expiry ?? found?.expiry ?? null }
        : null,
    quantity: quantity === undefined ? null : formatDecimal(quantity),
    ...(known ? {} : { code: r.gtin! }),
  }
}
