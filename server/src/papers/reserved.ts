import type { SlipContent, SlipKind } from '@shelve/contract'
import { type Booked, formatDecimal, type Quantity, type Refusal, refuse } from '@shelve/core'
import type { SqlBooks } from '../ledger/index.ts'
import type { House } from './house.ts'
import { reservedOf } from './set-aside.ts'

/** Kinds of slip by which somebody decides to take something: of what was counted or put right nobody is asked. */
const TAKES: ReadonlySet<SlipKind> = new Set(['issue', 'make', 'move', 'waste', 'supplier_return'])

/** What a line of a slip takes of what is set aside for a job. */
export interface TakenFromJob {
  readonly lineId: string
  readonly itemId: number
  readonly jobId: number
  readonly quantity: Quantity
}

/** What a slip takes of what is set aside for jobs; what a job takes of its own is not among it. */
export function takenFromJobs(
  house: House,
  content: SlipContent,
  booked: Booked | undefined,
  books: SqlBooks,
): TakenFromJob[] {
  if (!booked || !TAKES.has(content.kind)) return []
  const lines = new Map<number, string>()
  for (const m of booked.movements)
    if (m.quantity > 0n && !lines.has(m.itemId) && house.places.row(m.from)) lines.set(m.itemId, m.lineId)
  const reserved = reservedOf(house, books, lines.keys())
  if (!reserved.size) return []
  const out: TakenFromJob[] = []
  const own = [content.head, ...content.head.among].flatMap(a =>
    a.job ? (house.rows.job.get({ uid: a.job })?.id ?? []) : [],
  )
  // As they stand at this moment: a slip that is booked beside this one may have taken some already.
  for (const it of house.stock.now([...reserved]).values()) {
    const after = new Map(house.stock.after(it, booked, books).held.map(h => [h.reservation.id, h]))
    const byJob = new Map<number, Quantity>()
    for (const h of it.held) {
      const then = after.get(h.reservation.id)
      const drawn = h.wanted - (then?.wanted ?? 0n)
      const lost = h.held - (then?.held ?? 0n) - (drawn > 0n ? drawn : 0n)
      const job = it.demand.needs.find(n => n.needId === h.reservation.needId)!.jobId
      if (lost > 0n) byJob.set(job, (byJob.get(job) ?? 0n) + lost)
    }
    // What a job wastes of its own is no news to it.
    for (const job of own) byJob.delete(job)
    for (const [jobId, quantity] of byJob) out.push({ lineId: lines.get(it.id)!, itemId: it.id, jobId, quantity })
  }
  return out
}

/** What is set aside is taken only where the line says that it knows for which job it was. */
export const askedFirst = (
  house: House,
  content: SlipContent,
  taken: readonly TakenFromJob[],
  lineIds: ReadonlyMap<string, number>,
): Refusal[] => {
  const accepts = new Map(content.lines.map(l => [String(lineIds.get(l.id)), l.accepts]))
  return taken.flatMap(t => {
    const { code, name } = house.rows.jobById.get({ id: t.jobId })!
    return accepts.get(t.lineId)?.includes(code)
      ? []
      : [
          refuse('takes_reserved', t.lineId, 'typed', {
            job: code,
            name,
            quantity: formatDecimal(t.quantity),
            unit: house.known.itemById(t.itemId)!.unit,
          }),
        ]
  })
}
