import { eq } from 'drizzle-orm'
import { v7 } from 'uuid'
import { dayIn } from '@shelve/core'
import { shareCommits } from './db/group.ts'
import { type Db, openStore, type Store } from './db/open.ts'
import type { Backups } from './db/schedule.ts'
import { EventLog } from './events.ts'
import { organisation } from './tables.ts'

export type Organisation = typeof organisation.$inferSelect
/**
 * What a change of set-up changes for what rooms keep in memory: some items, names that no figure hangs on (people, jobs,
 * reasons, codes), or, where nothing is said, everything.
 */
export type Changed = { readonly items: readonly number[] } | 'names' | 'everything'
export interface GroundOptions {
  readonly now?: () => number
  readonly demonstration?: boolean
  readonly checkpointEvery?: number
  readonly backups?: Backups
  /** The folder of the schema's steps, where it is not this version's own. */
  readonly steps?: string
}

/**
 * What every room stands on: the database, the clock, events, and the two ways of changing anything. Everything runs on
 * one thread and one connection, so that a function that does not wait sees one moment of the books.
 */
export class Ground {
  readonly store: Store
  readonly events: EventLog
  readonly commit: <T>(run: () => T) => Promise<T>
  /** Counts every change of set-up: what devices keep is checked against it. */
  setupRevision = 1
  #organisation: Organisation | undefined
  readonly #forget: ((of: Changed) => void)[] = []
  readonly #ends: (() => void)[] = []

  constructor(
    file: string,
    readonly options: GroundOptions = {},
  ) {
    this.store = openStore(file, false, options.steps)
    this.commit = shareCommits(this.store.client)
    this.events = new EventLog(this.store.db, () => this.now())
    this.onSetUp(() => {
      this.#organisation = undefined
    })
  }

  get db(): Db {
    return this.store.db
  }
  now(): number {
    return Math.floor(this.options.now?.() ?? Date.now())
  }
  uid(): string {
    return v7()
  }

  /** The organisation; undefined before the first run. */
  get organisation(): Organisation | undefined {
    return (this.#organisation ??= this.db.select().from(organisation).where(eq(organisation.id, 1)).get())
  }
  /** Today in the organisation's zone. */
  today(at = this.now()): string {
    return dayIn(at, this.organisation?.zone ?? 'UTC')
  }

  /** What a room keeps in memory of set-up is let go of after every change of it. */
  onSetUp(forget: (of: Changed) => void): void {
    this.#forget.push(forget)
  }
  /** Lets go of what was read of set-up: of everything, or of what was changed. */
  forget(of: Changed = 'everything'): void {
    for (const f of this.#forget) f(of)
  }

  /** Runs a change of set-up: one transaction, then what it touches is let go of and every screen is told. */
  setUp<T>(run: () => T, touches: Changed | ((made: T) => Changed) = 'everything', kind = 'setup'): T {
    return this.change(kind, run, {}, made => {
      this.setupRevision++
      this.forget(typeof touches === 'function' ? touches(made) : touches)
    })
  }

  /** A change that is neither set-up nor the ledger, in one transaction; every screen is told. */
  change<T>(
    kind: string,
    run: () => T,
    detail: Record<string, unknown> = {},
    done: (made: T) => void = () => undefined,
  ): T {
    const result = this.store.client
      .transaction(() => {
        const r = run()
        this.events.add(kind, detail)
        return r
      })
      .immediate()
    done(result)
    this.events.flush()
    return result
  }

  /** What a room keeps running ends with the house. */
  onClose(end: () => void): void {
    this.#ends.push(end)
  }
  close(): void {
    this.options.backups?.stop()
    for (const end of this.#ends) end()
    this.events.close()
    this.store.client.pragma('wal_checkpoint(TRUNCATE)')
    this.store.client.close()
  }
}
