import type { TemplateNeed, TemplateNeeds } from '@shelve/contract'
import {
  atCost,
  couldMake,
  explode,
  formatDecimal,
  formatExact,
  max,
  ONE,
  type Quantity,
  readQuantity,
  type Formula,
} from '@shelve/core'
import { named } from '../catalogue/index.ts'
import type { ItemRow } from '../catalogue/index.ts'
import { notFound, Refused } from '../ground/index.ts'
import { quantityRefusal, wordRefusal } from '../papers/index.ts'
import { about, isIn, type Scope } from '../rights/index.ts'
import type { House } from './house.ts'
import { decimalsOf } from './planning.ts'
import { contentOf, formulaOf, formulas, templateOf } from './templates.ts'

/** What is made where a template only uses: runs of it, in whole. */
const RUN = 0

interface Asked {
  readonly wanted?: string | undefined
  readonly unit?: string | undefined
  readonly place?: string | undefined
}

/** How much is wanted, as it was typed; what the template's lines are for where nothing was. */
function wantedOf(house: House, formula: Formula, made: ItemRow | undefined, asked: Asked): Quantity {
  const typed = asked.wanted?.trim()
  if (!typed) return formula.base
  const measure = made ? house.known.measure(made) : { base: 'run', decimals: 0, packs: [] }
  const read = readQuantity(typed, measure, asked.unit)
  if (read.ok) return read.quantity
  const { code, message } = wordRefusal(
    house,
    quantityRefusal(read, typed, made?.unit ?? 'run'),
    () => made?.unit ?? 'run',
  )
  throw new Refused(422, code, message, [{ line: null, field: 'wanted', code, message }])
}

/**
 * What making so much by a template takes, through all its parts (rules 61, 62, 64), whether it is there, and what it costs:
 * the lines are the working of the sum.
 */
export function needsView(house: House, seen: Scope, uid: string, asked: Asked): TemplateNeeds {
  const row = templateOf(house, uid)
  if (!row) throw notFound('template')
  const placeId = asked.place === undefined ? undefined : house.places.id(asked.place)
  if (placeId !== undefined && !isIn(seen, placeId)) throw notFound('place')
  const scope = placeId === undefined ? seen : house.places.scope([placeId])
  const formula = formulaOf(house, contentOf(house, row))
  const output = row.outputId ?? RUN
  const made = row.outputId === null ? undefined : house.known.itemById(row.outputId)!
  const templates = formulas(house, formula)
  const all = new Map<number, Formula>([...templates, [output, { ...formula, output }]])
  const today = house.today()
  house.stock.want([...all.values()].flatMap(f => [f.output, ...f.lines.map(l => l.item)]).filter(i => i !== RUN))
  const at = (item: number, where: Scope) => house.stock.here(house.stock.item(item)!, where, today)
  const free = (item: number, where: Scope) => (item === RUN ? 0n : max(at(item, where).levels.available, 0n))
  const decimals = decimalsOf(house)
  const wanted = wantedOf(house, formula, made, asked)
  const here = (item: number) => free(item, scope)
  const { make, take, need } = explode(all, output, wanted, here, decimals)
  const could = couldMake(all, output, here, decimals)
  let cost: bigint | null = 0n
  let atLast: bigint | null = 0n
  const order = [...make.keys(), ...[...need.keys()].filter(i => !make.has(i))].filter(i => i !== output)
  const lines = order.map((item): TemplateNeed => {
    const it = house.known.itemById(item)!
    const taken = take.get(item) ?? 0n
    const one = at(item, scope).cost?.one ?? null
    const last = house.stock.item(item)!.lastPaid
    // Of what is made for it nothing is taken from the shelf: nobody need know what one costs.
    const worth = taken === 0n ? 0n : one === null ? null : atCost(taken, { value: one, quantity: ONE })
    if (taken > 0n) {
      cost = cost === null || worth === null ? null : cost + worth
      atLast = atLast === null || last === null ? null : atLast + atCost(taken, last)
    }
    const short = max(taken - here(item), 0n)
    const elsewhere = max(free(item, seen) - here(item), 0n)
    return about(scope, {
      item: named(it),
      need: formatDecimal(need.get(item)!.quantity),
      exact: formatExact(need.get(item)!.exact),
      made: templates.get(item)?.uid ?? null,
      make: formatDecimal(make.get(item) ?? 0n),
      here: formatDecimal(here(item)),
      elsewhere: formatDecimal(elsewhere),
      missing: formatDecimal(max(short - elsewhere, 0n)),
      cost: one === null ? null : formatDecimal(one),
      last: last === null ? null : formatDecimal(atCost(ONE, last)),
      worth: worth === null ? null : formatDecimal(worth),
    })
  })
  const out = make.get(output) ?? wanted
  const each = (sum: bigint | null) => (sum === null ? null : formatDecimal(atCost(ONE, { value: sum, quantity: out })))
  return about(scope, {
    wanted: formatDecimal(wanted),
    unit: made?.unit ?? 'run',
    lines,
    could: formatDecimal(could.quantity),
    short: [...could.short].map(([item, quantity]) => ({
      item: named(house.known.itemById(item)!),
      quantity: formatDecimal(quantity),
    })),
    cost: cost === null ? null : formatDecimal(cost),
    one: each(cost),
    atLast: atLast === null ? null : formatDecimal(atLast),
  })
}
