import { eq } from 'drizzle-orm'
import type { WorkingView } from '@shelve/contract'
import {
  type AccountKind,
  atCost,
  decimal,
  formatDecimal,
  forOne,
  isUse,
  leafState,
  ONE,
  onHand,
  type Part,
  levelWorking,
  max,
  perDay,
  type Movement,
  partsOfFigure,
  poolValue,
  type Position,
  USE_DAYS,
  type Working,
  workOut,
} from '@shelve/core'
import { account } from '../accounts/index.ts'
import { wantItem } from '../catalogue/index.ts'
import { notFound, Refused } from '../ground/index.ts'
import { movementsOfItem, slipValue } from '../ledger/index.ts'
import { type Caller, type Scope, seesValue } from '../rights/index.ts'
import { differenceWorking } from './difference.ts'
import type { House } from './house.ts'
import type { StockItem } from './item.ts'
import { onTheWay } from './on-the-way.ts'
import { viewOf } from './views.ts'

/** What of values may be shown: of the places in question, and of every place. */
export interface Sight {
  readonly here: boolean
  readonly everywhere: boolean
}

/** What of values a caller may be shown of some places. */
export const sightOf = (house: House, caller: Caller, scope: Scope): Sight => ({
  here: seesValue(house, caller, scope),
  everywhere: seesValue(house, caller, house.places.scope()),
})

/**
 * An item as a slip would leave it: its facts after that, the movements that it would write, and lots that it would make.
 */
export interface Ahead {
  readonly item: StockItem
  readonly movements: readonly Movement[]
  readonly lotCode: (lotId: number) => string | null
  readonly isUsed: (account: number) => boolean
}

/** The lines behind a figure, from the function that makes the figure; `ahead`: as it would be after a slip. */
export async function workingOf(
  house: House,
  see: Sight,
  scope: Scope,
  figure: string,
  q: { item?: string; lot?: string; difference?: string; slip?: string },
  ahead?: Ahead,
): Promise<WorkingView> {
  if (figure === 'difference') return differenceWorking(house, scope, q.difference)
  if (figure === 'stock-value' || figure === 'slip-value' || figure === 'on-the-way') {
    if (!see.here) throw new Refused(403, 'not_allowed', 'You may not see values.')
    if (figure === 'on-the-way') {
      const { worth } = onTheWay(house, scope) ?? { worth: workOut('value', []) }
      return viewOf(house, 'Value on the way', house.organisation!.currency, worth)
    }
    return figure === 'slip-value' ? slipValueWorking(house, q.slip) : stockValueWorking(house, scope)
  }
  const it = wantItem(house, q.item ?? '')
  const of: Looked = { item: ahead?.item ?? house.stock.item(it.id)!, ahead }
  const inside = scope.within ?? new Set(house.places.rows.keys())
  const at = scope.name
  if (figure === 'on-hand') return viewOf(house, `On hand, ${at}`, it.unit, await onHandIn(house, of, inside))
  if (figure === 'bring')
    return viewOf(
      house,
      `To bring, ${at}`,
      it.unit,
      levelWorking(
        house.stock.here(of.item, scope, house.today()),
        house.stock.outlook(scope, house.today()).rule,
        'bring',
      ),
      'From what is available and coming up to the target, where that has fallen to the minimum.',
    )
  if (figure === 'days') return daysWorking(house, of, it.unit, scope, inside)
  if (figure === 'first-expiry') return expiryWorking(house, of, it.unit, scope)
  if (figure === 'available' || figure === 'state') return availableWorking(house, of, it.unit, scope, figure)
  if (!see.here) throw new Refused(403, 'not_allowed', 'You may not see values.')
  // What an item is worth in all, and the deliveries behind it, is for whoever may look everywhere.
  if (figure === 'value-here' || !see.everywhere) {
    const parts = partsOfFigure(of.item, house.stock.outlook(scope, house.today()), 'worth')
    const ofLot = (p: Part) => {
      const code = lotCode(house, of, p)
      return code ? `, lot ${code}` : ''
    }
    const cost = of.item
    const view = viewOf(
      house,
      `Value, ${at}`,
      house.organisation!.currency,
      workOut(
        'value',
        parts.map(p => ({
          label: 'lies',
          amount: p.amount,
          note: `${formatDecimal(p.leaf!.quantity)} ${it.unit} in ${house.places.name(p.placeId)}${ofLot(p)}`,
        })),
      ),
      see.everywhere
        ? `shares of ${formatDecimal(cost.value)} for ${formatDecimal(cost.quantity)} ${it.unit} in all`
        : '',
    )
    return figure === 'unit-cost'
      ? perUnit(
          view,
          it.unit,
          parts.reduce((s, p) => s + p.leaf!.quantity, 0n),
        )
      : view
  }
  const stock = (a: number) => house.places.row(a) !== undefined || a === house.accounts.stock
  const working = poolValue(await movementsOf(house, of), stock)
  if (figure === 'value') return viewOf(house, 'Value of all that is there', house.organisation!.currency, working)
  return perUnit(viewOf(house, 'Cost of one', house.organisation!.currency, working), it.unit, of.item.quantity)
}

/** The working of a value as that of what one costs: divided by how much there is. */
function perUnit(view: WorkingView, unit: string, quantity: bigint): WorkingView {
  const one = quantity > 0n ? atCost(ONE, { value: decimal(view.figure), quantity }) : 0n
  return {
    ...view,
    title: 'Cost of one',
    note: `${view.figure} ÷ ${formatDecimal(quantity)} ${unit} = ${formatDecimal(one)} ${forOne(unit)}`,
  }
}

/** What is looked at: an item as it stands, or as a slip would leave it. */
interface Looked {
  readonly item: StockItem
  readonly ahead: Ahead | undefined
}
/** Every movement of an item in the order of costing, with those that the slip would write. */
async function movementsOf(house: House, { item, ahead }: Looked, since = 0): Promise<Movement[]> {
  const more = ahead?.movements.filter(m => m.itemId === item.id && m.effectiveAt >= since) ?? []
  return [...(await movementsOfItem(house, item.id, since)), ...more]
}
/** In the order in which they happened. */
const asHappened = (movements: Movement[]): Movement[] =>
  movements.sort((a, b) => a.effectiveAt - b.effectiveAt || a.seq - b.seq)

async function onHandIn(house: House, of: Looked, inside: ReadonlySet<number>): Promise<Working> {
  const rows = asHappened(await movementsOf(house, of))
  // A whole area is looked at as if it were one place.
  const AREA = 0
  return onHand(
    rows
      .map(m => ({ ...m, from: inside.has(m.from) ? AREA : m.from, to: inside.has(m.to) ? AREA : m.to }))
      .filter(m => m.from !== m.to),
    AREA,
  )
}

function availableWorking(house: House, of: Looked, unit: string, scope: Scope, figure: string): WorkingView {
  const at = scope.name
  const today = house.today()
  const { item } = of
  const here = house.stock.here(item, scope, today)
  const { minimum: min, target } = here
  const working = workOut('quantity', [
    { label: 'on_hand', amount: here.onHand },
    ...partsOfFigure(item, house.stock.outlook(scope, today), 'reserved').map(p => ({
      label: 'reserved',
      amount: -p.amount,
      note: `for ${jobOf(house, item, p)}, in ${house.places.name(p.placeId)}`,
    })),
    ...partsOfFigure(item, house.stock.outlook(scope, today), 'unusable').map(p => ({
      label: p.state!,
      amount: -p.amount,
      note: `${lotCode(house, of, p) ?? ''} in ${house.places.name(p.placeId)}`,
    })),
  ])
  const days = here.levels.days === null ? '' : ` ${howLong(house, item, scope)}`
  const short = house.organisation!.shortRule === 'below' ? 'below' : 'at or below'
  const upTo = target === null ? '' : `, target ${formatDecimal(target)}`
  const rule =
    min === null ? 'No minimum is set here.' : `Minimum ${formatDecimal(min)}${upTo}: ${short} the minimum is short.`
  return viewOf(
    house,
    figure === 'state' ? `Available and state, ${at}` : `Available, ${at}`,
    unit,
    working,
    `${rule}${days}`,
  )
}

/** The job that a part of a figure is for, by its code. */
function jobOf(house: House, item: StockItem, { needId }: Pick<Part, 'needId'>): string {
  const need = item.demand.needs.find(n => n.needId === needId)
  return need ? house.rows.jobById.get({ id: need.jobId })!.code : 'a job'
}
/** For how many whole days it lasts at the use of the last weeks, whatever is planned. */
const lastsByUse = ({ used, levels: { available } }: Position): number | null => {
  const each = perDay(used, USE_DAYS)
  return each > 0n ? Number(max(available, 0n) / each) : null
}
/** For how long it lasts, and by what: the use of the last weeks, or a job that will take more than there is then. */
function howLong(house: House, item: StockItem, scope: Scope): string {
  const today = house.today()
  const here = house.stock.here(item, scope, today)
  const { days } = here.levels
  const for_ = `${days} day${days === 1 ? '' : 's'}`
  if (lastsByUse(here) === days) return `At the use of the last four weeks it lasts ${for_}.`
  const planned = partsOfFigure(item, { ...house.stock.outlook(scope, today), ahead: Infinity }, 'planned')
  const jobs = [...new Set(planned.map(p => jobOf(house, item, p)))].join(', ')
  return `It lasts ${for_}: ${jobs} will take more than there is then.`
}

/** How long it lasts: what was taken in the last weeks, slip by slip, and what is available. */
async function daysWorking(
  house: House,
  of: Looked,
  unit: string,
  scope: Scope,
  inside: ReadonlySet<number>,
): Promise<WorkingView> {
  const at = scope.name
  const since = house.now() - USE_DAYS * 86_400_000
  const kept = new Set(
    house.db
      .select({ id: account.id })
      .from(account)
      .where(eq(account.kind, 'used'))
      .all()
      .map(a => a.id),
  )
  const kindOf = (a: number): AccountKind | undefined =>
    kept.has(a) || of.ahead?.isUsed(a) === true ? 'used' : a === house.accounts.made ? 'made' : undefined
  const moved = asHappened(await movementsOf(house, of, since)).filter(m => m.quantity > 0n)
  const working = workOut(
    'quantity',
    moved.flatMap(m => {
      const amount =
        (isUse(m.kind, kindOf(m.to)) && inside.has(m.from) ? m.quantity : 0n) -
        (isUse(m.kind, kindOf(m.from)) && inside.has(m.to) ? m.quantity : 0n)
      return amount === 0n
        ? []
        : [
            {
              label: m.reverses === null ? m.kind : 'taken_back',
              amount,
              at: m.effectiveAt,
              ref: { kind: 'slip' as const, id: m.slipId },
            },
          ]
    }),
  )
  const here = house.stock.here(of.item, scope, house.today())
  const { days, available } = here.levels
  return viewOf(
    house,
    `Used in ${USE_DAYS} days, ${at}`,
    unit,
    working,
    days === null
      ? 'Nothing was used, so nothing can be said of how long it lasts.'
      : days === lastsByUse(here)
        ? `${formatDecimal(available)} ${unit} available ÷ (${formatDecimal(working.figure)} ÷ ${USE_DAYS}) a day` +
          ` = ${days} whole days.`
        : howLong(house, of.item, scope),
  )
}

/** Which lots lie there that may be used, the first to expire first. */
function expiryWorking(house: House, of: Looked, unit: string, scope: Scope): WorkingView {
  const today = house.today()
  const view = house.stock.outlook(scope, today)
  const lots = partsOfFigure(of.item, view, 'on_hand')
    .filter(p => leafState(p.leaf!, view) === 'usable')
    .sort((a, b) => ((a.leaf!.expiry ?? '9') < (b.leaf!.expiry ?? '9') ? -1 : 1))
  return viewOf(
    house,
    `Usable lots by expiry, ${scope.name}`,
    unit,
    workOut(
      'quantity',
      lots.map(p => {
        const expiry = p.leaf!.expiry === null ? 'without expiry' : `use by ${p.leaf!.expiry}`
        const note = `lot ${lotCode(house, of, p) ?? '–'}, ${expiry}, in ${house.places.name(p.placeId)}`
        return { label: 'lies', amount: p.amount, note }
      }),
    ),
  )
}

/** The code of the lot that a part of a figure is about. */
const lotCode = (house: House, { ahead }: Looked, part: Part): string | null | undefined =>
  part.leaf &&
  (house.rows.lotById.get({ id: part.leaf.lotId })?.code ?? (ahead ? ahead.lotCode(part.leaf.lotId) : null))

function slipValueWorking(house: House, uid: string | undefined): WorkingView {
  const s = uid === undefined ? undefined : house.rows.slip.get({ uid })
  if (!s?.number) throw notFound('slip')
  return viewOf(
    house,
    `Change of stock by ${s.number}`,
    house.organisation!.currency,
    slipValue(house, house.rows.movementsOf.all({ slip: s.id })),
  )
}

/** What lies in a place is worth, by category. */
function stockValueWorking(house: House, scope: Scope): WorkingView {
  const today = house.today()
  const sums = new Map<string, { value: bigint; items: number }>()
  for (const it of house.stock.all().values()) {
    const { worth: value } = house.stock.here(it, scope, today)
    if (value === 0n) continue
    const name = it.category ?? 'without a category'
    const own = sums.get(name) ?? { value: 0n, items: 0 }
    sums.set(name, { value: own.value + value, items: own.items + 1 })
  }
  return viewOf(
    house,
    `Value, ${scope.name}`,
    house.organisation!.currency,
    workOut(
      'value',
      [...sums]
        .sort(([a], [b]) => (a < b ? -1 : 1))
        .map(([name, s]) => ({
          label: 'lies',
          amount: s.value,
          note: `${name}, ${s.items} item${s.items === 1 ? '' : 's'}`,
        })),
    ),
  )
}
