import type { Express } from 'express'
import { and, eq, sql } from 'drizzle-orm'
import { api, type SlipContent } from '@shelve/contract'
import { csvRow, ownCode } from '@shelve/core'
import { category, costCentre, job, supplier, wasteReason } from '../db/schema.ts'
import { Refused, VERSION, type App } from '../app.ts'
import { categories, itemIndex, listItems, lotsOf, meaningOf } from '../catalogue/queries.ts'
import { createItem, itemView, notFound, register, retireItem, reviveItem, setLotState, stale, updateItem, wantItem } from '../catalogue/service.ts'
import { openDifferences, sheetOf } from '../counting/sheets.ts'
import { bookContent, effectOf } from '../ledger/book.ts'
import { dropDraft, saveDraft } from '../ledger/drafts.ts'
import { reversalContent } from '../ledger/reversal.ts'
import { listSlips, slipView } from '../ledger/views.ts'
import { addPerson, changeSettings, endSession, firstRun, hashPassword, meOf, peopleList, settingsOf, signIn, startSession } from '../people/service.ts'
import { createCostCentre, createJob, createPlace, createWasteReason, placeViews, setLevel, updatePlace } from '../places/service.ts'
import { itemHistory, workingOf } from '../reports/history.ts'
import { pastDay } from '../reports/past.ts'
import { itemStock, shortList, stockList } from '../reports/lists.ts'
import { verifyApart } from '../reports/verify-apart.ts'
import { bind, COOKIE, Csv, tokenOf } from './route.ts'

/** Binds every operation of the contract. */
export function routes(http: Express, app: App, secure: boolean): void {
  const on = <K extends keyof typeof api>(name: K, handler: Parameters<typeof bind<(typeof api)[K]>>[3]) => bind(http, app, api[name], handler)
  const cookie = (token: string, age: number) => `${COOKIE}=${token}; Path=/; HttpOnly; SameSite=Strict; Max-Age=${age}${secure ? '; Secure' : ''}`
  const all = <T>(row: (r: T) => (string | number | bigint | null | undefined)[], head: string[], rows: Iterable<T>, name: string) => new Csv(name, (function* () { yield csvRow(head); for (const r of rows) yield csvRow(row(r)) })())
  const stamp = () => app.today()

  on('health', () => ({ ok: true, seq: app.ledger.lastSeq.get()!.seq, version: VERSION }))
  on('start', () => ({ empty: !app.organisation, name: app.organisation?.name ?? null, demonstration: app.options.demonstration ?? false, zones: Intl.supportedValuesOf('timeZone') }))
  on('firstRun', async ({ body, response }) => {
    const id = await firstRun(app, body)
    const { token, caller } = startSession(app, id)
    response.setHeader('set-cookie', cookie(token, 14 * 86_400))
    return meOf(app, caller)
  })
  on('signIn', async ({ body, response }) => {
    const { token, caller } = await signIn(app, body.signIn, body.password)
    response.setHeader('set-cookie', cookie(token, 14 * 86_400))
    return meOf(app, caller)
  })
  on('me', ({ caller }) => meOf(app, caller))
  on('signOut', ({ request, response }) => {
    endSession(app, tokenOf(request)!)
    response.setHeader('set-cookie', cookie('', 0))
    return undefined
  })
  on('people', () => ({ rows: peopleList(app) }))
  on('createPerson', async ({ body }) => {
    const passwordHash = await hashPassword(body.password)
    const id = app.setUp(() => addPerson(app, { ...body, passwordHash }))
    return { id: peopleUid(app, id) }
  })
  on('settings', ({ body }) => { app.setUp(() => changeSettings(app, body)); return settingsOf(app) })

  on('index', () => ({ revision: app.setupRevision, items: itemIndex(app) }))
  on('items', ({ query, csv }) => {
    if (!csv) return listItems(app, query)
    const rows = listItems(app, { ...query, cursor: undefined, limit: 100_000 }).rows
    return all(r => [r.code, r.name, r.category?.name, r.unit, r.decimals, r.identifiedBy, r.method, r.packs.map(p => `${p.name}=${p.size}`).join('; '), [...r.codes, ...r.packs.flatMap(p => p.codes)].join(' ')], ['code', 'name', 'category', 'unit', 'decimals', 'identified by', 'cost method', 'packs', 'codes'], rows, `items-${stamp()}.csv`)
  })
  on('createItem', ({ body }) => itemView(app, app.ids.itemById.get({ id: app.setUp(() => createItem(app, body)) })!))
  on('item', ({ params }) => itemView(app, wantItem(app, params.id)))
  on('updateItem', ({ params, body, revision }) => { app.setUp(() => updateItem(app, params.id, body, revision)); return itemView(app, wantItem(app, params.id)) })
  on('retireItem', ({ params, revision }) => { app.setUp(() => retireItem(app, params.id, revision)); return undefined })
  on('reviveItem', ({ params }) => { app.setUp(() => reviveItem(app, params.id)); return itemView(app, wantItem(app, params.id)) })
  on('itemStock', ({ params, caller }) => itemStock(app, caller.may.has('see_value'), params.id))
  on('itemLots', ({ params, query }) => ({ rows: lotsOf(app, params.id, query.place) }))
  on('itemMovements', ({ params, query, caller, csv }) => {
    const seeValue = caller.may.has('see_value')
    if (!csv) return itemHistory(app, seeValue, params.id, query)
    const { rows } = itemHistory(app, seeValue, params.id, { ...query, cursor: undefined, limit: 100_000 })
    return all(r => [r.at, r.slip.number, r.kind, r.from, r.to, r.lot, r.change, r.balance, r.value, r.by, r.taker], ['happened', 'slip', 'kind', 'from', 'to', 'lot', 'change', 'left', 'value', 'by', 'taker'], rows, `movements-${wantItem(app, params.id).code}-${stamp()}.csv`)
  })
  on('lotState', ({ params, body, caller }) => { app.setUp(() => setLotState(app, params.id, body.held, body.why, caller.id), 'stock'); return { id: params.id } })
  on('categories', () => ({ rows: categories(app) }))
  on('createCategory', ({ body }) => ({ id: app.setUp(() => putCategory(app, body, undefined, undefined)) }))
  on('updateCategory', ({ params, body, revision }) => ({ id: app.setUp(() => putCategory(app, body, params.id, revision)) }))
  on('code', ({ params }) => meaningOf(app, params.code))
  on('linkCode', ({ body }) => {
    app.setUp(() => {
      const it = wantItem(app, body.item)
      const pack = body.pack === null ? undefined : app.ids.packs.all({ item: it.id }).find(p => p.name === body.pack)
      if (body.pack !== null && !pack) throw notFound('pack')
      register(app, body.code, pack ? { kind: 'pack', itemId: it.id, packId: pack.id } : { kind: 'item', itemId: it.id }, 'code')
    })
    return meaningOf(app, body.code)
  })

  on('places', () => ({ rows: placeViews(app) }))
  on('createPlace', ({ body }) => ({ id: app.places.row(app.setUp(() => createPlace(app, body)))!.uid }))
  on('updatePlace', ({ params, body, revision }) => { app.setUp(() => updatePlace(app, params.id, body, revision)); return { id: params.id } })
  on('setLevel', ({ body }) => { app.setUp(() => setLevel(app, body), 'stock'); return body })
  const plain = (kind: 'supplier' | 'cost_centre' | 'reason') => (r: { id: number; uid: string; name: string; code?: string; active: boolean }) => ({ id: r.uid, name: r.name, code: r.code ?? null, active: r.active, own: ownCode(kind, r.id) })
  on('suppliers', () => ({ rows: app.db.select().from(supplier).orderBy(supplier.name).all().map(plain('supplier')) }))
  on('wasteReasons', () => ({ rows: app.db.select().from(wasteReason).orderBy(wasteReason.name).all().map(plain('reason')) }))
  on('createWasteReason', ({ body }) => ({ id: app.setUp(() => createWasteReason(app, body.name)) }))
  on('costCentres', () => ({ rows: app.db.select().from(costCentre).orderBy(costCentre.name).all().map(plain('cost_centre')) }))
  on('createCostCentre', ({ body }) => ({ id: app.setUp(() => createCostCentre(app, body.name, body.code)) }))
  on('jobs', () => ({ rows: app.db.select({ j: job, centre: costCentre }).from(job).leftJoin(costCentre, eq(costCentre.id, job.costCentreId)).orderBy(job.name).all().map(r => ({ id: r.j.uid, code: r.j.code, name: r.j.name, state: r.j.state, own: ownCode('job', r.j.id), costCentre: r.centre ? { id: r.centre.uid, name: r.centre.name } : null })) }))
  on('createJob', ({ body }) => ({ id: app.setUp(() => createJob(app, body)) }))

  on('stock', ({ query, caller, csv }) => {
    const seeValue = caller.may.has('see_value')
    if (!csv) return stockList(app, seeValue, query)
    const { rows } = stockList(app, seeValue, { ...query, cursor: undefined, limit: 1_000_000 })
    return all(r => [r.code, r.name, r.category, r.place, r.levels.onHand, r.levels.available, r.unit, r.levels.minimum, r.levels.target, r.levels.state, r.firstExpiry, r.value], ['code', 'name', 'category', 'place', 'on hand', 'available', 'unit', 'minimum', 'target', 'state', 'first expiry', 'value'], rows, `stock-${stamp()}.csv`)
  })
  on('short', ({ query, csv }) => {
    const rows = shortList(app, query.place)
    if (!csv) return { rows }
    return all(r => [r.code, r.name, r.place.name, r.levels.available, r.levels.coming, r.unit, r.levels.minimum, r.levels.target, r.levels.bring, r.levels.state, r.elsewhere.map(e => `${e.available} in ${e.place}`).join('; ')], ['code', 'name', 'place', 'have', 'coming', 'unit', 'minimum', 'target', 'bring', 'state', 'elsewhere'], rows, `short-${stamp()}.csv`)
  })
  on('past', ({ query, caller, csv }) => {
    const out = pastDay(app, caller.may.has('see_value'), query.day, query.reading, query.place)
    return csv ? all(r => [r.code, r.name, r.quantity, r.unit, r.value], ['code', 'name', 'quantity', 'unit', 'value'], out.rows, `stock-on-${query.day}.csv`) : out
  })
  on('working', ({ params, query, caller }) => workingOf(app, caller.may.has('see_value'), params.figure, query))

  on('slips', ({ query, caller, csv }) => {
    if (!csv) return listSlips(app, caller, query)
    const { rows } = listSlips(app, caller, { ...query, cursor: undefined, limit: 100_000 })
    return all(r => [r.number, r.kind, r.state, r.title, r.place, r.at, r.by, r.taker, r.lines, r.value], ['number', 'kind', 'state', 'about', 'place', 'at', 'by', 'taker', 'lines', 'value'], rows, `slips-${stamp()}.csv`)
  })
  on('slip', ({ params, caller }) => slipView(app, caller, params.id))
  on('saveDraft', ({ params, body, caller, revision }) => saveDraft(app, caller, params.id, body, revision))
  on('dropDraft', ({ params }) => { dropDraft(app, params.id); return undefined })
  on('effect', ({ params, body, caller }) => effectOf(app, caller, params.id, body))
  const bookIt = async (uid: string, content: SlipContent, seen: string | null, caller: Parameters<typeof bookContent>[1]) => {
    if (content.kind === 'correction' && !caller.may.has('reverse')) throw new Refused(403, 'not_allowed', 'You may not take slips back.')
    await bookContent(app, caller, uid, content, seen)
    return slipView(app, caller, uid, content)
  }
  on('book', ({ params, body, caller }) => bookIt(params.id, body.content, body.seen, caller))
  on('reverse', ({ params, body, caller }) => bookIt(body.id, reversalContent(app, params.id, body), null, caller))
  on('sheet', ({ query }) => sheetOf(app, query.place, query.figures === 'yes'))
  on('differences', ({ query, caller }) => ({ rows: openDifferences(app, caller.may.has('see_value'), query.place) }))
  on('verify', () => verifyApart(app.store.file))
}

const peopleUid = (app: App, id: number): string => app.db.get<{ uid: string }>(sql`select uid from person where id = ${id}`)!.uid

type CategoryIn = Parameters<Parameters<typeof bind<(typeof api)['createCategory']>>[3]>[0]['body']
function putCategory(app: App, body: CategoryIn, uid: string | undefined, revision: number | undefined): string {
  const row = uid === undefined ? undefined : app.db.select().from(category).where(eq(category.uid, uid)).get()
  if (uid !== undefined && !row) throw notFound('category')
  if (row && revision !== undefined && revision !== row.revision) throw stale()
  const parent = body.parent === null ? undefined : app.db.select().from(category).where(eq(category.uid, body.parent)).get()
  if (body.parent !== null && !parent) throw notFound('category')
  for (let at = parent; at; at = at.parentId === null ? undefined : app.db.select().from(category).where(eq(category.id, at.parentId)).get()) {
    if (at.id === row?.id) throw new Refused(422, 'category_in_itself', 'A category cannot lie within itself.', [{ field: 'parent', code: 'category_in_itself', message: 'A category cannot lie within itself.' }])
  }
  const other = app.db.select().from(category).where(and(sql`lower(${category.name}) = lower(${body.name})`, sql`${category.parentId} is ${parent?.id ?? null}`)).get()
  if (other && other.id !== row?.id) throw new Refused(409, 'name_taken', `There is a category ${body.name} here already.`, [{ field: 'name', code: 'name_taken', message: `There is a category ${body.name} here already.` }])
  const set = { name: body.name, parentId: parent?.id ?? null, unit: body.unit, decimals: body.decimals, identifiedBy: body.identifiedBy, method: body.method, shelfLifeDays: body.shelfLifeDays }
  if (row) { app.db.update(category).set({ ...set, revision: row.revision + 1 }).where(eq(category.id, row.id)).run(); return row.uid }
  const made = app.uid()
  app.db.insert(category).values({ uid: made, ...set, active: true, revision: 1 }).run()
  return made
}
