import { Worker } from 'node:worker_threads'
import { type Api, api } from '@shelve/contract'
import { type Answered, answered, type Asked } from './asked.ts'
import type { House } from './compose.ts'
import { type LogWord, logWord, threadNamed, type WritesForIt } from './ground/index.ts'
import { handlersOf, NOWHERE } from './handlers.ts'
import type { MailPlan } from './notices/index.ts'
import { onceOnly } from './once-only.ts'

/** Whoever writes: every operation that changes something is asked of it, one after the other. */
export interface Writer {
  /** When it answers that something is still to be read of what was made, the house that reads has gone on to that. */
  ask(name: keyof Api, asked: Asked): Promise<Answered>
  stop(): Promise<void>
}

/** How a house that writes in a thread of its own is built. */
export interface WritingPlan {
  readonly file: string
  readonly demonstration: boolean
  readonly mail: MailPlan | undefined
  /** The clock: so many milliseconds are added to the machine's. */
  readonly ahead: number
}
/** What the thread is told, and what it tells. */
export type ToWriter = { readonly id: number } & (
  | { readonly name: keyof Api; readonly asked: Asked }
  | { readonly errand: string; readonly args: readonly unknown[] }
  | { readonly stop: true }
)
export type FromWriter =
  | { readonly ready: true }
  /** Something is committed that streams are to hear of, or the log is wanted. */
  | { readonly moved: true }
  | { readonly ended: string }
  /** What is said in the log. */
  | { readonly told: string; readonly detail: Readonly<Record<string, string>> }
  | { readonly id: number; readonly done: unknown }
  | { readonly id: number; readonly failed: string }

/**
 * What the thread that writes tells. Of what is `committed` an answer that follows at once tells too, whoever hears it goes
 * on to what is written: one word is enough for both. A word for the log tells of nothing but itself.
 */
export function telling(post: (m: FromWriter) => void): {
  readonly tell: (m: FromWriter) => void
  readonly committed: () => void
} {
  let unheard = false
  const tell = (m: FromWriter): void => {
    if (!('told' in m)) unheard = false
    post(m)
  }
  const committed = (): void => {
    if (unheard) return
    unheard = true
    setImmediate(() => unheard && tell({ moved: true }))
  }
  return { tell, committed }
}

/** What a house does that writes: the use cases, and the small things beside them. */
export function writing(house: House) {
  const handlers = handlersOf(house, NOWHERE)
  return {
    ask: (name: keyof Api, asked: Asked): Promise<Answered> =>
      onceOnly(house, api[name], asked, () => answered(house, api[name], handlers[name] as never, asked)),
    errand: (name: string, args: readonly unknown[]): Promise<unknown> => house.errand(name, ...args),
  }
}

/** While much is being written, the reading house goes on to it at most so often (ms). */
const TOGETHER = 20

/**
 * When the reading house goes on to what was written. Whoever reads goes on to it first, so this is for screens that are
 * told: at once where nobody waits for anything to be written, else once for all that is written meanwhile.
 */
export function together(go: () => void, busy: () => boolean): { now: () => void; soon: () => void } {
  let due: NodeJS.Timeout | undefined
  const now = () => {
    clearTimeout(due)
    due = undefined
    go()
  }
  return { now, soon: () => (busy() ? (due ??= setTimeout(now, TOGETHER).unref()) : queueMicrotask(now)) }
}

/**
 * Starts a thread that writes. `reads` is handed to the house that only reads; `hear` is called with that house once it
 * stands: from then on it goes on with what is written. `ready` is kept when the thread stands, which the house that reads
 * need not wait for to be built. `fallen` hears that the thread ended without being asked to.
 */
export function startWriter(
  plan: WritingPlan,
  fallen: (error: Error) => void,
  told: NonNullable<House['options']['tell']> = () => undefined,
): { writer: Writer; reads: WritesForIt; hear: (house: House) => void; ready: Promise<void> } {
  const log = logWord()
  const worker = new Worker(threadNamed('writer'), {
    workerData: { plan, log },
    resourceLimits: { maxOldGenerationSizeMb: 1024, maxYoungGenerationSizeMb: 12 },
  })
  const waiting = new Map<number, { ok: (v: unknown) => void; no: (e: Error) => void; asks: boolean }>()
  let house: House | undefined
  let last = 0
  let stopping = false
  const { now, soon } = together(
    () => void (house?.store.client.open && house.moveOn()),
    () => waiting.size > 0,
  )
  const tell = (
    what: { name: keyof Api; asked: Asked } | { errand: string; args: readonly unknown[] } | { stop: true },
  ) =>
    new Promise<unknown>((ok, no) => {
      waiting.set(++last, { ok, no, asks: 'name' in what })
      worker.postMessage({ id: last, ...what } satisfies ToWriter)
    })
  const ready = new Promise<void>((ok, no) => {
    worker.once('error', no)
    worker.on('message', (m: FromWriter) => {
      if ('ready' in m) return ok()
      if ('told' in m) return told(m.told, m.detail)
      const asked = 'id' in m ? waiting.get(m.id)! : undefined
      // What it has written is there before it is told of. A whole answer needs none of it: whoever waits for that has it
      // first, and whatever reads goes on by itself before it does.
      const whole = asked?.asks && 'done' in m && !('made' in (m.done as Answered))
      if (!whole) now()
      if ('ended' in m) house?.events.endSession(m.ended)
      else if ('id' in m) {
        waiting.delete(m.id)
        if ('failed' in m) asked!.no(new Error(m.failed))
        else asked!.ok(m.done)
      }
      if (whole) soon()
    })
  })
  // A thread that never stood has not fallen: whoever waits for it hears why.
  void ready.then(
    () => {
      worker.on('error', fallen)
      worker.on('exit', code => {
        if (!stopping) fallen(new Error(`the thread that writes ended with ${code}`))
      })
    },
    () => undefined,
  )
  return {
    ready,
    writer: {
      ask: (name, asked) => tell({ name, asked }) as Promise<Answered>,
      stop: async () => {
        stopping = true
        await tell({ stop: true })
      },
    },
    reads: { errand: (errand, args) => tell({ errand, args }), log },
    hear: reading => {
      house = reading
      reading.moveOn()
    },
  }
}

/** What the thread is started with. */
export interface WriterData {
  readonly plan: WritingPlan
  readonly log: LogWord
}

/** The same on one thread, for tests with a clock of their own: one house writes, another one reads. */
export function besideIt(house: House): { writer: Writer; reads: WritesForIt; hear: (h: House) => void } {
  const { ask, errand } = writing(house)
  let readers: House | undefined
  return {
    writer: {
      // As it would cross to a thread.
      ask: async (name, asked) => {
        const answer = structuredClone(await ask(name, structuredClone(asked)))
        readers?.moveOn()
        return answer
      },
      stop: async () => house.close(),
    },
    reads: { errand: (name, args) => errand(name, structuredClone(args)) },
    hear: reading => {
      readers = reading
      house.events.relay = { flushed: () => reading.moveOn(), ended: uid => reading.events.endSession(uid) }
    },
  }
}
