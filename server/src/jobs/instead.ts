import type { JobLineView, TakingInstead } from '@shelve/contract'
import { formatDecimal, max, plainly, type Quantity, standsFor } from '@shelve/core'
import { named } from '../catalogue/index.ts'
import type { ItemRow } from '../catalogue/index.ts'
import { notFound, Refused } from '../ground/index.ts'
import { typedOf } from '../papers/index.ts'
import { type Caller, reach } from '../rights/index.ts'
import type { House } from './house.ts'
import { look, type Looked, met, scopeOfJob } from './looked.ts'
import { type NeedLine, type NeedRow, type Planned, wantOpen } from './rows.ts'
import { contentAt } from './templates.ts'
import { lineOf, saveJob } from './writing.ts'

/** What may be taken in the place of an item: `by` of it stands for `of` of that, both as the template says. */
interface Option {
  readonly it: ItemRow
  readonly typed: string
  readonly by: Quantity
  readonly of: Quantity
}
function optionsFor(house: House, { plan }: Planned, itemId: number): Option[] {
  if (plan.templateId === null) return []
  const own = house.known.itemById(itemId)!
  return contentAt(house, plan.templateId, plan.templateVersion!)
    .lines.filter(l => l.item === own.uid)
    .flatMap(l => {
      const of = typedOf(house, own, { typed: l.typed.trim() ? l.typed : l.fixed, unit: l.unit }).quantity
      return l.instead.flatMap(o => {
        const it = house.known.item(o.item)!
        const by = typedOf(house, it, o).quantity
        const typed = /\d$/.test(o.typed) ? `${o.typed} ${o.unit ?? it.unit}` : o.typed
        return of > 0n && by > 0n ? [{ it, typed, by, of }] : []
      })
    })
}

/** How much a need still takes; and of that, what is not here. */
function lackOf(of: Looked, n: NeedLine): { readonly left: Quantity; readonly short: Quantity } {
  const left = max(n.quantity - of.used(n) - of.lies(n), 0n)
  const m = met(of, of.house.stock.item(n.itemId)!).get(n.id)
  return { left, short: max(left - (m ? m.held + m.here : 0n), 0n) }
}

/** What may be taken in the place of a need: how much of it stands for what is not here (or, where all is, for what is left). */
export function insteadOf(of: Looked, n: NeedLine): JobLineView['instead'] {
  const { house } = of
  const { left, short } = lackOf(of, n)
  return optionsFor(house, of.planned, n.itemId).map(o => {
    const here = house.stock.here(house.stock.item(o.it.id)!, scopeOfJob(of), house.today()).levels.available
    return {
      item: named(o.it),
      typed: o.typed,
      stands: formatDecimal(standsFor(short || left, o, o.it.decimals)),
      here: formatDecimal(max(here, 0n)),
    }
  })
}

const refused = (code: string, field: string, message: string): never => {
  throw new Refused(409, code, message, [{ line: null, field, code, message }])
}

/**
 * Something else is taken for a need, as the job's template allows: the need takes so much less, and the other item so much
 * more, in the relation of their amounts. From then on it is a need like any other. Gives the items that this is about.
 */
export function takeInstead(house: House, caller: Caller, uid: string, asked: TakingInstead): number[] {
  const planned = wantOpen(house, caller, uid)
  const seen = reach(house, caller)
  const of = look(house, seen, planned)
  const n = of.rows.find(x => x.uid === asked.need)
  if (!n) throw notFound('line')
  const own = house.known.itemById(n.itemId)!
  const option = optionsFor(house, planned, n.itemId).find(o => o.it.uid === asked.item)
  if (!option)
    return refused(
      'not_instead',
      'item',
      `Nothing says that this may be taken instead of ${own.name}. Write it on the job as a need of its own.`,
    )
  if (!option.it.active)
    return refused('item_retired', 'item', `${option.it.name} is retired. Take it into use again first.`)
  const { left, short } = lackOf(of, n)
  if (left <= 0n) return refused('nothing_left', 'typed', `All that it takes of ${own.name} is taken already.`)
  const quantity = asked.typed.trim() ? readAsked(house, own, asked, left) : short || left
  const other = of.rows.find(x => x.itemId === option.it.id)
  const more = standsFor(quantity, option, option.it.decimals)
  const instead = `instead of ${formatDecimal(quantity)} ${own.unit} ${own.name}`
  const before = other ? lineOf(house, other, seen) : { optional: n.optional, from: null, note: '' }
  const note = [before.note, instead].filter(Boolean).join('; ').slice(0, 200)
  const { items } = saveJob(
    house,
    caller,
    uid,
    {
      lines: [
        {
          id: n.uid,
          seen: n.revision,
          position: n.position,
          line: { ...lineOf(house, n, seen), typed: plainly(n.quantity - quantity), unit: null },
        },
        {
          id: other?.uid ?? house.uid(),
          seen: other?.revision ?? 0,
          position: other?.position ?? between(of.rows, n.position),
          line: {
            ...before,
            item: option.it.uid,
            typed: plainly((other?.quantity ?? 0n) + more),
            unit: null,
            note,
          },
        },
      ],
    },
    undefined,
  )
  return items
}

function readAsked(house: House, own: ItemRow, asked: TakingInstead, left: Quantity): Quantity {
  const read = typedOf(house, own, asked)
  if (read.unread !== null) return refused('quantity_unread', 'typed', read.unread)
  if (read.quantity <= 0n) return refused('quantity_unread', 'typed', 'How much of it? Type a number above zero.')
  if (read.quantity > left)
    return refused('more_than_left', 'typed', `It takes only ${formatDecimal(left)} ${own.unit} more of ${own.name}.`)
  return read.quantity
}

/** Right behind a line, before the next. */
function between(rows: readonly NeedRow[], position: number): number {
  const next = rows
    .map(r => r.position)
    .filter(p => p > position)
    .sort((a, b) => a - b)[0]
  return next === undefined ? position + 1 : Math.floor((position + next) / 2)
}
