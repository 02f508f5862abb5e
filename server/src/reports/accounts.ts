import { and, eq, sql } from 'drizzle-orm'
import { ACCOUNT_SORTS, type AccountCodes, type AccountSummary, type ChangedAccountCodes } from '@shelve/contract'
import { type Flow, formatDecimal, type Posting, sumByCode } from '@shelve/core'
import { account } from '../accounts/index.ts'
import { category } from '../catalogue/index.ts'
import { costCentre } from '../costcentres/index.ts'
import { Refused } from '../ground/index.ts'
import { note } from '../people/index.ts'
import type { Asking } from '../rights/index.ts'
import { wasteReason } from '../waste/index.ts'
import { monthNow, nextMonth } from './calendar.ts'
import type { House } from './house.ts'
import { closedMonths } from './months.ts'
import { accountCode } from './tables.ts'

type Sort = (typeof ACCOUNT_SORTS)[number]

/** What the accounts are called where nobody said otherwise: the usual classes of a small chart of accounts (common practice; the figures are ours). */
export const DEFAULT_CODES: Readonly<Record<Sort, string>> = {
  stock: '1400',
  opening: '3000',
  received: '2100',
  used: '5000',
  wasted: '5100',
  differences: '5200',
  price: '5300',
  made: '5400',
}

const stored = (house: House) => house.db.select().from(accountCode).all()

/** The codes as they are set, each with what holds where nothing is set: from the category or place above, at last from the sort's own. */
export function accountCodes(house: House): AccountCodes {
  const rows = stored(house)
  const own = (kind: string, ref: number) => rows.find(r => r.kind === kind && r.refId === ref)?.code ?? null
  const sorts = ACCOUNT_SORTS.map(sort => ({ sort, code: own(sort, 0), inherited: DEFAULT_CODES[sort] }))
  const r = resolver(house)
  const categories = house.db.select().from(category).where(eq(category.active, true)).orderBy(category.name).all()
  const reasons = house.db.select().from(wasteReason).orderBy(wasteReason.name).all()
  return {
    sorts,
    categories: categories.map(c => ({
      id: c.uid,
      name: c.name,
      parent: categories.find(p => p.id === c.parentId)?.uid ?? null,
      code: own('category', c.id),
      inherited: r.stock(c.parentId ?? 0),
    })),
    places: [...house.places.rows.values()]
      .filter(p => p.active && (p.kind === 'premises' || p.kind === 'area'))
      .sort((a, b) => house.places.order(a.id) - house.places.order(b.id))
      .map(p => ({
        id: p.uid,
        name: house.places.name(p.id),
        parent: p.parentId === null ? null : house.places.row(p.parentId)!.uid,
        code: own('place', p.id),
        inherited: r.used(p.parentId ?? 0),
      })),
    reasons: reasons.map(x => ({
      id: x.uid,
      name: x.name,
      parent: null,
      code: own('reason', x.id),
      inherited: r.sort('wasted'),
    })),
  }
}

/** Sets or takes away codes; what is not named stays. */
export function changeAccountCodes(house: House, input: ChangedAccountCodes, asking: Asking): void {
  const find = {
    category: () => house.db.select({ id: category.id, uid: category.uid }).from(category).all(),
    reason: () => house.db.select({ id: wasteReason.id, uid: wasteReason.uid }).from(wasteReason).all(),
    place: () => [...house.places.rows.values()],
  }
  const names = {
    category: (id: number) => house.db.select({ n: category.name }).from(category).where(eq(category.id, id)).get()!.n,
    reason: (id: number) =>
      house.db.select({ n: wasteReason.name }).from(wasteReason).where(eq(wasteReason.id, id)).get()!.n,
    place: (id: number) => house.places.name(id),
  }
  for (const c of input.codes) {
    const sort = (ACCOUNT_SORTS as readonly string[]).includes(c.kind)
    const refId = sort ? 0 : find[c.kind as keyof typeof find]().find(r => r.uid === c.id)?.id
    if (refId === undefined) throw new Refused(404, 'not_found', `There is no such ${c.kind}.`)
    const [old] = house.db
      .delete(accountCode)
      .where(and(eq(accountCode.kind, c.kind), eq(accountCode.refId, refId)))
      .returning()
      .all()
    const [before, after] = [old?.code ?? '', c.code ?? '']
    if (before !== after)
      note(house, asking, {
        what: 'account_code',
        subject: sort ? c.kind : names[c.kind as keyof typeof names](refId),
        before,
        after,
      })
    if (c.code !== null && c.code !== '')
      house.db.insert(accountCode).values({ kind: c.kind, refId, code: c.code }).run()
  }
}

/** Which code a thing is booked on. */
function resolver(house: House) {
  const rows = stored(house)
  const codes = new Map(rows.map(r => [`${r.kind} ${r.refId}`, r.code]))
  const parents = new Map(
    house.db
      .select({ id: category.id, parent: category.parentId })
      .from(category)
      .all()
      .map(c => [c.id, c.parent]),
  )
  const sort = (s: Sort) => codes.get(`${s} 0`) ?? DEFAULT_CODES[s]
  const up = (kind: string, from: number, parent: (id: number) => number | null | undefined, last: Sort): string => {
    for (let at: number | null | undefined = from; at; at = parent(at)) {
      const own = codes.get(`${kind} ${at}`)
      if (own) return own
    }
    return sort(last)
  }
  return {
    sort,
    stock: (categoryId: number) => up('category', categoryId, id => parents.get(id), 'stock'),
    used: (placeId: number) => up('place', placeId, id => house.places.row(id)?.parentId, 'used'),
    wasted: (reasonId: number) => codes.get(`reason ${reasonId}`) ?? sort('wasted'),
  }
}

/**
 * What a span of months comes to by account code: what stock held before, debits, credits, what it holds then; each flow
 * against its own account, use also by cost centre. Debits and credits are the same in all.
 */
export function accountSummary(house: House, q: { from: string; to: string }): AccountSummary {
  const r = resolver(house)
  const centres = new Map(
    house.db
      .select({ account: account.id, name: costCentre.name, code: costCentre.code })
      .from(account)
      .innerJoin(costCentre, eq(costCentre.id, account.costCentreId))
      .where(eq(account.kind, 'used'))
      .all()
      .map(a => [a.account, `${a.code} ${a.name}`]),
  )
  const months = house.flows.months().filter(m => m >= q.from && m <= q.to)
  const against = (flow: Flow | 'direct', c: { area: number; account: number }): { code: string; party: string } =>
    flow === 'used' || flow === 'direct'
      ? { code: flow === 'direct' ? r.sort('used') : r.used(c.area), party: centres.get(c.account) ?? '' }
      : { code: flow === 'wasted' ? r.wasted(c.account) : r.sort(flow), party: '' }
  function* postings(): Generator<Posting> {
    for (const m of months)
      for (const c of house.flows.cells(m)) {
        const other = against(c.flow, c)
        // Straight to its user: never on stock, from what was received to what was used.
        if (c.flow === 'direct') {
          yield { ...other, amount: c.value }
          yield { code: r.sort('received'), party: '', amount: -c.value }
          continue
        }
        yield { code: r.stock(c.category), party: '', amount: c.value }
        yield { ...other, amount: -c.value }
      }
  }
  const before = new Map<string, bigint>()
  for (const m of house.flows.months())
    if (m < q.from)
      for (const c of house.flows.cells(m))
        if (c.flow !== 'direct') {
          const code = r.stock(c.category)
          before.set(code, (before.get(code) ?? 0n) + c.value)
        }
  const sums = sumByCode(postings())
  for (const [code, v] of before)
    if (v !== 0n && !sums.some(s => s.code === code && s.party === ''))
      sums.push({ code, party: '', debit: 0n, credit: 0n })
  const names = namesOf(house, r)
  const rows = sums
    .sort((a, b) => (a.code < b.code ? -1 : a.code > b.code ? 1 : 0))
    .map(s => {
      const stock = names.stock.has(s.code)
      const opening = stock ? (before.get(s.code) ?? 0n) : null
      return {
        code: s.code,
        name: names.of(s.code),
        party: s.party,
        opening: opening === null ? null : formatDecimal(opening),
        debit: formatDecimal(s.debit),
        credit: formatDecimal(s.credit),
        balance: formatDecimal((opening ?? 0n) + s.debit - s.credit),
      }
    })
  const closed = new Set(closedMonths(house).map(m => m.month))
  const open: string[] = []
  for (let m = q.from; m <= q.to && m <= monthNow(house); m = nextMonth(m)) if (!closed.has(m)) open.push(m)
  return {
    rows,
    debit: formatDecimal(sums.reduce((t, s) => t + s.debit, 0n)),
    credit: formatDecimal(sums.reduce((t, s) => t + s.credit, 0n)),
    open,
  }
}

const SORT_WORDS: Readonly<Record<Sort, string>> = {
  stock: 'Stock',
  opening: 'Opening stock',
  received: 'Received from suppliers',
  used: 'Used',
  wasted: 'Wasted',
  differences: 'Count differences',
  price: 'Price differences',
  made: 'Made and relabelled',
}

/** What stands behind each code, in words. */
function namesOf(house: House, r: ReturnType<typeof resolver>) {
  /** By code: what sort of thing stands behind it, and which ones in particular. */
  const words = new Map<string, Map<string, string[]>>()
  const stock = new Set<string>()
  const say = (code: string, sort: string, which?: string) => {
    const of = words.get(code) ?? new Map<string, string[]>()
    words.set(code, of)
    of.set(sort, [...(of.get(sort) ?? []), ...(which ? [which] : [])])
  }
  stock.add(r.sort('stock'))
  for (const s of ACCOUNT_SORTS) say(r.sort(s), SORT_WORDS[s])
  for (const c of house.db
    .select({ id: category.id, name: category.name })
    .from(category)
    .where(sql`exists (select 1 from ${accountCode} a where a.kind = 'category' and a.ref_id = ${category.id})`)
    .all()) {
    stock.add(r.stock(c.id))
    say(r.stock(c.id), 'Stock', c.name)
  }
  for (const x of stored(house)) {
    if (x.kind === 'place') say(x.code, 'Used', house.places.name(x.refId))
    if (x.kind === 'reason') say(x.code, 'Wasted', house.rows.account.get({ id: x.refId })?.name ?? '?')
  }
  return {
    stock,
    of: (code: string) =>
      [...(words.get(code) ?? [])]
        .map(([sort, which]) => (which.length ? `${sort}: ${which.join(', ')}` : sort))
        .join('; '),
  }
}
