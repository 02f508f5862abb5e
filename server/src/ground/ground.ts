import { AsyncLocalStorage } from 'node:async_hooks'
import { eq } from 'drizzle-orm'
import { v7 } from 'uuid'
import { dayIn } from '@shelve/core'
import { shareCommits } from './db/group.ts'
import { type LogWord, Moment } from './db/moment.ts'
import { type Db, openStore, type Store } from './db/open.ts'
import type { Backups } from './db/schedule.ts'
import { EventLog } from './events.ts'
import { organisation } from './tables.ts'
import { type Changed, changesItems, type Touches } from './touches.ts'

export type Organisation = typeof organisation.$inferSelect

/** Whoever writes for a house that only reads. */
export interface WritesForIt {
  /** Does a small thing that is written beside what somebody asked for. */
  readonly errand: (name: string, args: readonly unknown[]) => Promise<unknown>
  readonly log?: LogWord
}
/** Of a house that is only looked into: nothing is written for it. */
export const LOOKING: WritesForIt = { errand: () => Promise.reject(new Error('nothing is written here')) }
export interface GroundOptions {
  readonly now?: () => number
  readonly demonstration?: boolean
  readonly checkpointEvery?: number
  readonly backups?: Backups
  /** Hears what whoever keeps the server running should know: who was not let in, a letter that was not taken. */
  readonly tell?: (message: string, detail: Readonly<Record<string, string>>) => void
  /** The folder of the schema's steps, where it is not this version's own. */
  readonly steps?: string
  /** The house only reads: all it shows is of one moment after another, and this writes for it. */
  readonly reads?: WritesForIt
}

/**
 * What every room stands on: the database, the clock, events, and the two ways of changing anything. Everything runs on
 * one thread and one connection, so that a function that does not wait sees one moment of the books. A house that only
 * reads stands at one moment as well, and goes on to the newest with every request.
 */
export class Ground {
  readonly store: Store
  readonly events: EventLog
  readonly commit: <T>(run: () => T) => Promise<T>
  /** Counts every change of set-up: what devices keep is checked against it. */
  setupRevision = 1
  /** Small things that are written beside what somebody asked for, by their names. */
  readonly errands = new Map<string, (...args: never[]) => unknown>()
  #organisation: Organisation | undefined
  readonly #forget: ((of: Changed) => void)[] = []
  readonly #moved: ((items: readonly number[]) => void)[] = []
  readonly #undone: (() => void)[] = []
  readonly #ends: (() => void)[] = []
  readonly #moment: Moment | undefined
  readonly #first = new AsyncLocalStorage<() => void>()
  /** The last event of which what it touches was let go of. */
  #heard = 0
  readonly #news

  constructor(
    file: string,
    readonly options: GroundOptions = {},
  ) {
    const { reads } = options
    this.store = openStore(file, reads !== undefined, options.steps)
    const { client } = this.store
    this.#moment = reads && new Moment(client, reads.log)
    this.#moment?.step()
    const share = shareCommits(client)
    this.commit = run => {
      const first = this.#first.getStore()
      return share(() => {
        first?.()
        return run()
      }).catch((e: unknown) => this.#undo(e))
    }
    this.events = new EventLog(this.store.db, () => this.now(), !reads)
    this.#heard = this.events.last()
    this.#news = client
      .prepare<[number], { seq: number; touches: string | null }>(
        'select seq, touches from event where seq > ? order by seq',
      )
      .safeIntegers(false)
    this.onSetUp(of => {
      if (changesItems(of)) this.#organisation = undefined
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
  /** What a room keeps in memory of what lies where is let go of where it is another. */
  onMoved(forget: (items: readonly number[]) => void): void {
    this.#moved.push(forget)
  }
  /** What a room read within a transaction that came to nothing is let go of. */
  onUndone(forget: () => void): void {
    this.#undone.push(forget)
  }
  #undo(e: unknown): never {
    this.#organisation = undefined
    for (const f of this.#undone) f()
    throw e
  }
  /** Whether a transaction is running that may come to nothing. */
  get writing(): boolean {
    return !this.#moment && this.store.client.inTransaction
  }
  /** Lets go of what was read of set-up: of everything, or of what was changed. */
  forget(of: Changed = 'everything'): void {
    for (const f of this.#forget) f(of)
  }
  /** Lets go of what a transaction that is committed touched. */
  letGo({ setUp, items }: Touches): void {
    if (setUp) {
      // Devices keep nothing of what is on its way.
      if (setUp !== 'places' && setUp !== 'passing') this.setupRevision++
      this.forget(setUp)
    }
    if (items) for (const f of this.#moved) f(items)
  }

  /** The number of the event that this house has come to: as long as it is the same, nothing was changed. */
  get heard(): number {
    return this.#moment ? this.#heard : this.events.last()
  }

  /**
   * A house that only reads goes on to the newest moment: what was kept in memory of it and is another now is let go of,
   * and its streams are told. Not in the midst of anything that must see one moment.
   */
  moveOn(): void {
    if (!this.#moment) return
    this.#moment.step()
    const news = this.#news.all(this.#heard)
    if (!news.length) return
    // Numbers have no gaps: where one is missing, what it said was let go of before it was heard.
    if (news[0]!.seq !== this.#heard + 1) this.letGo({ setUp: 'everything' })
    this.#heard = news.at(-1)!.seq
    for (const { touches } of news) if (touches !== null) this.letGo(JSON.parse(touches) as Touches)
    this.events.flush()
  }

  /** Does a small thing that is written beside what somebody asked for: here, or where the writing is done. */
  async errand(name: string, ...args: unknown[]): Promise<unknown> {
    const { reads } = this.options
    return reads ? reads.errand(name, args) : this.errands.get(name)!(...(args as never[]))
  }

  /** Runs a change of set-up: one transaction, then what it touches is let go of and every screen is told. */
  setUp<T>(run: () => T, touches: Changed | ((made: T) => Changed) = 'everything', kind = 'setup'): T {
    return this.change(kind, run, made => ({ setUp: typeof touches === 'function' ? touches(made) : touches }))
  }

  /** A change that is not the ledger's, in one transaction; what it touches is let go of and every screen is told. */
  change<T>(kind: string, run: () => T, touches: (made: T) => Touches = () => ({})): T {
    const all = this.store.client.transaction(() => {
      this.#first.getStore()?.()
      const result = run()
      const touched = touches(result)
      this.events.add(kind, {}, touched)
      return { result, touched }
    })
    let done
    try {
      done = all.immediate()
    } catch (e) {
      this.#undo(e)
    }
    const { result, touched } = done
    this.letGo(touched)
    this.events.flush()
    return result
  }

  /** Whatever `does` writes, also later, is written together with what `first` writes: each of its transactions begins with that. */
  beginningWith<T>(first: () => void, does: () => T): T {
    return this.#first.run(first, does)
  }

  /** Says something to whoever keeps the server running, in its log. */
  tell(message: string, detail: Readonly<Record<string, string>> = {}): void {
    this.options.tell?.(message, detail)
  }
  /** What a room keeps running ends with the house. */
  onClose(end: () => void): void {
    this.#ends.push(end)
  }
  close(): void {
    this.options.backups?.stop()
    for (const end of this.#ends) end()
    this.events.close()
    this.#moment?.leave()
    if (!this.#moment) {
      // Where others read, the log stays: waiting for them, nobody else could write.
      this.store.client.pragma('busy_timeout = 0')
      this.store.client.pragma('wal_checkpoint(TRUNCATE)')
    }
    this.store.client.close()
  }
}
