import { difference } from '@shelve/core'
import type { EffectWorkingInput, WorkingView } from '@shelve/contract'
import { Refused, type App } from '../app.ts'
import { seesValue, type Caller } from '../people/rights.ts'
import { notFound } from '../catalogue/service.ts'
import { viewOf, workingOf } from '../reports/history.ts'
import { attempt, onTrial, scopeAt, write, type Tried } from './book.ts'
import { subject } from './effect.ts'
import { slipValue } from './views.ts'

/**
 * The working of a figure in *before → after*: the slip is booked on trial, the figure's own function is asked for its
 * lines, and the trial is taken back. Lines of the slip itself say so.
 */
export function effectWorking(
  app: App,
  caller: Caller,
  uid: string,
  { content, line, figure, side }: EffectWorkingInput,
): WorkingView {
  const seeValue = seesValue(app, caller, content.place === null ? app.places.scope() : scopeAt(app, content.place))
  let touched: number | undefined
  try {
    return onTrial(app, content, () => {
      const tried = attempt(app, caller, uid, content)
      const books = tried.books
      const about =
        line === null
          ? undefined
          : content.lines.some(l => l.id === line)
            ? subject({ app, content, tried: tried.resolved, lineIds: tried.lineIds, books }, line)
            : undefined
      if (figure === 'value') return valueWorking(app, seeValue, tried, line)
      if (!about) throw notFound('line')
      touched = about.itemId
      if (figure === 'expected' || figure === 'difference') return countWorking(app, tried, line!, about.itemId, figure)
      if (side === 'after' && tried.booked) write(app, { ...tried, booked: tried.booked }, content)
      app.stock.touch(about.itemId)
      return workingOf(app, seeValue, app.places.scope(about.areaId === null ? undefined : [about.areaId]), figure, {
        item: app.known.itemById(about.itemId)!.uid,
      })
    })
  } finally {
    // What was looked at inside the trial must not outlive it.
    if (touched !== undefined) app.stock.touch(touched)
  }
}

/** What the slip, or one line of it, changes in the value of stock. */
function valueWorking(app: App, seeValue: boolean, tried: Tried, line: string | null): WorkingView {
  if (!seeValue) throw new Refused(403, 'not_allowed', 'You may not see values.')
  const id = line === null ? undefined : String(tried.lineIds.get(line))
  const movements = tried.booked?.movements.filter(m => id === undefined || m.lineId === id) ?? []
  return viewOf(
    app,
    line === null ? 'Change of stock by this slip' : 'Change of stock by this line',
    app.organisation!.currency,
    slipValue(app, movements),
  )
}

/** A difference before it is booked, or what was expected at its minute. Hidden as long as a blind count hides it. */
function countWorking(
  app: App,
  tried: Tried,
  line: string,
  itemId: number,
  figure: 'expected' | 'difference',
): WorkingView {
  const known = tried.resolved.expected.get(String(tried.lineIds.get(line)))
  if (!known) throw new Refused(403, 'not_shown', 'In a blind count this is hidden until what was counted stands.')
  const { unit } = app.known.itemById(itemId)!
  return figure === 'expected'
    ? viewOf(app, 'Expected at that minute', unit, known.working)
    : viewOf(app, 'Difference', unit, difference(known))
}
