import { and, eq, sql } from 'drizzle-orm'
import type { CodeMeaning, Thing } from '@shelve/contract'
import { formatDecimal, type Gs1, isGtin, measured, normaliseCode, pageOf, readGs1, readOwnCode } from '@shelve/core'
import { item, lot, pack } from '../catalogue/index.ts'
import { code } from '../codes/index.ts'
import { costCentre, job } from '../costcentres/index.ts'
import { sheetByNumber } from '../counting/index.ts'
import { slip } from '../ledger/index.ts'
import type { Caller } from '../rights/index.ts'
import { supplier } from '../suppliers/index.ts'
import { wasteReason } from '../waste/index.ts'
import type { House } from './house.ts'

/** What a code means: a registered code, a GS1 element string, a code of our own, a lot, an item's code, a slip's number. */
export function meaningOf(house: House, caller: Caller, text: string): CodeMeaning {
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
  const finds = (thing: Thing, uid: string) => house.gate.finds(thing, uid, caller)
  const own = readOwnCode(text)
  if (own?.kind === 'command') return { ...out, kind: 'command', command: own.command }
  if (own?.kind === 'place') {
    const p = house.places.row(own.number)
    if (p && finds('place', p.uid)) return { ...out, kind: 'place', place: p.uid }
  }
  if (own?.kind === 'sheet') {
    const { sheet, page } = pageOf(own.number)
    const s = sheetByNumber(house, sheet, page)
    if (s && finds('sheet', s.id)) return { ...out, kind: 'sheet', sheet: s }
  }
  if (own?.kind === 'item') {
    const i = house.rows.itemById.get({ id: own.number })
    if (i?.active) return { ...out, kind: 'item', item: i.uid }
  }
  if (own?.kind === 'lot') {
    const l = house.rows.lotById.get({ id: own.number })
    if (l && finds('lot', l.uid))
      return {
        ...out,
        kind: 'lot',
        item: house.rows.itemById.get({ id: l.itemId })!.uid,
        lot: { id: l.uid, code: l.code ?? '', expiry: l.expiry },
      }
  }
  const party = own ? partyOf(house, own.kind, own.number) : undefined
  if (party) return { ...out, kind: 'party', party }
  const known = registered(house, text)
  if (known && (!known.place || finds('place', known.place))) return { ...out, ...known }
  const gs1 = readGs1(text, house.today())
  if (gs1.ok && gs1.reading.gtin) return { ...out, ...fromGs1(house, gs1.reading) }
  const byCode = house.db
    .select()
    .from(item)
    .where(and(sql`fold(${item.code}) = fold(${text.trim()})`, eq(item.active, true)))
    .get()
  if (byCode) return { ...out, kind: 'item', item: byCode.uid }
  const lots = house.db
    .select()
    .from(lot)
    .where(sql`upper(${lot.code}) = ${normaliseCode(text)}`)
    .limit(2)
    .all()
  if (lots.length === 1 && finds('lot', lots[0]!.uid))
    return {
      ...out,
      kind: 'lot',
      item: house.rows.itemById.get({ id: lots[0]!.itemId })!.uid,
      lot: { id: lots[0]!.uid, code: lots[0]!.code!, expiry: lots[0]!.expiry },
    }
  const numbered = house.db.select({ uid: slip.uid }).from(slip).where(eq(slip.number, text.trim().toUpperCase())).get()
  if (numbered && finds('slip', numbered.uid)) return { ...out, kind: 'slip', slip: numbered.uid }
  const why =
    /^\d{8}$|^\d{12,14}$/.test(text.trim()) && !isGtin(text.trim())
      ? 'wrong_check_digit'
      : !gs1.ok && gs1.code !== 'not_gs1' && /^(\]|\(|01\d{14})/.test(text)
        ? gs1.code
        : null
  return { ...out, why }
}

/** Whom or what a slip is for or from: what its printed card says. */
function partyOf(house: House, kind: string, id: number): CodeMeaning['party'] | undefined {
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
  const row = table && house.db.select({ uid: table.uid, name: table.name }).from(table).where(eq(table.id, id)).get()
  return row && { kind: kind as 'job', id: row.uid, name: row.name }
}

function registered(house: House, text: string): Partial<CodeMeaning> | undefined {
  const row = house.db
    .select()
    .from(code)
    .where(eq(code.normal, normaliseCode(text)))
    .get()
  if (!row) return undefined
  if (row.placeId !== null) return { kind: 'place', place: house.places.row(row.placeId)?.uid ?? null }
  if (row.itemId === null) return undefined
  const owner = house.rows.itemById.get({ id: row.itemId })!
  const packName =
    row.packId === null
      ? null
      : (house.db.select({ name: pack.name }).from(pack).where(eq(pack.id, row.packId)).get()?.name ?? null)
  return { kind: row.kind as 'item' | 'pack', item: owner.uid, pack: packName }
}

function fromGs1(house: House, r: Gs1): Partial<CodeMeaning> {
  const known = registered(house, r.gtin!)
  const lotCode = r.serial ?? r.lot
  const owner = known?.item ? house.rows.item.get({ uid: known.item })! : undefined
  const itemId = owner?.id
  const found = itemId !== undefined && lotCode ? house.rows.lotByCode.get({ item: itemId, code: lotCode }) : undefined
  // A count is of what the code stands on; what was weighed or measured is of the item itself, in its own unit.
  const amount = owner && measured(r, house.known.measure(owner))
  const quantity = r.count ?? amount
  return {
    ...(known ?? { kind: 'unknown' as const }),
    lot:
      lotCode || r.expiry
        ? { id: found?.uid ?? null, code: lotCode ?? '', expiry: r.expiry ?? found?.expiry ?? null }
        : null,
    ...(r.count === undefined && amount !== undefined ? { pack: null } : {}),
    quantity: quantity === undefined ? null : formatDecimal(quantity),
    ...(known ? {} : { code: r.gtin! }),
  }
}
