import type { SlipContent, SlipHead } from '@shelve/contract'
import type { Caller } from '../rights/index.ts'
import { besideItems } from './besides.ts'
import type { House } from './house.ts'
import { madeFor } from './made.ts'
import { isOpen, plannedByUid } from './rows.ts'
import { stateJob } from './states.ts'
import { liesWith } from './with-job.ts'

/**
 * Something was made for a job: what it makes, and it is done, or goes on where the slip says so; something else, and it is in
 * work. Whoever may book the make may say that, also where the job is planned elsewhere. Gives the items of which something
 * else is wanted now.
 */
export function makeBooked(house: House, caller: Caller, { kind, head, lines }: SlipContent): readonly number[] {
  const planned = kind === 'make' && head.job ? plannedByUid(house, head.job) : undefined
  if (!planned) return []
  const { outputId } = planned.plan
  const output = outputId === null ? undefined : house.known.itemById(outputId)?.uid
  const makesIt = lines.some(l => l.side === 'out' && l.item === output)
  // What was picked for it and not used is brought back before it is over.
  const over = makesIt && !head.goesOn && !liesWith(house, planned).length
  if (!over && !isOpen(planned.job)) return []
  // What comes beside is coming no more, whether the slip says that it came or not.
  const besides = besideItems(house, planned.plan)
  return [...stateJob(house, caller, planned, over ? 'done' : 'in_work').items, ...besides]
}

/** What was made for a job was taken back: it is to be made again. */
export function makeUndone(
  house: House,
  caller: Caller,
  slip: { readonly kind: string; readonly head: string },
): readonly number[] {
  const { job } = (JSON.parse(slip.head) as { readonly head?: Partial<SlipHead> }).head ?? {}
  const planned = slip.kind === 'make' && job ? plannedByUid(house, job) : undefined
  if (!planned || planned.job.state === 'dropped') return []
  const rest = madeFor(house, planned.job.id)
  const besides = besideItems(house, planned.plan)
  return [...stateJob(house, caller, planned, rest > 0n ? 'in_work' : 'planned').items, ...besides]
}
