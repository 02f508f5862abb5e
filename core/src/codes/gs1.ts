import { decimal } from '../quantity/decimal.ts'
import type { Quantity } from '../quantity/micro.ts'
import { checkDigit } from './gtin.ts'

/** FNC1 as it arrives from a scanner: the ASCII group separator. */
export const GS = '\x1d'

interface Rule {
  readonly ai: RegExp
  readonly size: number
  readonly fixed: boolean
  readonly form: 'digits' | 'text' | 'date' | 'gtin' | 'sscc'
  readonly name: string
}
const rule = (ai: string, size: number, fixed: boolean, form: Rule['form'], name: string): Rule => ({
  ai: new RegExp(`^${ai}$`),
  size,
  fixed,
  form,
  name,
})

/** The application identifiers Shelve reads. Source: GS1 General Specifications, section 3, from memory. */
const RULES: readonly Rule[] = [
  rule('00', 18, true, 'sscc', 'container'),
  rule('01', 14, true, 'gtin', 'article'),
  rule('02', 14, true, 'gtin', 'contained article'),
  rule('10', 20, false, 'text', 'lot'),
  rule('11', 6, true, 'date', 'made on'),
  rule('13', 6, true, 'date', 'packed on'),
  rule('15', 6, true, 'date', 'best before'),
  rule('16', 6, true, 'date', 'sell by'),
  rule('17', 6, true, 'date', 'expiry'),
  rule('20', 2, true, 'digits', 'variant'),
  rule('21', 20, false, 'text', 'serial number'),
  rule('240', 30, false, 'text', 'maker’s number'),
  rule('241', 30, false, 'text', 'customer’s number'),
  rule('30', 8, false, 'digits', 'count'),
  rule('37', 8, false, 'digits', 'contained count'),
  rule('310[0-5]', 6, true, 'digits', 'net weight, kg'),
  rule('311[0-5]', 6, true, 'digits', 'length, m'),
  rule('315[0-5]', 6, true, 'digits', 'net volume, L'),
  rule('320[0-5]', 6, true, 'digits', 'net weight, lb'),
  rule('392[0-9]', 15, false, 'digits', 'price'),
  rule('400', 30, false, 'text', 'order number'),
  rule('410', 13, true, 'digits', 'ship to'),
  rule('414', 13, true, 'digits', 'place'),
]

export interface Element {
  readonly ai: string
  readonly value: string
  readonly name: string
}
/** What a GS1 element string says, in Shelve's words. Dates are `2027-03-31`; `weight` in kg, `volume` in L, `length` in m. */
export interface Gs1 {
  readonly elements: readonly Element[]
  readonly gtin?: string
  readonly sscc?: string
  readonly lot?: string
  readonly serial?: string
  readonly expiry?: string
  readonly count?: Quantity
  readonly weight?: Quantity
  readonly volume?: Quantity
  readonly length?: Quantity
  readonly order?: string
}
export type Gs1Reading =
  | { readonly ok: true; readonly reading: Gs1; readonly alternatives: readonly Gs1[] }
  | {
      readonly ok: false
      readonly code:
        'not_gs1' | 'unknown_ai' | 'wrong_check_digit' | 'not_a_date' | 'too_long' | 'too_short' | 'wrong_character'
      readonly at: string
    }

/** Printable characters that may stand in a text field (GS1 character set 82). */
const TEXT = /^[!"%&'()*+,\-./0-9:;<=>?A-Z_a-z]+$/

/**
 * Reads a GS1 element string: as a scanner sends it (FNC1 as ASCII 29 ends a field of variable length; a symbology
 * prefix `]C1`, `]d2`, `]Q3` or `]e0` may lead), or with brackets as people write it. Where the separators were lost
 * (`lost`, or when the plain reading cannot be), the one way to cut it into fields that fits all lengths, dates and
 * check digits is taken; further ways stand in `alternatives`. `today` (`2026-11-25`) decides the century.
 */
export function readGs1(text: string, today: string, lost = false): Gs1Reading {
  const body = text.replace(/^\](C1|d2|Q3|e0)/, '').replace(new RegExp(`^${GS}`), '')
  if (body.startsWith('(')) return readBracketed(body, today)
  const prefixed = body !== text
  if (!prefixed && !/^\d{2}/.test(body)) return { ok: false, code: 'not_gs1', at: body.slice(0, 8) }
  const plain = cut(body, today, false)
  const separated = body.includes(GS)
  if (plain.ok && (separated || !lost)) return { ok: true, reading: sense(plain.ways[0]!, today), alternatives: [] }
  const free = separated ? plain : cut(body, today, true)
  if (!free.ok) return plain.ok ? { ok: true, reading: sense(plain.ways[0]!, today), alternatives: [] } : plain
  // Several ways: a date behind its own identifier is rarely chance, an identifier that suppliers hardly print often is.
  const likely = (way: Element[]) =>
    way.reduce((sum, e) => sum + (/^1[1-7]$/.test(e.ai) ? 2 : /^(0[012]|10|21|3[07])$/.test(e.ai) ? 0 : -1), 0)
  const ways = free.ways.sort((a, b) => likely(b) - likely(a)).map(w => sense(w, today))
  return { ok: true, reading: ways[0]!, alternatives: ways.slice(1, 4) }
}

type Ways = { readonly ok: true; readonly ways: Element[][] } | Extract<Gs1Reading, { ok: false }>
const MOST_WAYS = 24

function cut(rest: string, today: string, anywhere: boolean, seen: readonly string[] = []): Ways {
  if (rest === '') return { ok: true, ways: [[]] }
  const found = ruleAt(rest)
  if (!found) return { ok: false, code: 'unknown_ai', at: rest.slice(0, 4) }
  const { ai, rule } = found
  if (seen.includes(ai)) return { ok: false, code: 'unknown_ai', at: ai }
  const after = rest.slice(ai.length)
  const end = after.indexOf(GS)
  const open = end < 0 ? after.length : end
  const lengths = rule.fixed
    ? [rule.size]
    : anywhere && end < 0
      ? Array.from({ length: Math.min(rule.size, open) }, (_, i) => Math.min(rule.size, open) - i)
      : [open]
  const ways: Element[][] = []
  let first: Extract<Gs1Reading, { ok: false }> | undefined
  for (const n of lengths) {
    const value = after.slice(0, n)
    const wrong = n > open || value.length < n ? bad('too_short', ai) : judgeValue(rule, ai, value, today)
    if (wrong) {
      first ??= wrong
      continue
    }
    const tail = cut(after.slice(n).replace(new RegExp(`^${GS}`), ''), today, anywhere, [...seen, ai])
    if (!tail.ok) {
      first ??= tail
      continue
    }
    for (const t of tail.ways) if (ways.length < MOST_WAYS) ways.push([{ ai, value, name: rule.name }, ...t])
  }
  return ways.length ? { ok: true, ways } : (first ?? bad('too_short', ai))
}

const bad = (code: Extract<Gs1Reading, { ok: false }>['code'], at: string) => ({ ok: false as const, code, at })

function ruleAt(text: string): { ai: string; rule: Rule } | undefined {
  for (const n of [2, 3, 4]) {
    const ai = text.slice(0, n)
    const found = RULES.find(r => r.ai.test(ai))
    if (found) return { ai, rule: found }
  }
  return undefined
}

function judgeValue(rule: Rule, ai: string, value: string, today: string) {
  if (value.length === 0) return bad('too_short', ai)
  if (value.length > rule.size) return bad('too_long', ai)
  if (rule.form === 'text') return TEXT.test(value) ? undefined : bad('wrong_character', ai)
  if (!/^\d+$/.test(value)) return bad('wrong_character', ai)
  if (rule.form === 'gtin' || rule.form === 'sscc')
    return checkDigit(value.slice(0, -1)) === Number(value.at(-1)) ? undefined : bad('wrong_check_digit', ai)
  return rule.form === 'date' && !gs1Date(value, today) ? bad('not_a_date', ai) : undefined
}

function readBracketed(text: string, today: string): Gs1Reading {
  const elements: Element[] = []
  const parts = text.split(/\((\d{2,4})\)/).slice(1)
  for (let i = 0; i < parts.length; i += 2) {
    const ai = parts[i]!
    const value = parts[i + 1]!.replaceAll(GS, '')
    const found = RULES.find(r => r.ai.test(ai))
    if (!found) return bad('unknown_ai', ai)
    if (found.fixed && value.length !== found.size) return bad(value.length < found.size ? 'too_short' : 'too_long', ai)
    const wrong = judgeValue(found, ai, value, today)
    if (wrong) return wrong
    elements.push({ ai, value, name: found.name })
  }
  return elements.length
    ? { ok: true, reading: sense(elements, today), alternatives: [] }
    : bad('not_gs1', text.slice(0, 8))
}

/**
 * A date `YYMMDD`. Day 00 is the last day of the month. The century: a year 51 to 99 ahead of this one is in the last
 * century, one 50 to 99 behind in the next. Source: GS1 General Specifications, section 7.12, from memory.
 */
export function gs1Date(text: string, today: string): string | undefined {
  const year = Number(today.slice(0, 4))
  const ahead = Number(text.slice(0, 2)) - (year % 100)
  const century = Math.floor(year / 100) + (ahead >= 51 ? -1 : ahead <= -50 ? 1 : 0)
  const y = century * 100 + Number(text.slice(0, 2))
  const m = Number(text.slice(2, 4))
  const leap = (y % 4 === 0 && y % 100 !== 0) || y % 400 === 0
  const last = m === 2 ? (leap ? 29 : 28) : ([31, 0, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31][m - 1] ?? 0)
  const d = text.slice(4, 6) === '00' ? last : Number(text.slice(4, 6))
  return d >= 1 && d <= last ? `${y}-${String(m).padStart(2, '0')}-${String(d).padStart(2, '0')}` : undefined
}

function sense(elements: readonly Element[], today: string): Gs1 {
  const get = (pattern: RegExp) => elements.find(e => pattern.test(e.ai))
  const scaled = (e: Element | undefined) =>
    e
      ? decimal(
          `${e.value.slice(0, e.value.length - Number(e.ai[3])) || '0'}.${e.value.slice(e.value.length - Number(e.ai[3])) || '0'}`,
        )
      : undefined
  const pounds = scaled(get(/^320/))
  const out: Record<string, unknown> = {
    gtin: get(/^0[12]$/)?.value,
    sscc: get(/^00$/)?.value,
    lot: get(/^10$/)?.value,
    serial: get(/^21$/)?.value,
    order: get(/^400$/)?.value,
    expiry: (d => (d ? gs1Date(d.value, today) : undefined))(get(/^17$/) ?? get(/^15$/)),
    count: (c => (c ? decimal(c.value) : undefined))(get(/^3[07]$/)),
    volume: scaled(get(/^315/)),
    length: scaled(get(/^311/)),
    weight:
      scaled(get(/^310/)) ?? (pounds === undefined ? undefined : (pounds * 45_359_237n + 50_000_000n) / 100_000_000n),
  }
  return { elements, ...Object.fromEntries(Object.entries(out).filter(([, v]) => v !== undefined)) }
}
