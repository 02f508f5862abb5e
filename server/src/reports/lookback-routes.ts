import { decimal, formatDecimal, writtenMonth } from '@shelve/core'
import { wantItem } from '../catalogue/index.ts'
import { Refused } from '../ground/index.ts'
import { barsOf, listed } from '../printing/index.ts'
import { type Caller, demandEverywhere, type Handlers, Listable, scopeOf, seesValue } from '../rights/index.ts'
import { accountCodes, accountSummary, changeAccountCodes } from './accounts.ts'
import { countAccuracy } from './accuracy.ts'
import { budgets } from './budgets.ts'
import { disposalList } from './disposal.ts'
import type { House } from './house.ts'
import { activity, itemYears, lookBy, lookYear } from './lookback.ts'
import { trimmedReport } from './trimmed.ts'
import { wasteReport } from './wasted.ts'
import { closedMonths, closeMonth, monthToClose } from './months.ts'

/** What this room answers: each operation of the contract and its use case. */
export function lookBackRoutes(house: House) {
  const span = (q: { from: string; to: string }) =>
    q.from === q.to ? writtenMonth(q.from) : `${writtenMonth(q.from)} to ${writtenMonth(q.to)}`
  /** Values of a scope, for whoever may see all of them. */
  const valued = (caller: Caller, place: string | undefined) => {
    const scope = scopeOf(house, caller, place)
    if (!seesValue(house, caller, scope)) throw new Refused(403, 'not_allowed', 'You may not see values.')
    return scope
  }
  const monthsNow = async (caller: Caller) => {
    await house.flows.ready()
    const next = caller.may.has('close_month') ? await monthToClose(house) : null
    return { rows: closedMonths(house), next }
  }
  return {
    lookYear: async ({ query, caller, csv }) => {
      const scope = valued(caller, query.place)
      await house.flows.ready()
      const out = lookYear(house, scope, query)
      return csv
        ? listed(
            house,
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
    },
    disposal: async ({ query, caller, csv }) => {
      const scope = valued(caller, query.place)
      await house.flows.ready()
      const { rows } = disposalList(house, scope, query)
      return csv
        ? listed(
            house,
            'What was wasted, for disposal',
            r => [r.wasteCode, r.code, r.name, r.quantity, r.unit, r.grams],
            ['waste code', 'code', 'name', 'quantity', 'unit', 'grams'],
            rows.flatMap(r => r.items.map(i => ({ ...i, wasteCode: r.code }))),
            `disposal-${query.from}-${query.to}`,
            scope,
            span(query),
          )
        : { rows }
    },
    trimmed: async ({ query, caller, csv }) => {
      const scope = valued(caller, query.place)
      await house.flows.ready()
      const out = trimmedReport(house, scope, query)
      return csv
        ? listed(
            house,
            'What jobs trimmed',
            r => [r.code, r.name, r.unit, r.taken, r.trimmed, r.value, r.wasted, r.wastedValue],
            ['code', 'name', 'unit', 'taken', 'trimmed', 'value trimmed', 'wasted', 'value wasted'],
            out.rows,
            `trimmed-${query.from}-${query.to}`,
            scope,
            span(query),
          )
        : out
    },
    lookBy: async ({ query, caller, csv }) => {
      const scope = valued(caller, query.place)
      await house.flows.ready()
      const rows = lookBy(house, scope, query)
      return csv
        ? listed(
            house,
            `What was ${query.flow}, by ${query.by.replace('_', ' ')}`,
            r => [r.name, r.value, r.lines],
            [query.by.replace('_', ' '), 'value', 'lines'],
            rows,
            `${query.flow}-by-${query.by}-${query.from}-${query.to}`,
            scope,
            span(query),
          ).under(barsOf('lying', rows.slice(0, 20), r => r.name, { [query.flow]: r => r.value }))
        : { rows, value: formatDecimal(rows.reduce((s, r) => s + decimal(r.value), 0n)) }
    },
    wasteReport: async ({ query, caller, csv }) => {
      const scope = valued(caller, query.place)
      await house.flows.ready()
      const r = wasteReport(house, scope, query)
      return csv
        ? listed(
            house,
            'What was wasted',
            x => [x.by, x.name, x.quantity, x.unit, x.value, x.before, x.lines],
            ['by', 'name', 'quantity', 'unit', 'value', 'value before', 'lines'],
            [
              ...r.reasons.map(x => ({ ...x, by: 'reason', quantity: '', unit: '' })),
              ...r.places.map(x => ({ ...x, by: 'place', quantity: '', unit: '' })),
              ...r.worst.map(x => ({ ...x, by: 'item' })),
            ],
            `wasted-${query.from}-${query.to}`,
            scope,
            span(query),
          ).under(barsOf('standing', r.months, m => writtenMonth(m.month), { wasted: m => m.wasted }))
        : r
    },
    countAccuracy: async ({ query, caller, csv }) => {
      const scope = valued(caller, query.place)
      const r = await countAccuracy(house, scope, query)
      return csv
        ? listed(
            house,
            'How right the books were',
            x => [x.by, x.name, x.lines, x.exact, x.hits, x.share, x.missing, x.over, x.net, x.gross],
            [
              'by',
              'name',
              'lines counted',
              'agreed',
              'within tolerance',
              'per cent',
              'missing',
              'over',
              'net',
              'gross',
            ],
            [
              ...r.months.map(x => ({ ...x, by: 'month', name: x.month })),
              ...r.places.map(x => ({ ...x, by: 'area' })),
              ...r.items.map(x => ({ ...x, by: 'item' })),
            ],
            `counts-${query.from}-${query.to}`,
            scope,
            span(query),
          )
        : r
    },
    budgets: async ({ query, caller, csv }) => {
      const scope = valued(caller, undefined)
      if (scope.within) throw new Refused(403, 'not_allowed', 'What a cost centre used is about every place.')
      await house.flows.ready()
      await house.stock.ready()
      const out = budgets(house, query)
      return csv
        ? listed(
            house,
            `Budgets of ${out.year}`,
            r => [r.code, r.name, r.amount, r.used, r.kept, r.planned, r.left, r.percent, ...r.months],
            [
              'code',
              'cost centre',
              'budget',
              'used',
              'set aside',
              'planned',
              'left',
              'per cent used',
              ...Array.from({ length: 12 }, (_, i) => writtenMonth(`${out.year}-${String(i + 1).padStart(2, '0')}`)),
            ],
            out.rows,
            `budgets-${out.year}`,
            scope,
          )
        : out
    },
    activity: async ({ query, caller, csv }) => {
      const scope = scopeOf(house, caller, query.place)
      const rows = await activity(house, scope, query)
      return csv
        ? listed(
            house,
            'Who booked how much',
            r => [r.person, r.place, r.slips, r.lines],
            ['person', 'place', 'slips', 'lines'],
            rows,
            `activity-${query.from}-${query.to}`,
            scope,
            span(query),
          )
        : { rows }
    },
    itemYears: async ({ params, query, caller }) => {
      const scope = scopeOf(house, caller, query.place)
      const of = wantItem(house, params.id)
      return new Listable(await itemYears(house, seesValue(house, caller, scope), scope, params.id), ({ months }) =>
        listed(
          house,
          `${of.name} by month`,
          r => [r.month, r.received, r.used, r.wasted, r.other, r.remained],
          ['month', 'received', 'used', 'wasted', 'other', 'remained'],
          months,
          `months-${of.code}`,
          scope,
          `in ${of.unit}`,
        )
          .inQuantities()
          .under(
            barsOf('standing', months.slice(-13), m => writtenMonth(m.month), {
              used: m => formatDecimal(-decimal(m.used)),
            }),
          ),
      )
    },
    accountCodes: () => accountCodes(house),
    changeAccountCodes: input => {
      house.setUp(() => changeAccountCodes(house, input.body, input), 'names')
      return accountCodes(house)
    },
    accountSummary: async ({ query, caller, csv }) => {
      demandEverywhere(house, caller, 'see_value')
      await house.flows.ready()
      const out = accountSummary(house, query)
      return csv
        ? listed(
            house,
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
    },
    months: ({ caller }) => monthsNow(caller),
    closeMonth: {
      does: input => closeMonth(house, input, input.body.month),
      shows: (_: unknown, caller) => monthsNow(caller),
    },
  } satisfies Partial<Handlers>
}
