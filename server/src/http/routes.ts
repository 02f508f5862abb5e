import type { Express, Request, Response } from 'express'
import { and, eq, sql } from 'drizzle-orm'
import type { z } from 'zod'
import { api, type RestockView, type SlipContent } from '@shelve/contract'
import { decimal, formatDecimal, ownCode, writtenDay, writtenMonth } from '@shelve/core'
import { category, costCentre, job, supplier, wasteReason } from '../db/schema.ts'
import { iso, Refused, VERSION, type App } from '../app.ts'
import { backupsIn } from '../db/schedule.ts'
import { categories, itemIndex, listItems, lotsOf, meaningOf } from '../catalogue/queries.ts'
import {
  createItem,
  itemView,
  notFound,
  register,
  retireItem,
  reviveItem,
  setLotState,
  stale,
  updateItem,
  wantItem,
} from '../catalogue/service.ts'
import {
  countAreas,
  enterSheet,
  previewSheets,
  printedSheet,
  printSheets,
  sheetsAsPdf,
  voidSheet,
} from '../counting/paper-sheets.ts'
import { openDifferences, sheetOf } from '../counting/sheets.ts'
import { bookContent, effectOf } from '../ledger/book.ts'
import { effectWorking } from '../ledger/effect-working.ts'
import { dropDraft, saveDraft } from '../ledger/drafts.ts'
import { keepPicture, pictureOf } from '../ledger/pictures.ts'
import { reversalContent } from '../ledger/reversal.ts'
import { listSlips, slipView } from '../ledger/views.ts'
import {
  addPerson,
  changeHands,
  changePerson,
  changeSettings,
  endSession,
  endSessionByUid,
  firstRun,
  hashPassword,
  keepPreference,
  meOf,
  preferenceOf,
  newBadge,
  peopleList,
  sessionList,
  setPin,
  settingsOf,
  signIn,
  startSession,
} from '../people/service.ts'
import {
  demandAt,
  demandEverywhere,
  MAY,
  reach,
  ROLE_ORDER,
  scopeOf,
  seesValue,
  type Caller,
} from '../people/rights.ts'
import {
  createCostCentre,
  createJob,
  createPlace,
  createWasteReason,
  placeViews,
  setLevel,
  updatePlace,
} from '../places/service.ts'
import { accountCodes, accountSummary, changeAccountCodes } from '../reports/accounts.ts'
import { itemHistory, workingOf } from '../reports/history.ts'
import { activity, itemYears, lookBy, lookYear } from '../reports/lookback.ts'
import { closedMonths, closeMonth, monthToClose } from '../reports/months.ts'
import { pastDay } from '../reports/past.ts'
import { itemStock, shortList, stockList } from '../reports/lists.ts'
import { Listing, listingPdf } from '../reports/listing.ts'
import { lotPage } from '../reports/lot.ts'
import { retryMail } from '../notices/mail.ts'
import { labelsAsPdf } from '../papers/labels.ts'
import { barsOf, type Cells } from '../papers/paper.ts'
import type { Scope } from '../places/tree.ts'
import { searchFor } from '../reports/search.ts'
import { expiringLots, todayOf } from '../reports/today.ts'
import {
  beginRestock,
  changeRestock,
  dropRestock,
  mailRestock,
  markAsked,
  moveOf,
  restockOf,
  restockOfMail,
  restockView,
} from '../restocking/service.ts'
import { verifyApart } from '../reports/verify-apart.ts'
import { bind, Bytes, COOKIE, tokenOf } from './route.ts'

/** Binds every operation of the contract. */
export type Reached = z.output<(typeof api)['tablets']['answer']>
export function routes(http: Express, app: App, secure: boolean, reached: Reached): void {
  const on = <K extends keyof typeof api>(name: K, handler: Parameters<typeof bind<(typeof api)[K]>>[3]) =>
    bind(http, app, api[name], handler)
  const cookie = (token: string, age: number) =>
    `${COOKIE}=${token}; Path=/; HttpOnly; SameSite=Strict; Max-Age=${age}${secure ? '; Secure' : ''}`
  const all = <T>(
    title: string,
    row: (r: T) => Cells,
    head: string[],
    rows: readonly T[],
    name: string,
    scope?: Scope,
    ...about: string[]
  ) =>
    new Listing(
      title,
      name,
      [...(scope ? [scope.within ? scope.name : 'All places'] : []), ...about.filter(Boolean)],
      head,
      rows.map(row),
    )

  on('health', () => ({ ok: true, seq: app.ledger.lastSeq.get()!.seq, version: VERSION }))
  on('tablets', () => reached)
  on('start', () => ({
    empty: !app.organisation,
    name: app.organisation?.name ?? null,
    demonstration: app.options.demonstration ?? false,
    zones: Intl.supportedValuesOf('timeZone'),
  }))
  const device = (request: Request) => request.headers['user-agent'] ?? ''
  const begun = ({ token, caller }: { token: string; caller: Caller }, response: Response) => {
    response.setHeader('set-cookie', cookie(token, 14 * 86_400))
    return meOf(app, caller)
  }
  on('firstRun', async ({ body, request, response }) =>
    begun(startSession(app, await firstRun(app, body), device(request)), response),
  )
  on('signIn', async ({ body, request, response }) =>
    begun(await signIn(app, body.signIn, body.password, device(request)), response),
  )
  on('changeHands', async ({ body, request, response, caller }) => {
    const next = begun(await changeHands(app, body, device(request)), response)
    // Whoever had the device until now is signed out on it.
    endSession(app, tokenOf(request)!)
    app.events.endSession(caller.session)
    return next
  })
  on('setPin', async ({ body, caller }) => {
    await setPin(app, caller, body.password, body.pin)
    return undefined
  })
  on('sessions', ({ caller }) => ({ rows: sessionList(app, caller) }))
  on('endSession', ({ params, caller }) => {
    endSessionByUid(app, caller, params.id)
    return undefined
  })
  on('rights', () => ({ roles: ROLE_ORDER.map(role => ({ role, may: [...MAY[role]] })) }))
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
  on('changePerson', async ({ params, body, revision }) => {
    const passwordHash = body.password === null ? undefined : await hashPassword(body.password)
    app.setUp(() => changePerson(app, params.id, body, passwordHash, revision))
    return { id: params.id }
  })
  on('newBadge', ({ params }) => ({ badge: app.setUp(() => newBadge(app, params.id)) }))
  on('settings', ({ body }) => {
    app.setUp(() => changeSettings(app, body))
    return settingsOf(app)
  })

  on('index', () => ({ revision: app.setupRevision, items: itemIndex(app) }))
  on('items', ({ query, csv }) => {
    if (!csv) return listItems(app, query)
    const rows = listItems(app, { ...query, cursor: undefined, limit: 100_000 }).rows
    return all(
      'Items',
      r => [
        r.code,
        r.name,
        r.category?.name,
        r.unit,
        r.decimals,
        r.identifiedBy,
        r.method,
        r.packs.map(p => `${p.name}=${p.size}`).join('; '),
        [...r.codes, ...r.packs.flatMap(p => p.codes)].join(' '),
      ],
      ['code', 'name', 'category', 'unit', 'decimals', 'identified by', 'cost method', 'packs', 'codes'],
      rows,
      'items',
      undefined,
      query.q ? `named ${query.q}` : '',
    )
  })
  on('createItem', ({ body }) => itemView(app, app.ids.itemById.get({ id: app.setUp(() => createItem(app, body)) })!))
  on('item', ({ params }) => itemView(app, wantItem(app, params.id)))
  on('updateItem', ({ params, body, revision }) => {
    app.setUp(() => updateItem(app, params.id, body, revision))
    return itemView(app, wantItem(app, params.id))
  })
  on('retireItem', ({ params, revision }) => {
    app.setUp(() => retireItem(app, params.id, revision))
    return undefined
  })
  on('reviveItem', ({ params }) => {
    app.setUp(() => reviveItem(app, params.id))
    return itemView(app, wantItem(app, params.id))
  })
  on('itemStock', ({ params, caller }) => {
    const scope = reach(app, caller)
    return itemStock(app, seesValue(app, caller, scope), scope, params.id)
  })
  on('itemLots', ({ params, query, caller }) => ({ rows: lotsOf(app, params.id, scopeOf(app, caller, query.place)) }))
  on('itemMovements', ({ params, query, caller, csv }) => {
    const scope = scopeOf(app, caller, query.place)
    const seeValue = seesValue(app, caller, scope)
    if (!csv) return itemHistory(app, seeValue, scope, params.id, query)
    const { rows } = itemHistory(app, seeValue, scope, params.id, { ...query, cursor: undefined, limit: 100_000 })
    return all(
      `Movements of ${wantItem(app, params.id).name}`,
      r => [r.at, r.slip.number, r.kind, r.from, r.to, r.lot, r.change, r.balance, r.value, r.by, r.taker],
      ['happened', 'slip', 'kind', 'from', 'to', 'lot', 'change', 'left', 'value', 'by', 'taker'],
      rows,
      `movements-${wantItem(app, params.id).code}`,
      scope,
    )
  })
  on('lot', ({ params, caller, csv }) => {
    const scope = reach(app, caller)
    const v = lotPage(app, params.id, scope)
    return csv
      ? all(
          `Lot ${v.code ?? ''} of ${v.item.name}`,
          m => [m.at, m.slip.number, m.kind, m.from, m.to, m.quantity, m.by, m.taker],
          ['happened', 'slip', 'kind', 'from', 'to', 'quantity', 'by', 'taker'],
          v.movements,
          `lot-${v.code ?? v.item.code}`,
          scope,
          `in ${v.item.unit}`,
          v.expiry ? `use by ${writtenDay(v.expiry, app.organisation!)}` : '',
        )
      : v
  })
  on('lotState', ({ params, body, caller }) => {
    app.setUp(() => setLotState(app, params.id, body.held, body.why, caller.id), 'stock')
    return { id: params.id }
  })
  on('categories', () => ({ rows: categories(app) }))
  on('createCategory', ({ body }) => ({ id: app.setUp(() => putCategory(app, body, undefined, undefined)) }))
  on('updateCategory', ({ params, body, revision }) => ({
    id: app.setUp(() => putCategory(app, body, params.id, revision)),
  }))
  on('code', ({ params }) => meaningOf(app, params.code))
  on('linkCode', ({ body }) => {
    app.setUp(() => {
      const it = wantItem(app, body.item)
      const pack = body.pack === null ? undefined : app.ids.packs.all({ item: it.id }).find(p => p.name === body.pack)
      if (body.pack !== null && !pack) throw notFound('pack')
      register(
        app,
        body.code,
        pack ? { kind: 'pack', itemId: it.id, packId: pack.id } : { kind: 'item', itemId: it.id },
        'code',
      )
    })
    return meaningOf(app, body.code)
  })

  on('places', ({ caller }) => ({ rows: placeViews(app, reach(app, caller)) }))
  on('createPlace', ({ body, caller }) => {
    if (body.parent) demandAt(app, caller, 'set_up', app.places.id(body.parent) ?? -1)
    else demandEverywhere(app, caller, 'set_up')
    return { id: app.places.row(app.setUp(() => createPlace(app, body)))!.uid }
  })
  on('updatePlace', ({ params, body, revision, caller }) => {
    demandAt(app, caller, 'set_up', app.places.id(params.id) ?? -1)
    app.setUp(() => updatePlace(app, params.id, body, revision))
    return { id: params.id }
  })
  on('setLevel', ({ body, caller }) => {
    demandAt(app, caller, 'set_up', app.places.id(body.place) ?? -1)
    app.setUp(() => setLevel(app, body), 'stock')
    return body
  })
  const plain =
    (kind: 'supplier' | 'cost_centre' | 'reason') =>
    (r: { id: number; uid: string; name: string; code?: string; active: boolean }) => ({
      id: r.uid,
      name: r.name,
      code: r.code ?? null,
      active: r.active,
      own: ownCode(kind, r.id),
    })
  on('suppliers', () => ({ rows: app.db.select().from(supplier).orderBy(supplier.name).all().map(plain('supplier')) }))
  on('wasteReasons', () => ({
    rows: app.db.select().from(wasteReason).orderBy(wasteReason.name).all().map(plain('reason')),
  }))
  on('createWasteReason', ({ body }) => ({ id: app.setUp(() => createWasteReason(app, body.name)) }))
  on('costCentres', () => ({
    rows: app.db.select().from(costCentre).orderBy(costCentre.name).all().map(plain('cost_centre')),
  }))
  on('createCostCentre', ({ body }) => ({ id: app.setUp(() => createCostCentre(app, body.name, body.code)) }))
  on('jobs', () => ({
    rows: app.db
      .select({ j: job, centre: costCentre })
      .from(job)
      .leftJoin(costCentre, eq(costCentre.id, job.costCentreId))
      .orderBy(job.name)
      .all()
      .map(r => ({
        id: r.j.uid,
        code: r.j.code,
        name: r.j.name,
        state: r.j.state,
        own: ownCode('job', r.j.id),
        costCentre: r.centre ? { id: r.centre.uid, name: r.centre.name } : null,
      })),
  }))
  on('createJob', ({ body }) => ({ id: app.setUp(() => createJob(app, body)) }))

  on('search', ({ query, caller }) => ({ rows: searchFor(app, caller, query.q) }))
  on('today', ({ query, caller }) => todayOf(app, caller, scopeOf(app, caller, query.place)))
  on('expiring', ({ query, caller, csv }) => {
    const scope = scopeOf(app, caller, query.place)
    const rows = expiringLots(app, seesValue(app, caller, scope), scope, query.days ?? 60)
    if (!csv) return { rows }
    return all(
      'Lots that run out of date',
      r => [r.code, r.name, r.lot.code, r.lot.expiry, r.lot.state, r.place.name, r.quantity, r.unit, r.value],
      ['code', 'name', 'lot', 'expiry', 'state', 'place', 'quantity', 'unit', 'value'],
      rows,
      'expiring',
      scope,
      `within ${query.days ?? 60} days`,
    )
  })
  on('preference', ({ params, caller }) => ({ value: preferenceOf(app, caller.id, params.name) }))
  on('setPreference', ({ params, body, caller }) => {
    keepPreference(app, caller.id, params.name, body.value)
    return body
  })
  on('stock', ({ query, caller, csv }) => {
    const scope = scopeOf(app, caller, query.place)
    const seeValue = seesValue(app, caller, scope)
    if (!csv) return stockList(app, seeValue, scope, query)
    const { rows } = stockList(app, seeValue, scope, { ...query, cursor: undefined, limit: 1_000_000 })
    return all(
      'Stock',
      r => [
        r.code,
        r.name,
        r.category,
        r.place,
        r.levels.onHand,
        r.levels.available,
        r.unit,
        r.levels.minimum,
        r.levels.target,
        r.levels.state,
        r.firstExpiry,
        r.value,
      ],
      [
        'code',
        'name',
        'category',
        'place',
        'on hand',
        'available',
        'unit',
        'minimum',
        'target',
        'state',
        'first expiry',
        'value',
      ],
      rows,
      'stock',
      scope,
      query.state ? `state: ${query.state.replace('_', ' ')}` : '',
      query.q ? `named ${query.q}` : '',
    )
  })
  on('short', ({ query, csv, caller }) => {
    const scope = scopeOf(app, caller, query.place)
    const rows = shortList(app, scope, reach(app, caller))
    if (!csv) return { rows }
    return all(
      'What is short or due',
      r => [
        r.code,
        r.name,
        r.place.name,
        r.levels.available,
        r.levels.coming,
        r.unit,
        r.levels.minimum,
        r.levels.target,
        r.levels.bring,
        r.levels.state,
        r.elsewhere.map(e => `${e.available} in ${e.place}`).join('; '),
      ],
      ['code', 'name', 'place', 'have', 'coming', 'unit', 'minimum', 'target', 'bring', 'state', 'elsewhere'],
      rows,
      'short',
      scope,
    )
  })
  on('restock', ({ query, caller }) => restockOf(app, caller, scopeOf(app, caller, query.place)))
  on('beginRestock', ({ body, caller }) => {
    app.change('restock', () => beginRestock(app, caller, body.id, body))
    return restockView(app, caller, body.id)
  })
  const restockListing = (v: RestockView) =>
    all(
      `To ask for, of ${v.name}`,
      l => [l.code, l.name, l.typed || '0', l.unit ?? l.base, l.quantity, l.base, l.placeName, l.why],
      ['code', 'name', 'asked', 'in', 'quantity', 'unit', 'for', 'why'],
      v.lines,
      `restock-${v.name}`,
    )
  on('restockSlip', ({ params, caller, csv }) => {
    const v = restockView(app, caller, params.id)
    return csv ? restockListing(v) : v
  })
  on('mailRestock', async ({ params, body, caller }) => {
    const v = restockView(app, caller, params.id)
    const listing = restockListing({ ...v, lines: v.lines.filter(l => l.quantity !== '0') })
    const name = `${app.organisation!.name} ${app.today()}`.replace(/[^\w.-]+/g, '-')
    const pdf = await listingPdf(app, listing, `${app.organisation!.name} · asked for by ${caller.name}`)
    const attachments = [
      { filename: `${name}.pdf`, type: 'application/pdf', base64: Buffer.from(pdf).toString('base64') },
      {
        filename: `${name}.csv`,
        type: 'text/csv',
        base64: Buffer.from([...listing.csv()].join('')).toString('base64'),
      },
    ]
    app.change('restock', () => mailRestock(app, caller, params.id, body, attachments))
    void app.post?.tick()
    return restockView(app, caller, params.id)
  })
  on('retryMail', ({ params, caller }) => {
    const of = restockOfMail(app, params.id)
    if (of) restockView(app, caller, of)
    app.change('mail', () => retryMail(app, params.id))
    void app.post?.tick()
    return undefined
  })
  on('changeRestock', ({ params, body, caller, revision }) => {
    restockView(app, caller, params.id)
    app.change('restock', () => changeRestock(app, caller, params.id, body, revision))
    return restockView(app, caller, params.id)
  })
  on('dropRestock', ({ params, caller }) => {
    restockView(app, caller, params.id)
    app.change('restock', () => dropRestock(app, params.id))
    return undefined
  })
  on('askRestock', ({ params, body, caller }) => {
    restockView(app, caller, params.id)
    app.change('restock', () => markAsked(app, caller, params.id, body))
    return restockView(app, caller, params.id)
  })
  on('moveRestock', ({ params, body, caller }) => {
    restockView(app, caller, params.id)
    app.change('restock', () => moveOf(app, caller, params.id, body.id))
    return restockView(app, caller, params.id)
  })
  on('past', ({ query, caller, csv }) => {
    const scope = scopeOf(app, caller, query.place)
    const out = pastDay(app, seesValue(app, caller, scope), query.day, query.reading, scope)
    return csv
      ? all(
          `What lay there on ${writtenDay(query.day, app.organisation!)}`,
          r => [r.code, r.name, r.quantity, r.unit, r.value],
          ['code', 'name', 'quantity', 'unit', 'value'],
          out.rows,
          `stock-on-${query.day}`,
          scope,
          query.reading === 'was' ? 'as it was' : 'as the books stood',
        )
      : out
  })
  const span = (q: { from: string; to: string }) =>
    q.from === q.to ? writtenMonth(q.from) : `${writtenMonth(q.from)} to ${writtenMonth(q.to)}`
  /** Values of a scope, for whoever may see all of them. */
  const valued = (caller: Caller, place: string | undefined) => {
    const scope = scopeOf(app, caller, place)
    if (!seesValue(app, caller, scope)) throw new Refused(403, 'not_allowed', 'You may not see values.')
    return scope
  }
  on('lookYear', async ({ query, caller, csv }) => {
    const scope = valued(caller, query.place)
    await app.flows.ready()
    const out = lookYear(app, scope, query)
    return csv
      ? all(
          `Value of stock by month, ${out.year}`,
          r => [
            r.month,
            r.opening,
            r.begun,
            r.received,
            r.made,
            r.used,
            r.wasted,
            r.differences,
            r.price,
            r.closing,
            r.direct,
          ],
          [
            'month',
            'opening',
            'opening stock',
            'received',
            'made',
            'used',
            'wasted',
            'differences',
            'price differences',
            'closing',
            'straight to users',
          ],
          out.rows,
          `value-by-month-${out.year}`,
          scope,
        ).under(
          barsOf(
            'standing',
            out.rows,
            r => writtenMonth(r.month),
            { received: r => r.received, used: r => r.used, wasted: r => r.wasted, differences: r => r.differences },
            ['remained', r => r.closing],
          ),
        )
      : out
  })
  on('lookBy', async ({ query, caller, csv }) => {
    const scope = valued(caller, query.place)
    await app.flows.ready()
    const rows = lookBy(app, scope, query)
    return csv
      ? all(
          `What was ${query.flow}, by ${query.by.replace('_', ' ')}`,
          r => [r.name, r.value, r.lines],
          [query.by.replace('_', ' '), 'value', 'lines'],
          rows,
          `${query.flow}-by-${query.by}-${query.from}-${query.to}`,
          scope,
          span(query),
        ).under(barsOf('lying', rows.slice(0, 20), r => r.name, { [query.flow]: r => r.value }))
      : { rows, value: formatDecimal(rows.reduce((s, r) => s + decimal(r.value), 0n)) }
  })
  on('activity', ({ query, caller, csv }) => {
    const scope = scopeOf(app, caller, query.place)
    const rows = activity(app, scope, query)
    return csv
      ? all(
          'Who booked how much',
          r => [r.person, r.place, r.slips, r.lines],
          ['person', 'place', 'slips', 'lines'],
          rows,
          `activity-${query.from}-${query.to}`,
          scope,
          span(query),
        )
      : { rows }
  })
  on('itemYears', ({ params, query, caller, csv }) => {
    const scope = scopeOf(app, caller, query.place)
    const out = itemYears(app, seesValue(app, caller, scope), scope, params.id)
    return csv
      ? all(
          `${wantItem(app, params.id).name} by month`,
          r => [r.month, r.received, r.used, r.wasted, r.other, r.remained],
          ['month', 'received', 'used', 'wasted', 'other', 'remained'],
          out.months,
          `months-${wantItem(app, params.id).code}`,
          scope,
          `in ${wantItem(app, params.id).unit}`,
        )
          .inQuantities()
          .under(
            barsOf('standing', out.months.slice(-13), m => writtenMonth(m.month), {
              used: m => formatDecimal(-decimal(m.used)),
            }),
          )
      : out
  })
  on('accountCodes', () => accountCodes(app))
  on('changeAccountCodes', ({ body }) => {
    app.setUp(() => changeAccountCodes(app, body))
    return accountCodes(app)
  })
  on('accountSummary', async ({ query, caller, csv }) => {
    demandEverywhere(app, caller, 'see_value')
    await app.flows.ready()
    const out = accountSummary(app, query)
    return csv
      ? all(
          'By account code',
          r => [r.code, r.name, r.party, r.opening, r.debit, r.credit, r.balance],
          ['account', 'name', 'cost centre', 'opening', 'debit', 'credit', 'balance'],
          out.rows,
          `accounts-${query.from}-${query.to}`,
          undefined,
          span(query),
          out.open.length ? `Not closed yet: ${out.open.map(writtenMonth).join(', ')}` : '',
        )
      : out
  })
  const monthsNow = async (caller: Caller) => {
    await app.flows.ready()
    const next = caller.may.has('close_month') ? monthToClose(app) : null
    return { rows: closedMonths(app), next }
  }
  on('months', ({ caller }) => monthsNow(caller))
  on('closeMonth', async ({ body, caller }) => {
    await app.flows.ready()
    closeMonth(app, caller, body.month)
    return monthsNow(caller)
  })
  on('working', ({ params, query, caller }) => {
    const scope = scopeOf(app, caller, query.place)
    if (query.slip !== undefined) slipView(app, caller, query.slip)
    return workingOf(app, seesValue(app, caller, scope), scope, params.figure, query)
  })

  on('slips', ({ query, caller, csv }) => {
    if (!csv) return listSlips(app, caller, query)
    const { rows } = listSlips(app, caller, { ...query, cursor: undefined, limit: 100_000 })
    return all(
      'Slips',
      r => [r.number, r.kind, r.state, r.title, r.place, r.at, r.by, r.taker, r.lines, r.value],
      ['number', 'kind', 'state', 'about', 'place', 'at', 'by', 'taker', 'lines', 'value'],
      rows,
      'slips',
      query.place ? scopeOf(app, caller, query.place) : undefined,
      query.kind ? `kind: ${query.kind.replace('_', ' ')}` : '',
      query.q ? `with ${query.q}` : '',
      query.from || query.to ? `${query.from ?? ''} to ${query.to ?? ''}` : '',
    )
  })
  on('slip', ({ params, caller }) => slipView(app, caller, params.id))
  on('saveDraft', ({ params, body, caller, revision }) => saveDraft(app, caller, params.id, body, revision))
  on('dropDraft', ({ params, caller }) => {
    slipView(app, caller, params.id)
    dropDraft(app, params.id)
    return undefined
  })
  /** A change of cost method is set-up, written as a slip. */
  const mayWrite = (content: SlipContent, caller: Caller) => {
    if (content.kind === 'method_change') demandEverywhere(app, caller, 'set_up')
  }
  on('effect', ({ params, body, caller }) => effectOf(app, caller, params.id, (mayWrite(body, caller), body)))
  on('effectWorking', ({ params, body, caller }) => {
    mayWrite(body.content, caller)
    return effectWorking(app, caller, params.id, body)
  })
  on('addPicture', ({ caller, request }) => {
    if (!Buffer.isBuffer(request.body))
      throw new Refused(415, 'not_a_picture', 'A picture is wanted: JPEG, PNG or WebP.')
    return { id: keepPicture(app, caller.id, request.body) }
  })
  on('slipPicture', ({ params, caller }) => {
    const p = pictureOf(app, slipView(app, caller, params.id).content!, params.picture)
    return new Bytes('picture', p.bytes, p.type)
  })
  const bookIt = async (uid: string, content: SlipContent, seen: string | null, caller: Caller) => {
    if (content.kind === 'correction' && !caller.may.has('reverse'))
      throw new Refused(403, 'not_allowed', 'You may not take slips back.')
    mayWrite(content, caller)
    await bookContent(app, caller, uid, content, seen)
    return slipView(app, caller, uid, content)
  }
  on('book', ({ params, body, caller }) => bookIt(params.id, body.content, body.seen, caller))
  on(
    'reverse',
    ({ params, body, caller }) => (
      slipView(app, caller, params.id),
      bookIt(body.id, reversalContent(app, params.id, body), null, caller)
    ),
  )
  on('sheet', ({ query, caller }) => {
    scopeOf(app, caller, query.place)
    return sheetOf(app, query.place, query.figures === 'yes')
  })
  on('countAreas', ({ query, caller }) => countAreas(app, caller, scopeOf(app, caller, query.place)))
  on('previewSheets', async ({ body, caller }) => new Bytes('count-sheets.pdf', await previewSheets(app, caller, body)))
  on('printSheets', ({ body, caller }) => ({ rows: printSheets(app, caller, body) }))
  on('printedSheet', ({ params, query, caller }) => {
    const v = printedSheet(app, caller, params.id)
    return query.page === undefined ? v : { ...v, lines: v.lines.filter(l => l.page === query.page) }
  })
  on(
    'sheetPaper',
    async ({ query, caller }) =>
      new Bytes('count-sheets.pdf', await sheetsAsPdf(app, caller, query.sheets.split(',').slice(0, 100))),
  )
  on('voidSheet', ({ params, caller }) => {
    voidSheet(app, caller, params.id)
    return undefined
  })
  on('enterSheet', ({ params, body, caller }) => ({ id: enterSheet(app, caller, params.id, body.id) }))
  on('labels', async ({ body }) => new Bytes('labels.pdf', await labelsAsPdf(app, body.labels, body.size, body.skip)))
  on('differences', ({ query, caller }) => ({
    rows: openDifferences(
      app,
      seesValue(app, caller, scopeOf(app, caller, query.place)),
      scopeOf(app, caller, query.place),
      reach(app, caller),
    ),
  }))
  const backupsNow = () => {
    const b = app.options.backups
    return {
      rows: b
        ? backupsIn(b.directory)
            .slice(0, 50)
            .map(r => ({ name: r.name, at: iso(r.at), bytes: r.bytes }))
        : [],
      hours: b?.plan.hours ?? 0,
      keep: b?.plan.keep ?? 0,
      trouble: b?.lastTrouble ?? null,
    }
  }
  on('backups', backupsNow)
  on('takeBackup', async () => {
    if (!app.options.backups)
      throw new Refused(
        409,
        'no_backups',
        'This server keeps no backups: it was started without a data directory of its own.',
      )
    await app.options.backups.take()
    return backupsNow()
  })
  on('verify', () => verifyApart(app.store.file))
}

const peopleUid = (app: App, id: number): string =>
  app.db.get<{ uid: string }>(sql`select uid from person where id = ${id}`)!.uid

type CategoryIn = Parameters<Parameters<typeof bind<(typeof api)['createCategory']>>[3]>[0]['body']
function putCategory(app: App, body: CategoryIn, uid: string | undefined, revision: number | undefined): string {
  const row = uid === undefined ? undefined : app.db.select().from(category).where(eq(category.uid, uid)).get()
  if (uid !== undefined && !row) throw notFound('category')
  if (row && revision !== undefined && revision !== row.revision) throw stale()
  const parent =
    body.parent === null ? undefined : app.db.select().from(category).where(eq(category.uid, body.parent)).get()
  if (body.parent !== null && !parent) throw notFound('category')
  for (
    let at = parent;
    at;
    at = at.parentId === null ? undefined : app.db.select().from(category).where(eq(category.id, at.parentId)).get()
  ) {
    if (at.id === row?.id)
      throw new Refused(422, 'category_in_itself', 'A category cannot lie within itself.', [
        { field: 'parent', code: 'category_in_itself', message: 'A category cannot lie within itself.' },
      ])
  }
  const other = app.db
    .select()
    .from(category)
    .where(and(sql`lower(${category.name}) = lower(${body.name})`, sql`${category.parentId} is ${parent?.id ?? null}`))
    .get()
  if (other && other.id !== row?.id)
    throw new Refused(409, 'name_taken', `There is a category ${body.name} here already.`, [
      { field: 'name', code: 'name_taken', message: `There is a category ${body.name} here already.` },
    ])
  const set = {
    name: body.name,
    parentId: parent?.id ?? null,
    unit: body.unit,
    decimals: body.decimals,
    identifiedBy: body.identifiedBy,
    method: body.method,
    shelfLifeDays: body.shelfLifeDays,
  }
  if (row) {
    app.db
      .update(category)
      .set({ ...set, revision: row.revision + 1 })
      .where(eq(category.id, row.id))
      .run()
    return row.uid
  }
  const made = app.uid()
  app.db
    .insert(category)
    .values({ uid: made, ...set, active: true, revision: 1 })
    .run()
  return made
}
