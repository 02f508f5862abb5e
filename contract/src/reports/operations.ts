import { z } from 'zod'
import { Day, page, Query, Value } from '../common.ts'
import { idOf } from '../things.ts'
import { id, op, orNone, place, list } from '../operation.ts'
import * as catalogue from '../catalogue/catalogue.ts'
import * as reports from './reports.ts'
import * as budgets from '../costcentres/budgets.ts'
import { CountAccuracy } from './accuracy.ts'
import * as lookback from './lookback.ts'
import * as today from './today.ts'
import * as trace from './trace.ts'
import * as search from './search.ts'
import * as content from '../papers/content.ts'
import * as slips from '../ledger/slips.ts'

/** What one may ask of this room. */
export const operations = {
  itemStock: op('get', '/api/items/:id/stock', 'Where an item lies, and its levels', {
    params: id.item,
    answer: reports.ItemStock,
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
  lots: op('get', '/api/lots', 'Every lot of which something lies', {
    query: z.object({
      ...list,
      place: idOf('place').optional(),
      q: Query.optional(),
      state: z.enum(['usable', 'held', 'expired', 'recalled']).optional(),
      opened: z.enum(['true']).optional(),
      sort: z.enum(['expiry', 'item', 'code', 'received']).optional(),
    }),
    answer: page(reports.LotRow),
    csv: true,
  }),
  traceLot: op('get', '/api/lots/:id/trace', 'What a lot is made of, what it is in, who got it, what is left', {
    params: id.lot,
    answer: trace.LotTrace,
    csv: true,
  }),
  recallLot: op('post', '/api/lots/:id/recall', 'Holds or recalls a lot with everything that is made of it', {
    right: 'book',
    status: 201,
    params: id.lot,
    body: trace.Recall,
    answer: trace.Recalled,
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

  search: op('get', '/api/search', 'What words mean: lots, slips, suppliers, jobs, cost centres, people', {
    query: z.object({ q: Query }),
    answer: z.object({ rows: z.array(search.Found) }),
  }),
  often: op('get', '/api/often', 'What is mostly written on a kind of slip in a place, lately', {
    right: 'book',
    query: z.object({
      kind: z.enum(reports.OFTEN_KINDS),
      place: idOf('place'),
      job: idOf('job').optional(),
      costCentre: idOf('cost_centre').optional(),
      supplier: z.string().max(200).optional(),
    }),
    answer: z.object({ rows: z.array(reports.Often) }),
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
  past: op('get', '/api/past', 'What was where on a past day: as it was, or as the books stood', {
    query: z.object({
      day: Day,
      reading: z.enum(['was', 'books']),
      place: idOf('place').optional(),
      /** What a file lists; the answer holds both. */ by: z.enum(['item', 'category']).optional(),
    }),
    answer: z.object({
      rows: z.array(reports.PastRow),
      categories: z.array(reports.PastCategory),
      value: Value.optional(),
    }),
    csv: true,
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
  wasteReport: op(
    'get',
    '/api/look-back/waste',
    'What was wasted: by reason, place, item and month, beside what was used and what was wasted before',
    {
      right: 'see_value',
      query: z.object({ from: lookback.MonthName, to: lookback.MonthName, place: idOf('place').optional() }),
      answer: lookback.WasteReport,
      csv: true,
    },
  ),
  countAccuracy: op(
    'get',
    '/api/look-back/counts',
    'How right the books were where they were counted: by month, area and item, beside as many months before',
    {
      right: 'see_value',
      query: z.object({ from: lookback.MonthName, to: lookback.MonthName, place: idOf('place').optional() }),
      answer: CountAccuracy,
      csv: true,
    },
  ),
  disposal: op('get', '/api/look-back/disposal', 'What was wasted by its waste code, for whoever disposes of it', {
    right: 'see_value',
    query: z.object({ from: lookback.MonthName, to: lookback.MonthName, place: idOf('place').optional() }),
    answer: lookback.Disposal,
    csv: true,
  }),
  trimmed: op('get', '/api/look-back/trimmed', 'What jobs trimmed of what they took, beside what was wasted of it', {
    right: 'see_value',
    query: z.object({ from: lookback.MonthName, to: lookback.MonthName, place: idOf('place').optional() }),
    answer: lookback.Trimmed,
    csv: true,
  }),
  budgets: op(
    'get',
    '/api/budgets',
    'How cost centres stand in a year: budget, used by month, set aside, planned, left',
    {
      right: 'see_value',
      query: budgets.BudgetsAsked,
      answer: budgets.Budgets,
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
} as const
