import type Database from 'better-sqlite3'

/**
 * The log is written back into the file after so many changed rows: about 8 MB, since a row that a slip writes comes to a
 * page. How long it is says no file: it is begun anew in the file it has.
 */
const ROWS = 2_000
/** A log that grew longer than this (bytes), in a long import, say, is cut when it is begun anew. */
const LONGEST_LOG = 16_000_000
/** So long whoever writes waits at most for whoever reads to let go of the log (ms). */
const PATIENCE = 250
/** So long whoever reads stands aside at most (ms): whoever writes may have fallen. */
const LONGEST = 5_000

/** What the two connections say to each other about the log, in one shared number. */
const FREE = 0
const WANTED = 1
const LEFT = 2
export type LogWord = Int32Array

/** A word that two threads share. */
export const logWord = (): LogWord => new Int32Array(new SharedArrayBuffer(4))

/**
 * The moment of the books at which a reading connection stands: one transaction, so that whatever is asked between two
 * steps is of one moment, however much is written meanwhile.
 */
export class Moment {
  readonly #client: Database.Database
  readonly #log: LogWord | undefined
  readonly #begin
  readonly #end

  constructor(client: Database.Database, log: LogWord | undefined) {
    this.#client = client
    this.#log = log
    this.#begin = client.prepare('begin')
    this.#end = client.prepare('commit')
  }
  /** Leaves the moment for the newest; where whoever writes wants the log for itself, after that. */
  step(): void {
    this.leave()
    if (this.#log && Atomics.compareExchange(this.#log, 0, WANTED, LEFT) === WANTED) {
      Atomics.notify(this.#log, 0)
      Atomics.wait(this.#log, 0, LEFT, LONGEST)
    }
    this.#begin.run()
  }
  leave(): void {
    if (this.#client.inTransaction) this.#end.run()
  }
}

/**
 * Writes the log back into the file once it has grown, and begins it anew in the place it has: a log that is cut and
 * grows again makes each commit wait for the file system (measured: a tenth of a booking). SQLite begins it anew only
 * while nobody reads from it, and the reading connection always stands at some moment: it is asked to step aside for as
 * long as that takes.
 */
export class LogKeeper {
  readonly #client: Database.Database
  readonly #log: LogWord
  readonly #wake: () => void
  readonly #changed
  #next: number

  constructor(client: Database.Database, log: LogWord, wake: () => void) {
    this.#client = client
    this.#log = log
    this.#wake = wake
    this.#changed = client.prepare('select total_changes()').pluck()
    this.#next = Number(this.#changed.get()) + ROWS
    client.pragma('wal_autocheckpoint = 0')
    client.pragma(`journal_size_limit = ${LONGEST_LOG}`)
  }
  /** After a commit. What goes wrong here (a full disk, say) is no trouble of what was committed: it is tried again later. */
  look(): void {
    const rows = Number(this.#changed.get())
    if (rows < this.#next) return
    this.#next = rows + ROWS / 4
    try {
      if (this.#writtenBack()) this.#next = rows + ROWS
    } catch {
      // It is tried again after a few rows more.
    }
  }
  /** Whether all of it could be written back: not while the reader is busy for long, or a backup or a verification reads. */
  #writtenBack(): boolean {
    // Nearly all of it beside whoever reads, so that little is left to wait for.
    this.#client.pragma('wal_checkpoint(PASSIVE)')
    Atomics.store(this.#log, 0, WANTED)
    this.#wake()
    Atomics.wait(this.#log, 0, WANTED, PATIENCE)
    if (Atomics.compareExchange(this.#log, 0, WANTED, FREE) === WANTED) return false
    try {
      this.#client.pragma('busy_timeout = 0')
      const [r] = this.#client.pragma('wal_checkpoint(RESTART)') as [{ busy: bigint }]
      return !r.busy
    } finally {
      this.#client.pragma('busy_timeout = 5000')
      Atomics.store(this.#log, 0, FREE)
      Atomics.notify(this.#log, 0)
    }
  }
}
