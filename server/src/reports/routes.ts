import { writtenDay } from '@shelve/core'
import { wantItem } from '../catalogue/index.ts'
import { register } from '../codes/index.ts'
import { notFound, Refused } from '../ground/index.ts'
import { auditPage } from '../people/index.ts'
import { listed } from '../printing/index.ts'
import { about, type Handlers, Listable, paged, reach, scopeOf, seesValue } from '../rights/index.ts'
import { itemHistory } from './history.ts'
import type { House } from './house.ts'
import { itemStock, shortList, stockFound, stockPage } from './lists.ts'
import { lotsPage, lyingLots } from './lots-list.ts'
import { lotPage, movementsOfLot } from './lot.ts'
import { gotListed, lotTrace, recallLot } from './traced.ts'
import { meaningOf } from './meaning.ts'
import { oftenWritten } from './often.ts'
import { pastDay } from './past.ts'
import { searchFor } from './search.ts'
import { listSlips } from './slips.ts'
import { expiringLots, todayOf } from './today.ts'

/** Of slips fewer: what each is worth is added up from its movements. */
const SLIPS = 40
/** What this room answers: each operation of the contract and its use case. */
export function routes(house: House) {
  return {
    itemStock: ({ params, caller }) => {
      const scope = reach(house, caller)
      return itemStock(house, scope, params.id)
    },
    itemMovements: ({ params, query, caller, csv }) => {
      const scope = scopeOf(house, caller, query.place)
      const page = (q: typeof query) => about(scope, itemHistory(house, scope, params.id, q))
      return paged(csv, query, page, rows =>
        listed(
          house,
          `Movements of ${wantItem(house, params.id).name}`,
          r => [r.at, r.slip.number, r.kind, r.from, r.to, r.lot, r.change, r.balance, r.value, r.by, r.taker],
          ['happened', 'slip', 'kind', 'from', 'to', 'lot', 'change', 'left', 'value', 'by', 'taker'],
          rows,
          `movements-${wantItem(house, params.id).code}`,
          scope,
        ),
      )
    },
    traceLot: async ({ params, caller, csv }) => {
      const scope = reach(house, caller)
      const t = await lotTrace(house, params.id, scope)
      return csv ? gotListed(house, params.id, t, scope) : t
    },
    recallLot: ({ params, body, caller }) => {
      const lots = house.setUp(
        () => recallLot(house, caller, params.id, body),
        made => ({ items: made.map(l => l.itemId) }),
        'stock',
      )
      return {
        lots: lots.map(l => ({ id: l.uid, code: l.code, item: house.known.itemById(l.itemId)!.name })),
      }
    },
    lot: ({ params, caller, csv }) => {
      const scope = reach(house, caller)
      const v = lotPage(house, params.id, scope)
      return csv
        ? listed(
            house,
            `Lot ${v.code ?? ''} of ${v.item.name}`,
            m => [m.at, m.slip.number, m.kind, m.from, m.to, m.quantity, m.by, m.taker],
            ['happened', 'slip', 'kind', 'from', 'to', 'quantity', 'by', 'taker'],
            movementsOfLot(house, params.id, scope),
            `lot-${v.code ?? v.item.code}`,
            scope,
            `in ${v.item.unit}`,
            v.expiry ? `use by ${writtenDay(v.expiry, house.organisation!)}` : '',
          )
        : v
    },
    audit: ({ query, csv }) =>
      paged(
        csv,
        query,
        q => auditPage(house, q),
        rows =>
          listed(
            house,
            'Who changed what',
            r => [r.at, r.by, r.what, r.subject, r.before, r.after, r.address, r.device],
            ['at', 'by', 'what', 'subject', 'before', 'after', 'address', 'device'],
            rows,
            'audit',
            undefined,
          ),
      ),
    code: ({ params, caller }) => meaningOf(house, caller, params.code),
    search: ({ query, caller }) => ({ rows: searchFor(house, caller, query.q) }),
    often: async ({ query, caller }) => {
      scopeOf(house, caller, query.place)
      return { rows: await oftenWritten(house, query) }
    },
    today: ({ query, caller }) => todayOf(house, caller, scopeOf(house, caller, query.place)),
    expiring: async ({ query, caller }) => {
      const scope = scopeOf(house, caller, query.place)
      return new Listable({ rows: await expiringLots(house, scope, query.days ?? 60) }, ({ rows }) =>
        listed(
          house,
          'Lots that run out of date',
          r => [r.code, r.name, r.lot.code, r.lot.expiry, r.lot.state, r.place.name, r.quantity, r.unit, r.value],
          ['code', 'name', 'lot', 'expiry', 'state', 'place', 'quantity', 'unit', 'value'],
          rows,
          'expiring',
          scope,
          `within ${query.days ?? 60} days`,
        ),
      )
    },
    stock: ({ query, caller, csv }) => {
      const scope = scopeOf(house, caller, query.place)
      if (query.sort?.endsWith('value') && !seesValue(house, caller, scope))
        throw new Refused(403, 'not_allowed', 'You may not see values, so nothing can be put in their order.')
      // A file is of one moment: what is on it is found once.
      let found: ReturnType<typeof stockFound> | undefined
      return paged(
        csv,
        query,
        async q => stockPage(house, scope, await (found ??= stockFound(house, scope, query)), q),
        rows =>
          listed(
            house,
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
          ),
      )
    },
    lots: ({ query, csv, caller }) => {
      const scope = scopeOf(house, caller, query.place)
      let found: ReturnType<typeof lyingLots> | undefined
      return paged(
        csv,
        query,
        async q => lotsPage(house, scope, await (found ??= lyingLots(house, scope, query)), q),
        rows =>
          listed(
            house,
            'Lots',
            r => [
              r.item.code,
              r.item.name,
              r.code,
              r.expiry,
              r.state,
              r.quantity,
              r.item.unit,
              r.places.map(p => `${p.quantity} in ${p.name}`).join('; '),
              r.opened ?? '',
              r.lastUsed ? `${r.lastUsed.by}, ${r.lastUsed.what}, ${r.lastUsed.at}` : '',
              r.value,
            ],
            ['code', 'name', 'lot', 'use by', 'state', 'quantity', 'unit', 'where', 'opened', 'last used', 'value'],
            rows,
            'lots',
            scope,
            query.state ? `state: ${query.state}` : '',
            query.opened ? 'open ones' : '',
            query.q ? `named ${query.q}` : '',
          ),
      )
    },
    short: async ({ query, csv, caller }) => {
      const scope = scopeOf(house, caller, query.place)
      const rows = await shortList(house, scope, reach(house, caller))
      if (!csv) return { rows }
      return listed(
        house,
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
    },
    past: async ({ query, caller }) => {
      const scope = scopeOf(house, caller, query.place)
      const title = `What lay there on ${writtenDay(query.day, house.organisation!)}`
      const as = query.reading === 'was' ? 'as it was' : 'as the books stood'
      return new Listable(about(scope, await pastDay(house, query.day, query.reading, scope)), past =>
        query.by === 'category'
          ? listed(
              house,
              title,
              r => [r.category ?? 'no category', r.items, r.value],
              ['category', 'items', 'value'],
              past.categories,
              `stock-on-${query.day}-by-category`,
              scope,
              as,
            )
          : listed(
              house,
              title,
              r => [r.code, r.name, r.category, r.quantity, r.unit, r.value],
              ['code', 'name', 'category', 'quantity', 'unit', 'value'],
              past.rows,
              `stock-on-${query.day}`,
              scope,
              as,
            ),
      )
    },
    slips: ({ query, caller, csv }) => {
      return paged(
        csv,
        query,
        q => listSlips(house, caller, q),
        rows =>
          listed(
            house,
            'Slips',
            r => [r.number, r.kind, r.state, r.title, r.place, r.at, r.by, r.taker, r.lines, r.value],
            ['number', 'kind', 'state', 'about', 'place', 'at', 'by', 'taker', 'lines', 'value'],
            rows,
            'slips',
            query.place ? scopeOf(house, caller, query.place) : undefined,
            query.kind ? `kind: ${query.kind.replace('_', ' ')}` : '',
            query.q ? `with ${query.q}` : '',
            query.from || query.to ? `${query.from ?? ''} to ${query.to ?? ''}` : '',
          ),
        SLIPS,
      )
    },
    linkCode: ({ body, caller }) => {
      house.setUp(() => {
        const it = wantItem(house, body.item)
        const pack =
          body.pack === null ? undefined : house.rows.packs.all({ item: it.id }).find(p => p.name === body.pack)
        if (body.pack !== null && !pack) throw notFound('pack')
        register(
          house,
          body.code,
          pack ? { kind: 'pack', itemId: it.id, packId: pack.id } : { kind: 'item', itemId: it.id },
          'code',
        )
      }, 'names')
      return meaningOf(house, caller, body.code)
    },
  } satisfies Partial<Handlers>
}
