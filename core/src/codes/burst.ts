import { readGs1 } from './gs1.ts'
import { isGtin, isSscc } from './gtin.ts'
import { readOwnCode } from './own.ts'

/** A key of a burst: its sign, and the milliseconds since the key before it. */
export interface BurstKey {
  readonly sign: string
  readonly since: number
}
/** What the scanner test has set for this device: the milliseconds between two keys of its scanner, and what it sends before each code. */
export interface ScannerHabit {
  readonly pace: number | null
  readonly prefix: string
}
export interface BurstAsHeard {
  /** All signs since something else happened (another key, a click, another field), oldest first. */
  readonly keys: readonly BurstKey[]
  /** Milliseconds from the last sign to the Enter or Tab that ended it. */
  readonly ending: number
  /** Nothing that takes text has the focus, or only the scan strip. */
  readonly free: boolean
  /** `2026-11-27`: decides the century of a GS1 date. */
  readonly today: string
  readonly habit?: ScannerHabit
}
/** What keys ended by Enter are: a scan, the tail of one whose head came too long before, or typing. `from`: the key it begins with, head and all. */
export type BurstReading =
  | { readonly as: 'scan'; readonly code: string; readonly from: number; readonly slowest: number }
  | { readonly as: 'part'; readonly code: string; readonly from: number }
  | { readonly as: 'typed' }

/** No hand is this quick over a whole code, milliseconds a key. */
export const QUICK = 35
/** A slow scanner: up to 100 ms a key, and what a clock adds. */
export const SLOW = 120
/** A hand that goes from the keys to the trigger takes longer; a scanner that stutters may too. */
export const PAUSE = 150
/** A code whose parts lie further apart than this is read as a whole only where its check digit says so. */
export const STUTTER = 1000
const LEAST = 4

const middle = (of: readonly number[]): number => [...of].sort((a, b) => a - b)[of.length >> 1] ?? Infinity

/** A code that proves itself: a check digit over at least eight signs, or a sign of our own before it. */
export function provesItself(code: string, today: string): boolean {
  const plain = code.replace(/^\][A-Za-z]\d/, '')
  if (readOwnCode(plain) || isGtin(plain) || isSscc(plain)) return true
  if (plain.length < 16) return false
  const gs1 = readGs1(code, today)
  return gs1.ok && (gs1.reading.gtin ?? gs1.reading.sscc) !== undefined
}

/** Keys that followed one another without a pause. */
interface Part {
  readonly from: number
  readonly to: number
}
const partsOf = (keys: readonly BurstKey[]): Part[] => {
  const starts = keys.flatMap((k, i) => (i === 0 || k.since > PAUSE ? [i] : []))
  return starts.map((from, n) => ({ from, to: starts[n + 1] ?? keys.length }))
}
const gapsOf = (keys: readonly BurstKey[], from: number, to = keys.length): number[] =>
  keys.slice(from + 1, to).map(k => k.since)

/** Quick throughout, but for a stutter: a short code has no room for more than one slow key in four. */
function quick(gaps: readonly number[], signs: number): boolean {
  const of = gaps.filter(g => g <= QUICK).length
  return signs >= LEAST && (signs >= 8 ? of * 2 >= gaps.length : of * 4 >= gaps.length * 3)
}
/** At a scanner's own even pace, but for one key in eight: a hand is quick here and slow there. */
function even(gaps: readonly number[], pace: number): boolean {
  return gaps.filter(g => g < pace * 0.6 || g > pace * 1.4).length * 8 <= gaps.length
}
/** What a slow burst must look like to be taken for a code: one word with a digit in it, and no amount. */
const codeLike = (text: string): boolean =>
  /^\S{4,}$/.test(text) &&
  (/^svc-/i.test(text) || (/\d/.test(text) && (text.length >= 8 || !/^[\d.,*+/-]+$/.test(text))))

/**
 * Says what keys that were ended by Enter or Tab are. A scan wherever it lands: what came at `QUICK` a key (most of its
 * gaps, so that a stutter does no harm), what the device's scanner puts its prefix before, and, up to `SLOW` a key, what
 * proves itself by a check digit. Where nothing has the focus, or at the pace that was set for this device, a slow burst
 * is one too if it looks like a code. What was typed before the burst is not part of it; the head of a burst that
 * stuttered is. A tail whose head cannot be put before it is never a code.
 */
export function readBurst({ keys, ending, free, today, habit }: BurstAsHeard): BurstReading {
  const parts = partsOf(keys)
  if (!parts.length) return { as: 'typed' }
  const text = (from: number) =>
    keys
      .slice(from)
      .map(k => k.sign)
      .join('')
  const gaps = (from: number) => [...gapsOf(keys, from), ending]
  const scan = (from: number, code = text(from)): BurstReading => ({
    as: 'scan',
    code,
    from,
    slowest: Math.max(...gapsOf(keys, from), 0),
  })
  /** How far back a burst goes: over each part before it that `fits` and lies near. */
  const back = (fits: (gaps: readonly number[]) => boolean, n = parts.length - 1): number => {
    const head = parts[n - 1]
    return head && keys[head.to]!.since <= STUTTER && head.to - head.from > 1 && fits(gapsOf(keys, head.from, head.to))
      ? back(fits, n - 1)
      : n
  }
  const at = habit?.prefix ? text(0).lastIndexOf(habit.prefix) : -1
  if (at >= 0 && at + habit!.prefix.length < keys.length && middle(gaps(at)) <= PAUSE)
    return scan(at, text(at + habit!.prefix.length))

  const proven = whole(parts, keys).find(from => middle(gaps(from)) <= SLOW && provesItself(text(from), today))
  if (proven !== undefined) return scan(proven)

  const isQuick = (of: readonly number[]) => middle(of) <= QUICK
  const n = back(isQuick)
  const { from } = parts[n]!
  if (quick(gaps(from), keys.length - from)) {
    const head = parts[n - 1]
    return head && head.to - head.from > 2 && isQuick(gapsOf(keys, head.from, head.to))
      ? { as: 'part', code: text(from), from: head.from }
      : scan(from)
  }
  // By hand a stroke leads to the strip, and is no part of what is typed there.
  const first = keys[0]!.sign === '/' ? 1 : 0
  if (free && keys.slice(1).every(k => k.since <= STUTTER) && middle(gaps(first)) <= SLOW && codeLike(text(first)))
    return scan(first)
  const pace = habit?.pace
  if (!pace) return { as: 'typed' }
  const start = parts[back(of => even(of, pace))]!.from
  return even(gaps(start), pace) && codeLike(text(start)) ? scan(start) : { as: 'typed' }
}

/**
 * Where a code that proves itself may begin, likeliest first: at a pause, the longest first, and not over what a hand
 * typed before it; a single sign that stands alone may be either, and comes last.
 */
function whole(parts: readonly Part[], keys: readonly BurstKey[]): number[] {
  const likely: number[] = []
  const single: number[] = []
  const limit = Math.max(QUICK, middle(gapsOf(keys, parts.at(-1)!.from)) * 1.5)
  for (const p of [...parts].reverse()) {
    if (p.to - p.from === 1) single.unshift(p.from)
    else if (p === parts.at(-1) || middle(gapsOf(keys, p.from, p.to)) <= limit) likely.unshift(p.from)
    else break
  }
  return [...likely, ...single]
}
