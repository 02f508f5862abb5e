import { BEAT, type PutBack } from '@shelve/contract'
import { and, asc, desc, eq, gt, lt, ne, sql } from 'drizzle-orm'
import type { Response } from 'express'
import type { Db } from './db/open.ts'
import { PUT_BACK } from './put-back.ts'
import { event } from './tables.ts'
import { iso } from './words.ts'
import type { Touches } from './touches.ts'

/** What an event may say of whom it concerns: the places it is about, and whoever did it. */
export interface Concerns {
  readonly places?: readonly string[]
  readonly by?: string
}
/**
 * Who hears a stream. Asked anew at every delivery, so that what was allowed when the stream was opened counts for
 * nothing: `undefined` where the session is over (signed out, run out, taken out of use), else whether an event is theirs.
 */
export interface Hearer {
  readonly session: string
  readonly now: () => ((of: Concerns) => boolean) | undefined
}

/** So many missed events are told to a screen that was away for a while; one that missed more reloads. */
const TOLD = 500
/** Events that are kept for that, with room to spare. */
const KEPT = 2 * TOLD

/** So many streams may be open in one session, and in all. */
const STREAMS_OF_ONE = 12
const STREAMS = 1000

/**
 * What happened, told to every open screen. Events are written in the transaction that makes them true and sent after its
 * commit; a stream resumes at the number it heard last.
 */
export class EventLog {
  readonly #db: Db
  readonly #now: () => number
  readonly #insert
  readonly #streams = new Map<Response, Hearer>()
  #sent: number
  #added = 0
  /** The last backup that was put in place; null: never. Nobody does that while a server runs. */
  readonly putBack: PutBack | null
  #beat: NodeJS.Timeout
  /** Who tells the streams instead, where they are another house's. */
  relay: { readonly flushed: () => void; readonly ended: (session: string) => void } | undefined

  /** `keeps`: whether old events are let go of here. `beat`: how often a stream says that it is still there (ms). */
  constructor(
    db: Db,
    now: () => number,
    readonly keeps = true,
    beat = BEAT,
  ) {
    this.#db = db
    this.#now = now
    const p = sql.placeholder
    this.#insert = db
      .insert(event)
      .values({ at: p('at'), kind: p('kind'), detail: p('detail'), touches: p('touches') })
      .prepare()
    this.#sent = this.last()
    this.putBack = this.#lastPutBack()
    this.#beat = setInterval(() => {
      for (const [s, hearer] of this.#streams)
        if (hearsNow(hearer)) s.write('event: beat\ndata: 1\n\n')
        else s.end()
    }, beat)
    this.#beat.unref()
  }

  last(): number {
    return Number(
      this.#db
        .select({ n: sql<number>`coalesce(max(${event.seq}), 0)`.mapWith(Number) })
        .from(event)
        .get()!.n,
    )
  }

  #lastPutBack(): PutBack | null {
    const row = this.#db
      .select({ at: event.at, detail: event.detail })
      .from(event)
      .where(eq(event.kind, PUT_BACK))
      .orderBy(desc(event.seq))
      .limit(1)
      .get()
    if (!row) return null
    const { until } = JSON.parse(row.detail) as { readonly until: number | null }
    return { at: iso(row.at), until: until === null ? null : iso(until) }
  }

  /** Adds an event to the running transaction, with what that touches. */
  add(kind: string, detail: Record<string, unknown>, touches: Touches = {}): void {
    this.#insert.run({
      at: this.#now(),
      kind,
      detail: JSON.stringify(detail),
      touches: touches.setUp || touches.items ? JSON.stringify(touches) : null,
    })
    if (++this.#added % KEPT === 0) this.#trim()
  }

  /** Sends what was committed since the last time. */
  flush(): void {
    this.relay?.flushed()
    if (!this.#streams.size) {
      this.#sent = -1
      return
    }
    if (this.#sent < 0) this.#sent = this.last() - 1
    const rows = this.#db.select().from(event).where(gt(event.seq, this.#sent)).orderBy(asc(event.seq)).all()
    for (const [s, hearer] of this.#streams) {
      const hears = hearsNow(hearer)
      if (!hears) {
        s.end()
        continue
      }
      for (const r of rows) s.write(format(r, hears))
    }
    this.#sent = rows.at(-1)?.seq ?? this.#sent
  }

  /**
   * Whether one more stream of a session is too many: a browser opens one for all its tabs, and a lost one ends only when that is
   * noticed.
   */
  full(session: string): boolean {
    let own = 0
    for (const h of this.#streams.values()) if (h.session === session) own++
    return own >= STREAMS_OF_ONE || this.#streams.size >= STREAMS
  }

  /**
   * Opens a stream; with `after` first what was missed. A stream that was away too long is told to reload, and one that heard of
   * more than there is: an older database was put in place of the one that it heard.
   */
  open(response: Response, after: number | undefined, hearer: Hearer): void {
    const hears = hearer.now() ?? (() => false)
    response
      .status(200)
      .set({ 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' })
    response.flushHeaders()
    const last = this.last()
    if (this.#sent < 0 || !this.#streams.size) this.#sent = last
    if (after !== undefined && after > last) response.write(anew(last))
    else if (after !== undefined && after < last) {
      const missed = this.#db.select().from(event).where(gt(event.seq, after)).orderBy(asc(event.seq)).limit(TOLD).all()
      // Numbers have no gaps: as many as lie between, or one was let go of.
      const whole = missed.length === last - after
      if (whole) for (const r of missed) response.write(format(r, hears))
      else response.write(anew(last))
    }
    // Last, for it carries the newest number: a hearer that had taken it first would hold what it missed for old.
    const detail = this.putBack ? { putBack: this.putBack } : {}
    response.write(`retry: 1000\n${said({ seq: last, kind: 'hello', detail })}`)
    this.#streams.set(response, hearer)
    response.on('close', () => this.#streams.delete(response))
  }

  #trim(): void {
    this.#db
      .delete(event)
      .where(and(lt(event.seq, this.last() - KEPT), ne(event.kind, PUT_BACK)))
      .run()
  }
  /** Closes the streams of a session that was ended. */
  endSession(uid: string): void {
    this.relay?.ended(uid)
    for (const [s, hearer] of this.#streams) if (hearer.session === uid) s.end()
  }

  close(): void {
    clearInterval(this.#beat)
    for (const s of this.#streams.keys()) s.end()
    this.#streams.clear()
    if (this.keeps) this.#trim()
  }
}

const said = (e: { readonly seq: number; readonly kind: string; readonly detail: object }) =>
  `id: ${e.seq}\ndata: ${JSON.stringify(e)}\n\n`
/** All that stands on a screen is to be read anew. */
const anew = (seq: number) => said({ seq, kind: 'reload', detail: {} })

/** What somebody may hear now; nothing, too, where that cannot be read: their stream ends, and as they open it anew they are told why. */
function hearsNow(hearer: Hearer): ReturnType<Hearer['now']> {
  try {
    return hearer.now()
  } catch {
    return undefined
  }
}

/** An event as a hearer may have it: of what happens where they may not look only the number remains. */
function format(r: { seq: number; kind: string; detail: string }, hears: (of: Concerns) => boolean): string {
  const hidden = !hears(JSON.parse(r.detail) as Concerns)
  return `id: ${r.seq}\ndata: {"seq":${r.seq},"kind":${JSON.stringify(hidden ? 'elsewhere' : r.kind)},"detail":${hidden ? '{}' : r.detail}}\n\n`
}
