import { canonical, formatDecimal } from '@shelve/core'
import { sha256 } from '../ground/index.ts'
import type { Plan } from './effect.ts'
import type { TakenFromJob } from './reserved.ts'

/** What a line will do, as it is part of the fingerprint. */
export const planSaid = (l: Plan): string =>
  canonical([l.line, l.quantity, l.lots.map(x => [x.code, x.quantity, x.place]), l.expected])

/** What must not change unseen between looking and booking: lots, refusals (line and code), what is taken of what is set aside. */
export const fingerprint = (
  refused: readonly (readonly [line: string | null, code: string])[],
  plan: readonly string[],
  reserved: readonly TakenFromJob[],
): string =>
  sha256(
    [canonical(refused), ...plan, ...reserved.map(t => canonical([t.lineId, t.jobId, formatDecimal(t.quantity)]))].join(
      '\n',
    ),
  ).slice(0, 24)
