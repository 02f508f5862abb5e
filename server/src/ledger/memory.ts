import type { AccountKind, LotRule } from '@shelve/core'
import type { Ground } from '../ground/index.ts'
import type { LotCell, PoolRow } from './reader.ts'
import type { LedgerStatements } from './statements.ts'

/** What was read of the books, by what was asked: for one slip, or for as long as nothing is booked. */
export class Memory {
  readonly lots = new Map<number, LotRule | undefined>()
  readonly cells = new Map<number, Map<string, LotCell>>()
  readonly kinds = new Map<number, AccountKind | undefined>()
  readonly pools = new Map<string, number>()
  /** Pools whose row was read along with their number. */
  readonly rows = new Map<number, PoolRow>()
  readonly #answers = new Map<string, unknown>()

  recall<T>(asked: string, read: () => T): T {
    return remember(this.#answers as Map<string, T>, asked, read)
  }
}

export function remember<K, V>(map: Map<K, V>, key: K, read: () => V): V {
  if (map.has(key)) return map.get(key)!
  const v = read()
  map.set(key, v)
  return v
}

/** So many papers are remembered at once, those that were looked at last. */
const PAPERS = 12

/**
 * What was read of the books for slips that somebody is writing: with every key that is pressed on a count of a hundred
 * lines all of it is judged anew, but only what was not asked before is read. Forgotten as soon as anything is booked, or
 * set-up changes.
 */
export class Trials {
  readonly #ground: Pick<Ground, 'setupRevision'>
  readonly #ledger: LedgerStatements
  readonly #papers = new Map<string, Memory>()
  #moment = ''

  constructor(ground: Pick<Ground, 'setupRevision'>, ledger: LedgerStatements) {
    this.#ground = ground
    this.#ledger = ledger
  }
  of(paper: string): Memory {
    const moment = `${this.#ledger.lastSeq.get()!.seq} ${this.#ground.setupRevision}`
    if (moment !== this.#moment) this.#papers.clear()
    this.#moment = moment
    const memory = this.#papers.get(paper) ?? new Memory()
    this.#papers.delete(paper)
    this.#papers.set(paper, memory)
    if (this.#papers.size > PAPERS) this.#papers.delete(this.#papers.keys().next().value!)
    return memory
  }
}
