import { createHash } from 'node:crypto'
import { eq } from 'drizzle-orm'
import { v7 } from 'uuid'
import { dayIn } from '@shelve/core'
import { account, organisation } from './db/schema.ts'
import { Known } from './catalogue/known.ts'
import { shareCommits } from './db/group.ts'
import { openStore, type Store } from './db/open.ts'
import type { Backups } from './db/schedule.ts'
import { Post, type MailPlan } from './notices/mail.ts'
import { prepareIds, type Ids } from './db/ids.ts'
import { lastCheckpoint } from './ledger/checkpoints.ts'
import { preparePaper, type Paper } from './ledger/paper.ts'
import { prepareLedger, type LedgerStatements } from './ledger/statements.ts'
import { EventLog } from './events/log.ts'
import { PlaceTree } from './places/tree.ts'
import { Flows } from './reports/flows.ts'
import { StockView } from './reports/stock.ts'

export const VERSION = '0.1.0'
export type Organisation = typeof organisation.$inferSelect
/** Accounts that every organisation has one of. */
export interface FixedAccounts {
  readonly stock: number
  readonly priceDifference: number
  readonly loss: number
  readonly gain: number
  readonly opening: number
  readonly made: number
  readonly relabel: number
}

/** Something a caller did wrong, to be answered as a problem document. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly fields: readonly {
      line?: string | null
      field: string | null
      code: string
      message: string
      detail?: Record<string, unknown>
    }[] = [],
  ) {
    super(message)
  }
}

/**
 * The server's one instance: the database, prepared statements, the clock, and what is kept in memory of them. Everything
 * runs on one thread and one connection, so that a function that does not wait sees one moment of the books.
 */
export class App {
  readonly store: Store
  readonly ledger: LedgerStatements
  readonly paper: Paper
  readonly ids: Ids
  readonly events: EventLog
  readonly places: PlaceTree
  readonly known: Known
  readonly stock: StockView
  readonly flows: Flows
  /** Sends mail, where somebody said where to hand it over. */
  readonly post: Post | undefined
  readonly commit: <T>(run: () => T) => Promise<T>
  /** Counts every change of set-up: what devices keep is checked against it. */
  setupRevision = 1
  #organisation: Organisation | undefined
  #accounts: FixedAccounts | undefined
  /** How far the last checkpoint reaches, and how many rows it has. */
  lastCheckpoint: { readonly seq: number; readonly rows: number }

  constructor(
    file: string,
    readonly options: {
      now?: () => number
      demonstration?: boolean
      checkpointEvery?: number
      backups?: Backups
      mail?: MailPlan
    } = {},
  ) {
    this.store = openStore(file)
    this.ledger = prepareLedger(this.store)
    this.paper = preparePaper(this.store.db)
    this.ids = prepareIds(this.store.db)
    this.commit = shareCommits(this.store.client)
    this.events = new EventLog(this)
    this.places = new PlaceTree(this)
    this.known = new Known(this)
    this.stock = new StockView(this)
    this.flows = new Flows(this)
    this.lastCheckpoint = lastCheckpoint(this)
    this.post = options.mail && new Post(this, options.mail)
  }

  get db() {
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
    return (this.#organisation ??= this.db.select().from(organisation).get())
  }
  forgetOrganisation(): void {
    this.#organisation = undefined
  }
  get accounts(): FixedAccounts {
    return (this.#accounts ??= (() => {
      const id = (kind: string) =>
        this.db.select({ id: account.id }).from(account).where(eq(account.kind, kind)).get()!.id
      return {
        stock: id('stock'),
        priceDifference: id('price_difference'),
        loss: id('loss'),
        gain: id('gain'),
        opening: id('opening'),
        made: id('made'),
        relabel: id('relabel'),
      }
    })())
  }

  /** Today in the organisation's zone. */
  today(at = this.now()): string {
    return dayIn(at, this.organisation?.zone ?? 'UTC')
  }

  /** Runs a change of set-up: one transaction, then every screen is told. */
  setUp<T>(run: () => T, kind = 'setup', detail: Record<string, unknown> = {}): T {
    const result = this.store.client
      .transaction(() => {
        const r = run()
        this.events.add(kind, detail)
        return r
      })
      .immediate()
    this.setupRevision++
    this.places.forget()
    this.known.forget()
    this.stock.forget()
    this.flows.forget()
    this.events.flush()
    return result
  }

  /** A change that is neither set-up nor the ledger, in one transaction; every screen is told. */
  change<T>(kind: string, run: () => T): T {
    const result = this.store.client
      .transaction(() => {
        const r = run()
        this.events.add(kind, {})
        return r
      })
      .immediate()
    this.events.flush()
    return result
  }

  nextNumber(kind: string): number {
    return this.paper.nextNumber.get({ kind })!.next - 1
  }

  close(): void {
    this.options.backups?.stop()
    this.post?.stop()
    this.events.close()
    this.store.client.pragma('wal_checkpoint(TRUNCATE)')
    this.store.client.close()
  }
}

export const sha256 = (text: string): string => createHash('sha256').update(text).digest('hex')
export const iso = (at: number): string => new Date(at).toISOString()
