import { GS, PAUSE, QUICK, STUTTER, readBurst, type BurstReading, type ScannerHabit } from '@shelve/core'
import { asks } from '../shell/under-way.ts'
import { given, write } from './code-field.ts'

type Field = HTMLInputElement | HTMLTextAreaElement | HTMLSelectElement
/** How a field stood before a sign reached it. */
interface Stood {
  readonly el: Field
  readonly value: string
  readonly from: number | null
  readonly to: number | null
}
interface Heard {
  readonly sign: string
  readonly since: number
  /** It was typed into the field, or given back to it. */
  reached: boolean
  /** Where it begins a burst or comes after a pause: what had the focus, and how that field stood before it. */
  readonly began?: { readonly at: Element | null; readonly stood: Stood | undefined } | undefined
}

/** A burst as it came: for the test of a scanner, which hears it before anybody else. */
export interface Burst {
  readonly code: string
  /** Milliseconds between its keys: the longest, and the middle one. */
  readonly slowest: number
  readonly pace: number
  readonly end: 'Enter' | 'Tab' | null
}
const hearers = new Set<(b: Burst) => void>()
/** While somebody listens here, bursts go nowhere else. */
export function listenToBursts(hear: (b: Burst) => void): () => void {
  hearers.add(hear)
  return () => {
    hearers.delete(hear)
  }
}

export interface ScannerHearing {
  /** A whole code; `at` had the focus, where it was something that takes text. */
  onScan: (code: string, at: Element | null) => void
  /** Only the tail of a code came: nothing is done with it. */
  onPart: (tail: string) => void
  /** `2026-11-27`, for the century of a date in a code. */
  today: () => string
  habit: () => ScannerHabit
  /** Whether keys that a script made count too, as the scanner stand-in of the demonstration makes them. */
  synthetic: () => boolean
  /** Whether what was scanned before is still being looked up: what is typed now is meant for where that leads. */
  busy: () => boolean
  /** Escape while something is looked up: it is left be. */
  onLeave: () => void
  /** Typed by hand after a scan that is still being looked up; `ended` by Enter or Tab. */
  onTyped: (text: string, ended: boolean) => void
}

/** After a pause this long, milliseconds, what was typed before is forgotten. */
const FORGET = 5000
/** What is held goes back to its field when no key has come for so long, milliseconds. */
const GIVE_BACK = 200

const TEXT = /^(text|search|tel|url|email|password|number|date|time|month|datetime-local)$/
/** Whether what is typed becomes text there: not in a box that is ticked. */
export const takesText = (el: Element | null): el is HTMLInputElement | HTMLTextAreaElement =>
  el instanceof HTMLTextAreaElement || (el instanceof HTMLInputElement && TEXT.test(el.type))
const strip = (): HTMLInputElement | null => document.querySelector<HTMLInputElement>('#scan-strip')

/** FNC1 comes as itself, as its picture, or as Ctrl+]; on some keyboards as Alt and 029. */
function signOf(e: KeyboardEvent): string {
  if (e.key === GS || e.key === '\u241d' || (e.ctrlKey && !e.altKey && (e.key === ']' || e.code === 'BracketRight')))
    return GS
  // Alt with a key's own letter or digit is a command of the screen (where it types something, it is another character).
  if (e.altKey && !e.ctrlKey && /^(Digit|Key)/.test(e.code) && e.key.toUpperCase() === e.code.at(-1)) return ''
  return [...e.key].length === 1 && !e.metaKey && (!e.ctrlKey || e.altKey) ? e.key : ''
}
function standing(el: Element | null): Stood | undefined {
  if (el instanceof HTMLSelectElement) return { el, value: el.value, from: null, to: null }
  if (!takesText(el)) return undefined
  const chosen = !(el instanceof HTMLInputElement) || /^(text|search|tel|url|password)$/.test(el.type)
  return { el, value: el.value, from: chosen ? el.selectionStart : null, to: chosen ? el.selectionEnd : null }
}

/**
 * Hears a keyboard-wedge scanner whatever has the focus; `readBurst` says what a burst is. From the second quick key on
 * nothing reaches the page; what did is put back, and no button is pressed. The keys of a quick typist are given back.
 * Keys that nothing has the focus for go into the scan strip, where they are seen. `early` are keys that were pressed before there
 * was a page to hear them: a burst may have begun or ended among them. Returns what ends the hearing.
 */
export function listenToScanner(hearing: ScannerHearing, early: readonly KeyboardEvent[] = []): () => void {
  let keys: Heard[] = []
  let last = -Infinity
  let ended = -Infinity
  let altDigits = ''
  /** Whether the strip was empty, or nothing had the focus, when the burst began; and what had it before the strip. */
  let free = false
  let before: Element | null = null
  let active: Element | null = null
  /** Keys are held that were typed after a scan which was still being looked up. */
  let ahead = false
  /** What had the focus when keys began to be held. */
  let heldFor: Element | null = null
  /** Keys are heard that reached nothing when they were pressed. */
  let late = false
  let timer: number | undefined
  let over: number | undefined

  const stop = (e: Event) => {
    e.preventDefault()
    e.stopImmediatePropagation()
  }
  const held = () => keys.filter(k => !k.reached)
  /** The text of keys that were held, which are held no more. */
  const letGo = (back: readonly Heard[]) => {
    for (const k of back) k.reached = true
    return back.map(k => (k.sign === GS ? '' : k.sign)).join('')
  }
  const giveBack = () => {
    window.clearTimeout(timer)
    const text = letGo(held())
    const isAhead = ahead
    ahead = false
    if (!text) return
    if (isAhead) return hearing.onTyped(text, false)
    const now = document.activeElement
    // The one way to insert as if typed, with undo and input events; where the focus has gone on, into the field it left.
    if (now === heldFor || !takesText(heldFor)) document.execCommand('insertText', false, text)
    else {
      const { selectionStart: at, selectionEnd: to, value } = heldFor
      write(heldFor, value.slice(0, at ?? value.length) + text + value.slice(to ?? value.length))
    }
  }
  const forget = () => {
    giveBack()
    window.clearTimeout(over)
    keys = []
    altDigits = ''
    before = active = null
  }
  /** The key before which it was noted how things stood, for what began with the key `from`. */
  const beginning = (from: number) => keys.findLastIndex((k, i) => i <= from && k.began)
  /** Takes out of its field again what the burst wrote there, from the key `from` on; where somebody else wrote meanwhile, theirs stands. */
  const restore = (from: number) => {
    const start = beginning(from)
    const stood = keys[start]?.began?.stood
    if (!stood || stood.el.value === stood.value) return
    const reached = (a: number, b: number) =>
      keys
        .slice(a, b)
        .filter(k => k.reached && k.sign !== GS)
        .map(k => k.sign)
        .join('')
    const { el, value } = stood
    if (stood.from === null || stood.to === null) return write(el, value)
    const hand = reached(start, from)
    const typed = value.slice(0, stood.from) + hand
    const rest = value.slice(stood.to)
    if (el.value !== typed + reached(from, keys.length) + rest) return
    write(el, hand ? typed + rest : value)
    if (el instanceof HTMLSelectElement) return
    if (hand) el.setSelectionRange(typed.length, typed.length)
    else el.setSelectionRange(stood.from, stood.to)
  }
  /** Keys that nothing has the focus for go to the strip; a list or menu has its own use for them. */
  const toStrip = (e: KeyboardEvent, sign: string) => {
    const now = document.activeElement
    if (takesText(now) || now instanceof HTMLSelectElement || sign === ' ' || sign === '/' || sign === '?') return
    if (e.ctrlKey || e.altKey || asks()) return
    if (now?.closest('[role="menu"], [role="listbox"], [role="grid"], [role="radiogroup"]')) return
    before = now
    strip()?.focus({ preventScroll: true })
  }
  const add = (sign: string, e: KeyboardEvent, since: number) => {
    if (!keys.length) {
      toStrip(e, sign)
      active = document.activeElement
      free = !(takesText(active) || active instanceof HTMLSelectElement) || (active === strip() && !strip()!.value)
    }
    const begins = !keys.length || since > PAUSE || (keys.length === 1 && keys[0]!.sign === '/')
    const busy = hearing.busy()
    const hold =
      late || busy || (keys.length > 0 && (sign === GS || since <= QUICK || (since <= GIVE_BACK && held().length > 1)))
    if (!hold) giveBack()
    else if (!held().length) heldFor = document.activeElement
    ahead ||= busy
    keys.push({
      sign,
      since,
      reached: !hold,
      began: begins ? { at: document.activeElement, stood: standing(document.activeElement) } : undefined,
    })
    if (hold) stop(e)
    window.clearTimeout(timer)
    // After a scan that is still being looked up there is time to see whether it is another.
    timer = window.setTimeout(giveBack, busy ? STUTTER : GIVE_BACK)
    window.clearTimeout(over)
    if (hearers.size) over = window.setTimeout(() => hear(null), STUTTER + GIVE_BACK)
  }
  /** The test of a scanner hears all that came without much of a pause, ended or not. */
  const hear = (end: Burst['end']): boolean => {
    const gaps = keys.slice(1).map(k => k.since)
    const pace = [...gaps].sort((a, b) => a - b)[gaps.length >> 1] ?? Infinity
    if (keys.length < 4 || pace > (end ? PAUSE : QUICK)) return false
    const code = keys.map(k => k.sign).join('')
    restore(0)
    leave()
    drop()
    for (const h of hearers) h({ code, slowest: Math.max(...gaps), pace, end })
    return true
  }
  const drop = () => {
    letGo(keys)
    forget()
  }
  /** What had the focus before the strip has it again. */
  const leave = () => {
    if (active === strip() && before) {
      if (before instanceof HTMLElement && before !== document.body && before.isConnected)
        before.focus({ preventScroll: true })
      else strip()?.blur()
    }
  }
  const end = (e: KeyboardEvent, since: number) => {
    if (hearers.size && hear(e.key as 'Enter')) {
      ended = last
      return stop(e)
    }
    const r: BurstReading = keys.length
      ? readBurst({ keys, ending: since, free, today: hearing.today(), habit: hearing.habit() })
      : { as: 'typed' }
    if (r.as === 'typed') {
      // A scanner that ends with both Enter and Tab, or with two Enters, has ended once.
      if (last - ended < 100) stop(e)
      else if (ahead || hearing.busy()) {
        stop(e)
        window.clearTimeout(timer)
        ahead = false
        hearing.onTyped(letGo(held()), true)
      }
      return forget()
    }
    stop(e)
    const byHand = ahead ? letGo(keys.slice(0, r.from).filter(k => !k.reached)) : ''
    if (byHand) hearing.onTyped(byHand, false)
    restore(r.from)
    const began = keys[beginning(r.from)]?.began?.at ?? null
    const at = began === strip() ? null : began
    leave()
    drop()
    ended = last
    if (r.as === 'scan') hearing.onScan(r.code, at)
    else hearing.onPart(r.code)
  }
  const down = (e: KeyboardEvent) => {
    if (
      (!e.isTrusted && (given.has(e) || !hearing.synthetic())) ||
      /^(Shift|Control|Alt|AltGraph|Meta|CapsLock|NumLock)$/.test(e.key)
    )
      return
    const since = e.timeStamp - last
    last = e.timeStamp
    if (since > FORGET) forget()
    // Of a long note only the end can be a code.
    if (keys.length > 150) keys = keys.slice(-100)
    if (e.altKey && /^Numpad\d$/.test(e.code)) {
      stop(e)
      altDigits += e.code.at(-1)
      return
    }
    if ((e.key === 'Enter' && !e.ctrlKey && !e.metaKey) || e.key === 'Tab') return end(e, since)
    // Whatever comes after another key ends nothing once more.
    ended = -Infinity
    const sign = e.repeat ? '' : signOf(e)
    if (sign) add(sign, e, since)
    else if (e.key === 'Backspace' && ahead && held().length) {
      stop(e)
      keys.pop()
    } else if (e.key === 'Escape' && hearing.busy()) {
      stop(e)
      forget()
      hearing.onLeave()
    } else forget()
  }
  const up = (e: KeyboardEvent) => {
    if (e.key === 'Alt' && altDigits) {
      const sign = String.fromCharCode(Number(altDigits))
      altDigits = ''
      add(sign, e, e.timeStamp - last)
      last = e.timeStamp
    } else if (e.key === ' ' && held().length) stop(e)
  }
  late = true
  for (const e of early) down(e)
  late = false
  window.addEventListener('keydown', down, true)
  window.addEventListener('keyup', up, true)
  window.addEventListener('pointerdown', forget, true)
  return () => {
    forget()
    window.removeEventListener('keydown', down, true)
    window.removeEventListener('keyup', up, true)
    window.removeEventListener('pointerdown', forget, true)
  }
}
