import type { AccountKind, LotRule } from '@shelve/core'
import { type Ground, remember } from '../ground/index.ts'
import type { LotCell, PoolRow } from './reader.ts'
import type { LedgerStatements } from './statements.ts'

/** What was read of the books, by what was asked: for one slip, or for as long as nothing is booked. */
export class Memory {
  readonly lots = new Map<number, LotRule | undefined>()
  readonly cells = new Map<number, readonly LotCell[]>()
  readonly kinds = new Map<number, AccountKind | undefined>()
  readonly pools = new Map<string, number>()
  /** Pools whose row was read along with their number. */
  readonly rows = new Map<number, PoolRow>()
  readonly #answers = new Map<string, unknown>()
  rowsKept = 0

  recall<T>(asked: string, read: () => T): T {
    return remember(this.#answers as Map<string, T>, asked, () => {
      const answer = read()
      this.rowsKept += Array.isArray(answer) ? answer.length : 1
      return answer
    })
  }
}

/** So many rows are remembered at most: an item that moves every minute has thousands, and several may be looked at. */
const MOST = 60_000

/**
 * What was read of the books for slips that somebody is writing: with every key that is pressed on a count of a hundred
 * lines all of it is judged anew, but only what was not asked before is read. The books are one for all, so what was read
 * for one slip serves the next. Forgotten as soon as anything is booked, or set-up changes.
 */
export class Trials {
  readonly #ground: Pick<Ground, 'setupRevision'>
  readonly #ledger: LedgerStatements
  #memory = new Memory()
  #moment = ''

  constructor(ground: Pick<Ground, 'setupRevision'>, ledger: LedgerStatements) {
    this.#ground = ground
    this.#ledger = ledger
  }
  memory(): Memory {
    const moment = `${this.#ledger.lastSeq.get()!.seq} ${this.#ground.setupRevision}`
    if (moment !== this.#moment || this.#memory.rowsKept > MOST) this.#memory = new Memory()
    this.#moment = moment
    return this.#memory
  }
}
