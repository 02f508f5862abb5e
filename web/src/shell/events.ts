import { onScopeDispose, watch } from 'vue'
import { BEAT, type PutBack } from '@shelve/contract'
import {
  ApiProblem,
  connection,
  fellSilent,
  get,
  isAway,
  isThere,
  lastHeard,
  lastLost,
  said,
  SIGNED_OUT,
} from './api.ts'
import { oneAtATime } from './asked-once.ts'
import { onOtherRecords, recordsAre } from './put-back.ts'
import { unread } from './unread.ts'

/** Something that happened on the server. */
export interface Happened {
  readonly seq: number
  readonly kind: string
  readonly detail: {
    slip?: string
    slipKind?: string
    items?: string[]
    version?: number
    /** Of `hello`: the last backup that was put in place. */
    putBack?: PutBack | null
  }
}
const NAME = 'shelve-events'
const listeners = new Set<(e: Happened) => void>()

/**
 * One event stream for all tabs of a browser (it opens only a few connections): the visible tab that holds the lock
 * reads, the others listen to it. A leader that is frozen is replaced; without locks every tab reads for itself. The
 * stream begins after `from`, the number that the session began with, so that nothing which happens while the first view
 * loads is missed, and resumes after the number heard last.
 *
 * By it one knows whether the server is there, though nobody asks it anything: it says so every `beat` (ms). A stream that
 * says nothing for two of them is opened anew. Where nothing is heard then either, the way to the server is lost without a
 * word, as where a tablet leaves its network: that is said, and what waits for an answer is given up.
 */
export function startEvents(from: number | undefined, beat = BEAT): () => void {
  const channel = new BroadcastChannel(NAME)
  const patience = 2 * beat
  let last = from
  let source: EventSource | undefined
  let release: (() => void) | undefined
  let queued: AbortController | undefined
  /** When the stream was heard or opened last; for those that listen to whoever reads: when that was heard. */
  let heard = Date.now()
  /** Whether it was opened anew since, and said nothing. */
  let again = false

  const still = () => {
    heard = Date.now()
    again = false
    isThere()
  }
  const take = (e: Happened) => {
    still()
    if (e.kind === 'hello') recordsAre(e.detail.putBack?.at)
    if (last !== undefined && e.seq <= last && e.kind !== 'reload') return
    last = e.seq
    if (e.kind !== 'hello') for (const l of listeners) l(e)
  }
  /** Whoever reads the stream tells the others what it knows of the server. */
  const tell = () => {
    if (source) channel.postMessage({ heard: lastHeard(), lost: lastLost(), connection: connection.value })
  }
  const stop = watch(connection, tell)
  channel.onmessage = (
    m: MessageEvent<Happened & { ask?: number; heard?: number; lost?: number; connection?: string }>,
  ) => {
    heard = Date.now()
    if (m.data.seq !== undefined) take(m.data)
    else if (m.data.ask) tell()
    else if (m.data.connection === 'live') isThere(m.data.heard)
    // Known since this window heard of the server itself: what another heard last may be longer ago.
    else if (m.data.lost! >= lastHeard()) fellSilent(patience)
  }
  /** Whether the server is away, the session over, or the stream alone ended, it says itself. */
  const asks = () =>
    void get('/api/session').catch((e: unknown) => {
      if (e instanceof ApiProblem && e.problem.status === 401) window.dispatchEvent(new CustomEvent(SIGNED_OUT))
    })
  const open = () => {
    source?.close()
    heard = Date.now()
    source = new EventSource(last === undefined ? '/api/events' : `/api/events?after=${last}`)
    source.onmessage = m => {
      const e = JSON.parse(m.data as string) as Happened
      take(e)
      channel.postMessage(e)
    }
    source.addEventListener('beat', still)
    source.onerror = () => {
      // Ended for good by an answer: the server is there, however long it was away.
      if (connection.value === 'live' || source?.readyState === EventSource.CLOSED) asks()
      else isAway()
      // An HTTP error ends an EventSource for good: open a new one.
      if (source?.readyState === EventSource.CLOSED)
        setTimeout(() => {
          if (source) open()
        }, 800)
    }
  }
  const drop = () => {
    source?.close()
    source = undefined
    release?.()
    release = undefined
    queued?.abort()
    queued = undefined
  }
  const lead = (steal = false) => {
    queued?.abort()
    const mine = (queued = new AbortController())
    navigator.locks
      .request(
        NAME,
        steal ? { steal } : { signal: mine.signal },
        () =>
          new Promise<void>(done => {
            release = done
            open()
          }),
      )
      .catch(() => {
        if (mine !== queued) return
        source?.close()
        source = release = undefined
        if (!document.hidden) lead()
      })
  }
  const show = () => {
    if (document.hidden) drop()
    else if (!navigator.locks) open()
    else {
      heard = Date.now()
      lead()
    }
  }
  document.addEventListener('visibilitychange', show)
  show()
  const listening = setInterval(() => {
    if (document.hidden) return
    const silent = Date.now() - heard > patience
    if (source && silent) {
      // Not at once: a device that slept hears again as soon as it asks; and where something on the way holds back the stream
      // alone, what is asked is answered.
      if (again && Date.now() - lastHeard() > patience) fellSilent(beat)
      again = true
      open()
      asks()
    } else if (!source && silent) {
      if (navigator.locks) lead(true)
    } else if (!source) channel.postMessage({ ask: 1 })
  }, beat / 3)
  return () => {
    clearInterval(listening)
    stop()
    document.removeEventListener('visibilitychange', show)
    drop()
    channel.close()
  }
}

/** What stands on the screen is told anew: so much has changed that nobody says what. */
export function tellAnew(): void {
  for (const l of listeners) l({ seq: 0, kind: 'reload', detail: {} })
}

// All that it tells by now is of other records than what stands on the screen.
onOtherRecords(tellAnew)

/** Calls back for every event while the component lives. */
export function onEvent(listener: (e: Happened) => void): void {
  listeners.add(listener)
  onScopeDispose(() => listeners.delete(listener))
}

/**
 * Runs `load` now, and again soon after anything that concerns it happened: this is what *live* means. Gives a function that
 * loads once more. One load runs at a time, and what is asked for meanwhile runs after it, so that an answer that took long
 * never covers a newer one. What cannot be read, and is not said by `load` itself, is said above the page.
 */
export function live(
  load: () => Promise<unknown>,
  concerns: (e: Happened) => boolean = e => e.kind !== 'draft' && e.kind !== 'audit',
): () => Promise<void> {
  let timer: ReturnType<typeof setTimeout> | undefined
  const soon = oneAtATime(() =>
    load().then(
      () => unread.delete(load),
      (e: unknown) => {
        if (!(e instanceof ApiProblem)) console.error(e)
        // Where the session is over the way to sign in speaks.
        else if (e.problem.status !== 401) unread.set(load, { why: said(e), again: soon })
      },
    ),
  )
  onScopeDispose(() => unread.delete(load))
  onEvent(e => {
    if (e.kind !== 'reload' && !concerns(e)) return
    clearTimeout(timer)
    timer = setTimeout(() => void soon(), 60)
  })
  void soon()
  return soon
}
