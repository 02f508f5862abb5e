import { onScopeDispose } from 'vue'
import { oneAtATime } from './asked-once.ts'

/** Something that happened on the server. */
export interface Happened {
  readonly seq: number
  readonly kind: string
  readonly detail: { slip?: string; slipKind?: string; items?: string[]; version?: number }
}
const NAME = 'shelve-events'
const listeners = new Set<(e: Happened) => void>()

/**
 * One event stream for all tabs of a browser (it opens only a few connections): the visible tab that holds the lock
 * reads, the others listen to it. A leader that is frozen is replaced; without locks every tab reads for itself. The
 * stream begins after `from`, the number that the session began with, so that nothing which happens while the first view
 * loads is missed, and resumes after the number heard last.
 */
export function startEvents(from: number | undefined, quiet = 20_000): () => void {
  const channel = new BroadcastChannel(NAME)
  let last = from
  let source: EventSource | undefined
  let release: (() => void) | undefined
  let queued: AbortController | undefined
  let heard = Date.now()

  const take = (e: Happened) => {
    heard = Date.now()
    if (last !== undefined && e.seq <= last && e.kind !== 'reload') return
    last = e.seq
    if (e.kind !== 'hello') for (const l of listeners) l(e)
  }
  channel.onmessage = (m: MessageEvent<Happened & { ask?: number }>) => {
    heard = Date.now()
    if (m.data.seq !== undefined) take(m.data)
    else if (m.data.ask && source) channel.postMessage({ here: 1 })
  }
  const open = () => {
    source?.close()
    source = new EventSource(last === undefined ? '/api/events' : `/api/events?after=${last}`)
    source.onmessage = m => {
      const e = JSON.parse(m.data as string) as Happened
      take(e)
      channel.postMessage(e)
    }
    // An HTTP error ends an EventSource for good: open a new one.
    source.onerror = () => {
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
  const watch = setInterval(() => {
    if (document.hidden || source || !navigator.locks) return
    if (Date.now() - heard > quiet) lead(true)
    else channel.postMessage({ ask: 1 })
  }, quiet / 3)
  return () => {
    clearInterval(watch)
    document.removeEventListener('visibilitychange', show)
    drop()
    channel.close()
  }
}

/** Calls back for every event while the component lives. */
export function onEvent(listener: (e: Happened) => void): void {
  listeners.add(listener)
  onScopeDispose(() => listeners.delete(listener))
}

/**
 * Runs `load` now, and again soon after anything that concerns it happened: this is what *live* means. Gives a function
 * that loads once more. One load runs at a time, and what is asked for meanwhile runs after it, so that an answer that
 * took long never covers a newer one.
 */
export function live(
  load: () => Promise<unknown>,
  concerns: (e: Happened) => boolean = e => e.kind !== 'draft' && e.kind !== 'audit',
): () => Promise<void> {
  let timer: ReturnType<typeof setTimeout> | undefined
  const soon = oneAtATime(() => load().catch(() => undefined))
  onEvent(e => {
    if (e.kind !== 'reload' && !concerns(e)) return
    clearTimeout(timer)
    timer = setTimeout(() => void soon(), 60)
  })
  void soon()
  return soon
}
