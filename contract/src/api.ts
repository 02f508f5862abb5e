import { z } from 'zod'
import { Cursor, Day, Limit, page, Query, Uuid, Value } from './common.ts'
import { idOf, type Thing } from './things.ts'
import * as catalogue from './catalogue/catalogue.ts'
import * as people from './people/people.ts'
import * as places from './places/places.ts'
import * as reports from './reports/reports.ts'
import * as lookback from './reports/lookback.ts'
import * as today from './reports/today.ts'
import * as restock from './restocking/restock.ts'
import * as search from './reports/search.ts'
import * as content from './papers/content.ts'
import * as drafts from './papers/drafts.ts'
import * as slips from './ledger/slips.ts'
import * as counting from './counting/counting.ts'

/** What a caller must be allowed to do. `none`: nobody need be signed in; `set_up_here`: set-up of the place it is about, all other set-up asks for everywhere. */
export type Right = 'none' | people.Action | 'set_up_here'
export interface Operation<
  P extends z.ZodType = z.ZodType,
  Q extends z.ZodType = z.ZodType,
  B extends z.ZodType = z.ZodType,
  R extends z.ZodType = z.ZodType,
> {
  readonly method: 'get' | 'post' | 'put' | 'patch' | 'delete'
  readonly path: string
  readonly summary: string
  readonly right: Right
  readonly status: number
  readonly params: P
  readonly query: Q
  readonly body: B
  readonly answer: R
  /** Also answers `text/csv`. */
  readonly csv: boolean
  /** Answers, or with `csv` also answers, `application/pdf`. */
  readonly pdf: boolean
  /** Answers with something else than JSON. */
  readonly binary: string | undefined
  /** Takes a file of one of these media types as its body. */
  readonly upload: readonly string[]
  /** Wants the revision it was read with in `If-Match`. */
  readonly ifMatch: boolean
}
const nothing = z.object({})
type Make = {
  right?: Right
  status?: number
  csv?: boolean
  pdf?: boolean
  binary?: string
  upload?: readonly string[]
  ifMatch?: boolean
}
const op = <
  P extends z.ZodType = typeof nothing,
  Q extends z.ZodType = typeof nothing,
  B extends z.ZodType = z.ZodUndefined,
  R extends z.ZodType = z.ZodUndefined,
>(
  method: Operation['method'],
  path: string,
  summary: string,
  o: Make & { params?: P; query?: Q; body?: B; answer?: R },
): Operation<P, Q, B, R> => ({
  method,
  path,
  summary,
  right: o.right ?? 'read',
  status: o.status ?? (o.answer || o.pdf || o.binary ? 200 : 204),
  csv: o.csv ?? false,
  pdf: o.pdf ?? o.csv ?? false,
  binary: o.binary,
  upload: o.upload ?? [],
  ifMatch: o.ifMatch ?? false,
  params: (o.params ?? nothing) as P,
  query: (o.query ?? nothing) as Q,
  body: (o.body ?? z.undefined()) as B,
  answer: (o.answer ?? z.undefined()) as R,
})

const idFor = (thing: Thing) => z.object({ id: idOf(thing) })
const id = {
  item: idFor('item'),
  person: idFor('person'),
  session: idFor('session'),
  lot: idFor('lot'),
  category: idFor('category'),
  place: idFor('place'),
  restock: idFor('restock'),
  mail: idFor('mail'),
  slip: idFor('slip'),
  draft: idFor('draft'),
  sheet: idFor('sheet'),
}
/** Something by its id, or what has nothing of that kind. */
const orNone = <T extends z.ZodType>(of: T) => z.union([of, z.literal('none')])
const list = { cursor: Cursor.optional(), limit: Limit.optional() }
const found = z.object({ id: Uuid })
const place = z.object({ place: idOf('place').optional() })
const named = (path: string, what: string) => ({
  list: op('get', path, `All ${what}`, { answer: z.object({ rows: z.array(places.Named) }) }),
  create: op('post', path, `A new one among the ${what}`, {
    right: 'set_up',
    status: 201,
    body: places.NamedInput,
    answer: found,
  }),
})
const waste = named('/api/waste-reasons', 'waste reasons')
const centres = named('/api/cost-centres', 'cost centres')

/** Every route of the server, once: it parses requests by this table, and the OpenAPI document is made of it. */
export const api = {
  health: op('get', '/api/health', 'Whether the server works', { right: 'none', answer: people.Health }),
  tablets: op('get', '/api/tablets', 'How tablets reach this server', { answer: people.Tablets }),
  start: op('get', '/api/start', 'Whether there is an organisation yet', { right: 'none', answer: people.Start }),
  firstRun: op('post', '/api/start', 'Makes the organisation, its first manager and area, on an empty database', {
    right: 'none',
    status: 201,
    body: people.FirstRun,
    answer: people.Me,
  }),
  signIn: op('post', '/api/session', 'Signs in', {
    right: 'none',
    status: 201,
    body: people.SignInInput,
    answer: people.Me,
  }),
  me: op('get', '/api/session', 'Who is signed in', { answer: people.Me }),
  signOut: op('delete', '/api/session', 'Signs out', {}),
  people: op('get', '/api/people', 'Everybody, and what they may do', {
    right: 'set_up',
    answer: z.object({ rows: z.array(people.Person) }),
  }),
  createPerson: op('post', '/api/people', 'A new person', {
    right: 'set_up',
    status: 201,
    body: people.NewPerson,
    answer: found,
  }),
  changePerson: op(
    'put',
    '/api/people/:id',
    'Changes what somebody may do; taken out of use, they are signed out everywhere',
    { right: 'set_up', params: id.person, body: people.ChangedPerson, answer: found, ifMatch: true },
  ),
  newBadge: op('post', '/api/people/:id/badge', 'A new badge; the old one is void', {
    right: 'set_up',
    status: 201,
    params: id.person,
    answer: z.object({ badge: z.string() }),
  }),
  setPin: op('put', '/api/session/pin', 'Sets or takes away one’s own PIN', { body: people.PinInput }),
  changeHands: op('post', '/api/session/hands', 'Another person takes over this device, by badge or PIN', {
    status: 201,
    body: people.HandsInput,
    answer: people.Me,
  }),
  sessions: op('get', '/api/sessions', 'Who is signed in where', {
    answer: z.object({ rows: z.array(people.SessionView) }),
  }),
  endSession: op('delete', '/api/sessions/:id', 'Signs somebody out from afar', { params: id.session }),
  rights: op('get', '/api/rights', 'Who may do what', { answer: people.Rights }),
  settings: op('put', '/api/settings', 'Changes how the organisation works', {
    right: 'set_up',
    body: people.Settings,
    answer: people.Settings,
  }),

  index: op('get', '/api/index', 'What a device keeps of every item', { answer: catalogue.IndexView }),
  items: op('get', '/api/items', 'Items, by code or name', {
    query: z.object({
      ...list,
      q: Query.optional(),
      category: idOf('category').optional(),
      active: z.enum(['yes', 'no', 'all']).optional(),
      sort: z.enum(['code', 'name', '-code', '-name']).optional(),
    }),
    answer: page(catalogue.Item),
    csv: true,
  }),
  createItem: op('post', '/api/items', 'A new item', {
    right: 'set_up',
    status: 201,
    body: catalogue.ItemInput,
    answer: catalogue.Item,
  }),
  item: op('get', '/api/items/:id', 'One item', { params: id.item, answer: catalogue.Item }),
  updateItem: op('put', '/api/items/:id', 'Changes an item', {
    right: 'set_up',
    params: id.item,
    body: catalogue.ItemInput,
    answer: catalogue.Item,
    ifMatch: true,
  }),
  retireItem: op('delete', '/api/items/:id', 'Retires an item of which nothing lies anywhere', {
    right: 'set_up',
    params: id.item,
    ifMatch: true,
  }),
  reviveItem: op(
    'post',
    '/api/items/:id/revival',
    'Takes a retired item into use again; its barcodes are scanned anew',
    { right: 'set_up', params: id.item, answer: catalogue.Item },
  ),
  itemStock: op('get', '/api/items/:id/stock', 'Where an item lies, and its levels', {
    params: id.item,
    answer: reports.ItemStock,
  }),
  itemLots: op('get', '/api/items/:id/lots', 'The lots of an item, first to go first', {
    params: id.item,
    query: place,
    answer: z.object({ rows: z.array(catalogue.LotView) }),
  }),
  itemMovements: op(
    'get',
    '/api/items/:id/movements',
    'What happened to an item, latest first, with the running balance',
    {
      params: id.item,
      query: z.object({ ...list, place: idOf('place').optional() }),
      answer: page(reports.MovementRow),
      csv: true,
    },
  ),
  lot: op('get', '/api/lots/:id', 'Everything about one lot', { params: id.lot, answer: reports.LotPage, csv: true }),
  lotState: op('put', '/api/lots/:id/state', 'Holds, recalls or frees a lot', {
    right: 'book',
    params: id.lot,
    body: catalogue.LotStateInput,
    answer: found,
  }),
  categories: op('get', '/api/categories', 'The tree of categories', {
    answer: z.object({ rows: z.array(catalogue.Category) }),
  }),
  createCategory: op('post', '/api/categories', 'A new category', {
    right: 'set_up',
    status: 201,
    body: catalogue.CategoryInput,
    answer: found,
  }),
  updateCategory: op('put', '/api/categories/:id', 'Changes a category', {
    right: 'set_up',
    params: id.category,
    body: catalogue.CategoryInput,
    answer: found,
    ifMatch: true,
  }),
  code: op('get', '/api/codes/:code', 'What a code means', {
    params: z.object({ code: z.string().min(1).max(300) }),
    answer: catalogue.CodeMeaning,
  }),
  linkCode: op('post', '/api/codes', 'Links a code to an item or one of its packs', {
    right: 'book',
    status: 201,
    body: catalogue.LinkCode,
    answer: catalogue.CodeMeaning,
  }),

  places: op('get', '/api/places', 'The tree of places', { answer: z.object({ rows: z.array(places.Place) }) }),
  createPlace: op('post', '/api/places', 'A new place', {
    right: 'set_up_here',
    status: 201,
    body: places.PlaceInput,
    answer: found,
  }),
  updatePlace: op('put', '/api/places/:id', 'Changes a place', {
    right: 'set_up_here',
    params: id.place,
    body: places.PlaceInput,
    answer: found,
    ifMatch: true,
  }),
  setLevel: op('put', '/api/levels', 'Sets minimum, target and usual bin of an item in a place', {
    right: 'set_up_here',
    body: places.LevelInput,
    answer: places.LevelInput,
  }),
  suppliers: op('get', '/api/suppliers', 'All suppliers', { answer: z.object({ rows: z.array(places.Named) }) }),
  wasteReasons: waste.list,
  createWasteReason: waste.create,
  costCentres: centres.list,
  createCostCentre: centres.create,
  jobs: op('get', '/api/jobs', 'Jobs', { answer: z.object({ rows: z.array(places.Job) }) }),
  createJob: op('post', '/api/jobs', 'A new standing job', {
    right: 'set_up',
    status: 201,
    body: places.JobInput,
    answer: found,
  }),

  search: op('get', '/api/search', 'What words mean: lots, slips, suppliers, jobs, cost centres, people', {
    query: z.object({ q: Query }),
    answer: z.object({ rows: z.array(search.Found) }),
  }),
  today: op('get', '/api/today', 'What is waiting, how the shelves stand, what was booked last', {
    query: place,
    answer: today.Today,
  }),
  expiring: op('get', '/api/expiring', 'Lots that run out of date, or have', {
    query: z.object({ place: idOf('place').optional(), days: z.coerce.number().int().min(0).max(3650).optional() }),
    answer: z.object({ rows: z.array(today.ExpiringRow) }),
    csv: true,
  }),
  preference: op('get', '/api/preferences/:name', 'What one arranged to one’s taste', {
    params: people.PreferenceName,
    answer: people.Preference,
  }),
  setPreference: op('put', '/api/preferences/:name', 'Keeps what one arranged', {
    params: people.PreferenceName,
    body: people.Preference,
    answer: people.Preference,
  }),
  stock: op('get', '/api/stock', 'What lies in a place, or in all', {
    query: z.object({
      ...list,
      place: idOf('place').optional(),
      q: Query.optional(),
      category: idOf('category').optional(),
      state: z.enum(['out', 'short', 'in_range', 'over', 'none']).optional(),
      sort: z.enum(reports.STOCK_SORT).optional(),
    }),
    answer: page(reports.StockRow).extend({ value: Value.optional() }),
    csv: true,
  }),
  short: op('get', '/api/short', 'What is short or due', {
    query: place,
    answer: z.object({ rows: z.array(reports.ShortRow) }),
    csv: true,
  }),
  restock: op('get', '/api/restock', 'What the figures suggest to ask for, by source, and the slips there are', {
    query: place,
    answer: z.object({ proposals: z.array(restock.Proposal), slips: z.array(restock.RestockRow) }),
  }),
  beginRestock: op('post', '/api/restock', 'Begins a restock slip: what stands on it is offered to nobody else', {
    right: 'ask',
    status: 201,
    body: restock.NewRestock,
    answer: restock.RestockView,
  }),
  restockSlip: op('get', '/api/restock/:id', 'One restock slip', {
    params: id.restock,
    answer: restock.RestockView,
    csv: true,
  }),
  saveRestock: op('patch', '/api/restock/:id', 'Saves what was changed of a restock slip that was not asked for yet', {
    right: 'ask',
    params: id.restock,
    body: restock.RestockChanges,
    answer: restock.RestockSaved,
    ifMatch: true,
  }),
  dropRestock: op('delete', '/api/restock/:id', 'Throws a slip away, or no longer waits for what was asked for', {
    right: 'ask',
    ifMatch: true,
    params: id.restock,
  }),
  askRestock: op('post', '/api/restock/:id/asking', 'Marks it as asked for: from now on it is on its way', {
    right: 'ask',
    status: 201,
    ifMatch: true,
    params: id.restock,
    body: restock.AskedInput,
    answer: restock.RestockView,
  }),
  mailRestock: op('post', '/api/restock/:id/mails', 'Mails a slip, and marks it as asked for', {
    right: 'ask',
    status: 201,
    ifMatch: true,
    params: id.restock,
    body: restock.MailInput,
    answer: restock.RestockView,
  }),
  retryMail: op('post', '/api/mails/:id/attempts', 'Tries a letter again at once', {
    right: 'ask',
    status: 204,
    params: id.mail,
  }),
  moveRestock: op('post', '/api/restock/:id/move', 'What comes from our own shelves becomes a move, as a draft', {
    right: 'book',
    status: 201,
    ifMatch: true,
    params: id.restock,
    body: id.draft,
    answer: restock.RestockView,
  }),
  past: op('get', '/api/past', 'What was where on a past day: as it was, or as the books stood', {
    query: z.object({ day: Day, reading: z.enum(['was', 'books']), place: idOf('place').optional() }),
    answer: z.object({ rows: z.array(reports.PastRow), value: Value.optional() }),
    csv: true,
  }),
  working: op('get', '/api/workings/:figure', 'The lines behind a figure', {
    params: z.object({
      figure: z.enum([
        'on-hand',
        'available',
        'unit-cost',
        'value',
        'difference',
        'state',
        'value-here',
        'bring',
        'days',
        'first-expiry',
        'stock-value',
        'slip-value',
      ]),
    }),
    query: z.object({
      item: idOf('item').optional(),
      place: idOf('place').optional(),
      lot: idOf('lot').optional(),
      difference: idOf('difference').optional(),
      slip: idOf('slip').optional(),
    }),
    answer: reports.WorkingView,
  }),

  lookYear: op(
    'get',
    '/api/look-back/months',
    'Value of stock by month of a year: what came, what went, what remained',
    {
      right: 'see_value',
      query: z.object({
        year: z.coerce.number().int().min(1900).max(2200).optional(),
        category: idOf('category').optional(),
        place: idOf('place').optional(),
      }),
      answer: lookback.LookYear,
      csv: true,
    },
  ),
  lookBy: op(
    'get',
    '/api/look-back/by',
    'What was used, wasted or received, by cost centre, job, reason, supplier, category or place',
    {
      right: 'see_value',
      query: z.object({
        by: z.enum(lookback.LOOK_BY),
        flow: z.enum(['used', 'wasted', 'received']),
        from: lookback.MonthName,
        to: lookback.MonthName,
        category: idOf('category').optional(),
        place: idOf('place').optional(),
      }),
      answer: z.object({ rows: z.array(lookback.LookRow), value: z.string() }),
      csv: true,
    },
  ),
  activity: op('get', '/api/look-back/activity', 'Who booked how much where', {
    query: z.object({ from: lookback.MonthName, to: lookback.MonthName, place: idOf('place').optional() }),
    answer: z.object({ rows: z.array(lookback.ActivityRow) }),
    csv: true,
  }),
  accountCodes: op('get', '/api/account-codes', 'The account codes of the bookkeeping', {
    right: 'set_up',
    answer: lookback.AccountCodes,
  }),
  changeAccountCodes: op('put', '/api/account-codes', 'Sets account codes, or takes them away', {
    right: 'set_up',
    body: lookback.ChangedAccountCodes,
    answer: lookback.AccountCodes,
  }),
  accountSummary: op('get', '/api/look-back/accounts', 'What a span of months comes to, by account code', {
    right: 'see_value',
    query: z.object({ from: lookback.MonthName, to: lookback.MonthName }),
    answer: lookback.AccountSummary,
    csv: true,
  }),
  itemYears: op('get', '/api/items/:id/years', 'An item’s quantities by month, and what it cost', {
    params: id.item,
    query: place,
    answer: lookback.ItemYears,
    csv: true,
  }),
  months: op('get', '/api/months', 'Closed months, and which one is next', {
    answer: z.object({ rows: z.array(lookback.MonthView), next: lookback.MonthToClose.nullable() }),
  }),
  closeMonth: op('post', '/api/months', 'Closes a month: nothing that is written later changes it', {
    right: 'close_month',
    status: 201,
    body: z.object({ month: lookback.MonthName }),
    answer: z.object({ rows: z.array(lookback.MonthView), next: lookback.MonthToClose.nullable() }),
  }),
  slips: op('get', '/api/slips', 'Slips, latest first', {
    query: z.object({
      ...list,
      state: z.enum(['draft', 'booked', /** Booked, with lines that want a price. */ 'unpriced']).optional(),
      kind: content.AnySlipKind.optional(),
      place: idOf('place').optional(),
      q: Query.optional(),
      mine: z.enum(['yes']).optional(),
      from: Day.optional(),
      to: Day.optional(),
      party: z.enum(['cost_centre', 'job', 'reason', 'supplier']).optional(),
      /** Of the kind that `party` says; seen by everybody. */ partyId: orNone(idOf('own')).optional(),
      flow: z.enum(lookback.BARS).optional(),
      category: orNone(idOf('category')).optional(),
      /** The category itself, without those below it. */ alone: z.enum(['yes']).optional(),
      item: idOf('item').optional(),
      /** Whoever booked it; `from` and `to` are then the days on which it was booked. */ person:
        idOf('person').optional(),
      /** The place it was written at, itself, or none. */ at: orNone(idOf('place')).optional(),
    }),
    answer: page(slips.SlipRow),
    csv: true,
  }),
  slip: op('get', '/api/slips/:id', 'One slip', { params: id.slip, answer: slips.SlipView }),
  draft: op('get', '/api/slips/:id/draft', 'A draft with its revisions; with `since` its lines that were saved later', {
    params: id.draft,
    query: z.object({ since: z.coerce.number().int().min(0).optional() }),
    answer: drafts.DraftView,
  }),
  beginDraft: op('put', '/api/slips/:id', 'Begins a draft; one that is there already is not changed by it', {
    right: 'book',
    params: id.draft,
    body: content.SlipContent,
    answer: drafts.DraftSaved,
  }),
  saveDraft: op('patch', '/api/slips/:id', 'Saves what was changed of a draft: its head by If-Match, lines by theirs', {
    right: 'book',
    params: id.draft,
    body: drafts.DraftChanges,
    answer: drafts.DraftSaved,
    ifMatch: true,
  }),
  dropDraft: op('delete', '/api/slips/:id', 'Throws a draft away, as it was seen by If-Match', {
    right: 'book',
    params: id.draft,
    ifMatch: true,
  }),
  addPicture: op('post', '/api/pictures', 'Puts a photograph there, for a slip to name', {
    right: 'book',
    status: 201,
    upload: ['image/jpeg', 'image/png', 'image/webp'],
    answer: found,
  }),
  slipPicture: op('get', '/api/slips/:id/pictures/:picture', 'A photograph that a slip names', {
    params: z.object({ id: idOf('slip'), picture: idOf('picture') }),
    binary: 'image/*',
  }),
  effect: op('post', '/api/slips/:id/effect', 'Before → after: what booking would do, without doing it', {
    right: 'book',
    params: id.draft,
    body: content.SlipContent,
    answer: slips.Effect,
  }),
  effectWorking: op(
    'post',
    '/api/slips/:id/effect/working',
    'The lines behind a figure of the effect, without booking',
    { right: 'book', params: id.draft, body: slips.EffectWorkingInput, answer: reports.WorkingView },
  ),
  book: op(
    'post',
    '/api/slips/:id/booking',
    'Books a slip, all of it or nothing; again with the same content gives the same answer',
    { right: 'book', params: id.draft, status: 201, body: slips.Booking, answer: slips.SlipView },
  ),
  reverse: op('post', '/api/slips/:id/reversal', 'Takes a booked slip back, whole or by lines', {
    right: 'book',
    params: id.slip,
    status: 201,
    body: slips.Reversal,
    answer: slips.SlipView,
  }),
  sheet: op('get', '/api/sheets', 'What is to be counted in an area, in walking order', {
    query: z.object({ place: idOf('place'), figures: z.enum(['yes', 'no']).optional() }),
    answer: counting.Sheet,
  }),
  countAreas: op(
    'get',
    '/api/count-areas',
    'The areas to count: when each was counted and is due, and what is open there',
    { query: place, answer: z.object({ rows: z.array(counting.CountArea), sheets: z.array(counting.PrintedSheet) }) },
  ),
  previewSheets: op('post', '/api/sheet-preview', 'How sheets of some areas would look, as PDF', {
    right: 'book',
    body: counting.SheetsInput,
    pdf: true,
  }),
  printSheets: op(
    'post',
    '/api/sheets',
    'Prints a sheet for each area; sheets of it that were not entered yet are void',
    {
      right: 'book',
      status: 201,
      body: counting.SheetsInput,
      answer: z.object({ rows: z.array(counting.PrintedSheet) }),
    },
  ),
  printedSheet: op('get', '/api/sheets/:id', 'A printed sheet with its lines, page by page', {
    params: id.sheet,
    query: z.object({ page: z.coerce.number().int().min(1).max(99).optional() }),
    answer: counting.PrintedSheetView,
  }),
  sheetPaper: op('get', '/api/sheet-papers', 'Printed sheets, as PDF', {
    query: z.object({ sheets: z.string().max(4000) }),
    pdf: true,
  }),
  voidSheet: op('delete', '/api/sheets/:id', 'Throws a printed sheet away that was not entered', {
    right: 'book',
    params: id.sheet,
  }),
  enterSheet: op(
    'post',
    '/api/sheets/:id/entry',
    'Begins to enter a printed sheet: a count with its lines, as a draft',
    { right: 'book', status: 201, params: id.sheet, body: id.draft, answer: found },
  ),
  labels: op('post', '/api/label-papers', 'Labels of things and lots, as PDF', { body: slips.LabelsInput, pdf: true }),
  differences: op('get', '/api/differences', 'Open differences', {
    query: place,
    answer: z.object({ rows: z.array(counting.DifferenceView) }),
  }),
  backups: op('get', '/api/backups', 'The backups there are', { right: 'set_up', answer: reports.BackupsView }),
  takeBackup: op('post', '/api/backups', 'Takes a backup now', {
    right: 'set_up',
    status: 201,
    answer: reports.BackupsView,
  }),
  verify: op('post', '/api/verification', 'Works everything out anew and says what does not agree', {
    right: 'set_up',
    answer: reports.Verification,
  }),
} as const satisfies Record<string, Operation>
export type Api = typeof api
