import { and, desc, eq, gte, inArray, or, sql } from 'drizzle-orm'
import {
  atCost,
  deltaIn,
  difference,
  formatDecimal,
  onHand,
  ONE,
  poolValue,
  workOut,
  type Movement,
  type Working,
} from '@shelve/core'
import type { MovementRow, WorkingView } from '@shelve/contract'
import { account, lot, movement, person, slip } from '../db/schema.ts'
import { iso, Refused, type App } from '../app.ts'
import { readCursor, writeCursor } from '../catalogue/queries.ts'
import { notFound, wantItem } from '../catalogue/service.ts'
import { toMovement } from '../ledger/books.ts'
import { movementColumns } from '../ledger/statements.ts'
import { accountName, slipValue } from '../ledger/views.ts'
import { isIn, type Scope } from '../places/tree.ts'
import { leafState, USE_DAYS } from './stock.ts'

/** What happened to an item, latest first by when it happened, each with what remained (in a place, or everywhere). */
export function itemHistory(
  app: App,
  seeValue: boolean,
  at: Scope,
  uid: string,
  q: { cursor?: string; limit?: number },
) {
  const it = wantItem(app, uid)
  const limit = q.limit ?? 30
  const scope = at.within && [...at.within]
  const inside = at.within ?? new Set(app.places.rows.keys())
  const cursor = readCursor(q.cursor)
  const rows = app.db
    .select({
      m: movementColumns,
      slip: slip.uid,
      number: slip.number,
      slipKind: slip.kind,
      taker: slip.taker,
      by: person.name,
      lot: lot.code,
      takenBack:
        sql<number>`exists (select 1 from movement r where r.reverses = ${movement.seq} and r.cost_seq = ${movement.costSeq})`.mapWith(
          Number,
        ),
    })
    .from(movement)
    .innerJoin(slip, eq(slip.id, movement.slipId))
    .innerJoin(person, eq(person.id, movement.bookedBy))
    .innerJoin(lot, eq(lot.id, movement.lotId))
    .where(
      and(
        eq(movement.itemId, it.id),
        sql`${movement.quantity} > 0`,
        scope ? or(inArray(movement.fromId, scope), inArray(movement.toId, scope)) : undefined,
        cursor ? sql`(${movement.effectiveAt}, ${movement.seq}) < (${cursor[0]}, ${cursor[1]})` : undefined,
      ),
    )
    .orderBy(desc(movement.effectiveAt), desc(movement.seq))
    .limit(limit + 1)
    .all()
  const change = (m: Movement) => (inside.has(m.to) ? m.quantity : 0n) - (inside.has(m.from) ? m.quantity : 0n)
  let left =
    cursor && typeof cursor[2] === 'string'
      ? BigInt(cursor[2])
      : app.stock
          .item(it.id)!
          .leaves.filter(l => inside.has(l.placeId))
          .reduce((s, l) => s + l.quantity, 0n)
  const out: MovementRow[] = []
  for (const r of rows.slice(0, limit)) {
    const m = toMovement({ ...r.m })
    const delta = change(m)
    out.push({
      seq: m.seq,
      at: iso(m.effectiveAt),
      kind: m.reverses === null ? m.kind : 'taken_back',
      slip: { id: r.slip, number: r.number!, kind: r.slipKind },
      from: accountName(app, m.from),
      to: accountName(app, m.to),
      lot: r.lot,
      change: formatDecimal(delta),
      balance: formatDecimal(left),
      by: r.by,
      taker: r.taker,
      takenBack: r.takenBack === 1,
      ...(seeValue ? { value: formatDecimal(m.value) } : {}),
    })
    left -= delta
  }
  const last = rows[limit - 1]
  return {
    rows: out,
    next: rows.length > limit && last ? writeCursor([last.m.effectiveAt, last.m.seq, left.toString()]) : null,
    total: null,
  }
}

/** The lines behind a figure, from the function that makes the figure. */
export function workingOf(
  app: App,
  seeValue: boolean,
  scope: Scope,
  figure: string,
  q: { item?: string; lot?: string; difference?: string; slip?: string },
): WorkingView {
  if (figure === 'difference') return differenceWorking(app, scope, q.difference)
  if (figure === 'stock-value' || figure === 'slip-value') {
    if (!seeValue) throw new Refused(403, 'not_allowed', 'You may not see values.')
    return figure === 'slip-value' ? slipValueWorking(app, q.slip) : stockValueWorking(app, scope)
  }
  const it = wantItem(app, q.item ?? '')
  const inside = scope.within ?? new Set(app.places.rows.keys())
  const at = scope.name
  if (figure === 'on-hand') return viewOf(app, `On hand, ${at}`, it.unit, onHandIn(app, it.id, inside))
  if (figure === 'bring')
    return viewOf(
      app,
      `To bring, ${at}`,
      it.unit,
      app.stock.here(app.stock.item(it.id)!, scope, app.today()).levels.bring,
      'From what is available and coming up to the target, where that has fallen to the minimum.',
    )
  if (figure === 'days') return daysWorking(app, it, scope, inside)
  if (figure === 'first-expiry') return expiryWorking(app, it, inside, at)
  if (figure === 'available' || figure === 'state') return availableWorking(app, it, scope, inside, figure)
  if (!seeValue) throw new Refused(403, 'not_allowed', 'You may not see values.')
  if (figure === 'value-here') {
    const leaves = app.stock.item(it.id)!.leaves.filter(l => inside.has(l.placeId))
    const cost = app.stock.item(it.id)!
    return viewOf(
      app,
      `Value, ${at}`,
      app.organisation!.currency,
      workOut(
        'value',
        leaves.map(l => ({
          label: 'lies',
          amount: l.value,
          note: `${formatDecimal(l.quantity)} ${it.unit} in ${app.places.name(l.placeId)}${app.ids.lotById.get({ id: l.lotId })?.code ? `, lot ${app.ids.lotById.get({ id: l.lotId })!.code}` : ''}`,
        })),
      ),
      `shares of ${formatDecimal(cost.value)} for ${formatDecimal(cost.quantity)} ${it.unit} in all`,
    )
  }
  const stock = (a: number) => app.places.row(a) !== undefined || a === app.accounts.stock
  const movements = app.db
    .select(movementColumns)
    .from(movement)
    .where(eq(movement.itemId, it.id))
    .orderBy(movement.seq)
    .all()
    .map(toMovement)
  const working = poolValue(movements, stock)
  if (figure === 'value') return viewOf(app, 'Value of all that is there', app.organisation!.currency, working)
  const quantity = app.stock.item(it.id)!.quantity
  const unit = quantity > 0n ? atCost(ONE, { value: working.figure, quantity }) : 0n
  return {
    ...viewOf(app, 'Cost of one', app.organisation!.currency, working),
    note: `${formatDecimal(working.figure)} ÷ ${formatDecimal(quantity)} ${it.unit} = ${formatDecimal(unit)} a ${it.unit}`,
  }
}

function onHandIn(app: App, itemId: number, inside: ReadonlySet<number>): Working {
  const rows = app.db
    .select(movementColumns)
    .from(movement)
    .where(eq(movement.itemId, itemId))
    .orderBy(movement.effectiveAt, movement.seq)
    .all()
    .map(toMovement)
  // A whole area is looked at as if it were one place.
  const AREA = -1
  return onHand(
    rows
      .map(m => ({ ...m, from: inside.has(m.from) ? AREA : m.from, to: inside.has(m.to) ? AREA : m.to }))
      .filter(m => m.from !== m.to),
    AREA,
  )
}

function availableWorking(
  app: App,
  it: { id: number; unit: string },
  scope: Scope,
  inside: ReadonlySet<number>,
  figure: string,
): WorkingView {
  const at = scope.name
  const today = app.today()
  const item = app.stock.item(it.id)!
  const here = app.stock.here(item, scope, today)
  const locked = item.leaves.filter(
    l => inside.has(l.placeId) && leafState(l, today, app.places.row(l.placeId)?.kind) !== 'usable',
  )
  const working = workOut('quantity', [
    { label: 'on_hand', amount: here.onHand },
    ...locked.map(l => ({
      label: leafState(l, today, app.places.row(l.placeId)?.kind),
      amount: -l.quantity,
      note: `${app.ids.lotById.get({ id: l.lotId })?.code ?? ''} in ${app.places.name(l.placeId)}`,
    })),
  ])
  const sum = (kind: 'minimum' | 'target') =>
    item.levels
      .filter(l => inside.has(l.placeId))
      .reduce<bigint | null>((s, l) => (l[kind] === null ? s : (s ?? 0n) + l[kind]), null)
  const [min, target] = [sum('minimum'), sum('target')]
  const days = here.levels.days === null ? '' : ` At the use of the last four weeks it lasts ${here.levels.days} days.`
  const rule =
    min === null
      ? 'No minimum is set here.'
      : `Minimum ${formatDecimal(min)}${target === null ? '' : `, target ${formatDecimal(target)}`}: ${app.organisation!.shortRule === 'below' ? 'below' : 'at or below'} the minimum is short.`
  return viewOf(
    app,
    figure === 'state' ? `Available and state, ${at}` : `Available, ${at}`,
    it.unit,
    working,
    `${rule}${days}`,
  )
}

/** How long it lasts: what was taken in the last weeks, slip by slip, and what is available. */
function daysWorking(
  app: App,
  it: { id: number; unit: string },
  scope: Scope,
  inside: ReadonlySet<number>,
): WorkingView {
  const at = scope.name
  const since = app.now() - USE_DAYS * 86_400_000
  const used = new Set(
    app.db
      .select({ id: account.id })
      .from(account)
      .where(eq(account.kind, 'used'))
      .all()
      .map(a => a.id),
  )
  const moved = app.db
    .select(movementColumns)
    .from(movement)
    .where(and(eq(movement.itemId, it.id), gte(movement.effectiveAt, since), sql`${movement.quantity} > 0`))
    .orderBy(movement.effectiveAt, movement.seq)
    .all()
    .map(toMovement)
  const working = workOut(
    'quantity',
    moved.flatMap(m => {
      const amount =
        (used.has(m.to) && inside.has(m.from) ? m.quantity : 0n) -
        (used.has(m.from) && inside.has(m.to) ? m.quantity : 0n)
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
  const here = app.stock.here(app.stock.item(it.id)!, scope, app.today())
  const days = here.levels.days
  return viewOf(
    app,
    `Used in ${USE_DAYS} days, ${at}`,
    it.unit,
    working,
    days === null
      ? 'Nothing was used, so nothing can be said of how long it lasts.'
      : `${formatDecimal(here.levels.available.figure)} ${it.unit} available ÷ (${formatDecimal(working.figure)} ÷ ${USE_DAYS}) a day = ${days} whole days.`,
  )
}

/** Which lots lie there that may be used, the first to expire first. */
function expiryWorking(
  app: App,
  it: { id: number; unit: string },
  inside: ReadonlySet<number>,
  at: string,
): WorkingView {
  const today = app.today()
  const leaves = app.stock
    .item(it.id)!
    .leaves.filter(l => inside.has(l.placeId) && leafState(l, today, app.places.row(l.placeId)?.kind) === 'usable')
    .sort((a, b) => ((a.expiry ?? '9') < (b.expiry ?? '9') ? -1 : 1))
  return viewOf(
    app,
    `Usable lots by expiry, ${at}`,
    it.unit,
    workOut(
      'quantity',
      leaves.map(l => ({
        label: 'lies',
        amount: l.quantity,
        note: `lot ${app.ids.lotById.get({ id: l.lotId })?.code ?? '–'}, ${l.expiry === null ? 'without expiry' : `use by ${l.expiry}`}, in ${app.places.name(l.placeId)}`,
      })),
    ),
  )
}

function slipValueWorking(app: App, uid: string | undefined): WorkingView {
  const s = uid === undefined ? undefined : app.ids.slip.get({ uid })
  if (!s?.number) throw notFound('slip')
  return viewOf(
    app,
    `Change of stock by ${s.number}`,
    app.organisation!.currency,
    slipValue(app, app.paper.movementsOf.all({ slip: s.id })),
  )
}

/** What lies in a place is worth, by category. */
function stockValueWorking(app: App, scope: Scope): WorkingView {
  const today = app.today()
  const sums = new Map<string, { value: bigint; items: number }>()
  for (const it of app.stock.all().values()) {
    const { value } = app.stock.here(it, scope, today)
    if (value === 0n) continue
    const name = it.category ?? 'without a category'
    const own = sums.get(name) ?? { value: 0n, items: 0 }
    sums.set(name, { value: own.value + value, items: own.items + 1 })
  }
  return viewOf(
    app,
    `Value, ${scope.name}`,
    app.organisation!.currency,
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

/** A difference: what was counted, what was expected at that minute, and what was done about it since. */
function differenceWorking(app: App, scope: Scope, uid: string | undefined): WorkingView {
  const t = uid === undefined ? undefined : app.ids.tally.get({ uid })
  if (!t || !isIn(scope, t.placeId)) throw notFound('difference')
  const it = app.known.itemById(t.itemId)!
  const moved = app.db
    .select(movementColumns)
    .from(movement)
    .where(and(eq(movement.tallyId, t.id), sql`${movement.quantity} > 0`))
    .orderBy(movement.seq)
    .all()
    .map(toMovement)
  const own = moved.filter(m => m.kind === 'difference' && m.ord === 0).reduce((s, m) => s + deltaIn(m, t.placeId), 0n)
  const later = moved.filter(m => m.kind !== 'difference' || m.ord !== 0)
  return viewOf(
    app,
    `Difference in ${app.places.name(t.placeId)}`,
    it.unit,
    workOut('quantity', [
      ...difference({ counted: t.counted, expected: t.counted - own, at: t.countedAt }).lines,
      ...later.map(m => ({
        label: m.kind === 'difference' ? 'late_slip' : m.reverses === null ? m.kind : 'taken_back',
        amount: (m.from === t.differenceAccount ? m.quantity : 0n) - (m.to === t.differenceAccount ? m.quantity : 0n),
        at: m.effectiveAt,
        ref: { kind: 'slip' as const, id: m.slipId },
      })),
    ]),
  )
}

export function viewOf(app: App, title: string, unit: string, w: Working, note = ''): WorkingView {
  return {
    title,
    of: w.of,
    unit,
    figure: formatDecimal(w.figure),
    note,
    lines: w.lines.map(l => {
      const s = l.ref?.kind === 'slip' ? app.ids.slipById.get({ id: Number(l.ref.id) }) : undefined
      return {
        label: l.label,
        amount: formatDecimal(l.amount),
        at: l.at === undefined ? null : iso(l.at),
        slip: s?.number ? { id: s.uid, number: s.number } : null,
        note: l.note ?? (s && !s.number ? 'this slip' : ''),
      }
    }),
  }
}
