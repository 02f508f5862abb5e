import type { EffectWorkingInput, SlipContent, WorkingView } from '@shelve/contract'
import { difference } from '@shelve/core'
import { notFound, Refused } from '../ground/index.ts'
import { lineValue, slipValue, SqlBooks } from '../ledger/index.ts'
import { sightOf, viewOf, workingOf } from '../position/index.ts'
import { type Caller, isIn, reach, seesValue } from '../rights/index.ts'
import { attempt, type Tried } from './attempt.ts'
import { scopeOfEffect, touchedBy } from './book.ts'
import { subjectsOf } from './effect.ts'
import type { House } from './house.ts'

/**
 * The working of a figure in *before → after*: the figure's own function is asked for its lines, of the item as it stands
 * or as the slip would leave it. Nothing is written. Lines of the slip itself say so.
 */
export async function effectWorking(
  house: House,
  caller: Caller,
  uid: string,
  { content, line, figure, side, from }: EffectWorkingInput,
): Promise<WorkingView> {
  const tried = attempt(house, caller, uid, content, new SqlBooks(house, house.trials.memory()))
  const { books, booked } = tried
  if (figure === 'value') return valueWorking(house, caller, content, tried, line)
  const about =
    line === null
      ? undefined
      : subjectsOf({ house, content, tried: tried.resolved, lineIds: tried.lineIds, books }).get(line)
  const areaId = from ? about?.fromId : about?.areaId
  if (!about || areaId === undefined || (areaId !== null && !isIn(reach(house, caller), areaId))) throw notFound('line')
  if (figure === 'expected' || figure === 'difference') return countWorking(house, tried, line!, about.itemId, figure)
  const scope = house.places.scope(areaId === null ? undefined : [areaId])
  const item = house.stock.item(about.itemId)!
  const ahead =
    side === 'after' && booked
      ? {
          item: house.stock.after(item, booked, books),
          movements: booked.movements,
          lotCode: (lot: number) => books.lotTold(lot).code,
          isUsed: (account: number) => books.accountKind(account) === 'used',
        }
      : undefined
  return workingOf(house, sightOf(house, caller, scope), scope, figure, { item: item.uid }, ahead)
}

/** What the slip, or one line of it, changes in the value of stock. */
function valueWorking(
  house: House,
  caller: Caller,
  content: SlipContent,
  tried: Tried,
  line: string | null,
): WorkingView {
  if (!seesValue(house, caller, scopeOfEffect(house, content, touchedBy(tried))))
    throw new Refused(403, 'not_allowed', 'You may not see values.')
  const id = line === null ? undefined : String(tried.lineIds.get(line))
  const movements = tried.booked?.movements.filter(m => id === undefined || m.lineId === id) ?? []
  return viewOf(
    house,
    line === null ? 'Change of stock by this slip' : 'What this line changes, and what passes beside stock',
    house.organisation!.currency,
    line === null ? slipValue(house, movements) : lineValue(house, movements),
  )
}

/** A difference before it is booked, or what was expected at its minute. Hidden as long as a blind count hides it. */
function countWorking(
  house: House,
  tried: Tried,
  line: string,
  itemId: number,
  figure: 'expected' | 'difference',
): WorkingView {
  const id = String(tried.lineIds.get(line))
  const known = tried.resolved.expected.get(id)
  const awaited = tried.resolved.awaited.get(id)
  if (awaited && figure === 'expected')
    return viewOf(house, 'Expected now', house.known.itemById(itemId)!.unit, awaited.working)
  if (!known) throw new Refused(403, 'not_shown', 'In a blind count this is hidden until what was counted stands.')
  const { unit } = house.known.itemById(itemId)!
  return figure === 'expected'
    ? viewOf(house, 'Expected at that minute', unit, known.working)
    : viewOf(house, 'Difference', unit, difference(known))
}
