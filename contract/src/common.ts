import { z } from 'zod'
import { IDENTIFIED_BY, METHODS } from '@shelve/core'
import { showsValue, uuid } from './things.ts'

/** So often the stream of events says that it is still there (ms). */
export const BEAT = 10_000
/** Each answer of a server whose database a backup was put in place of says when, by this header. */
export const PUT_BACK_HEADER = 'shelve-put-back'

/** The id of something, in an answer. */
export const Uuid = uuid()
/** An exact amount as a decimal string: point, no grouping, at most 6 decimals. Never a JSON number. */
export const Decimal = z.string().regex(/^-?\d{1,12}(\.\d{1,6})?$/, 'a decimal number like "2.5" is wanted')
/** The same where nothing below zero makes sense. */
export const Amount = z
  .string()
  .regex(/^\d{1,12}(\.\d{1,6})?$/, 'a decimal number like "2.5", not below zero, is wanted')
/** Per cent of something, up to the whole of it. */
export const Percent = Amount.refine(p => Number(p) <= 100, '100 or less is wanted')
/**
 * How far off a count may be before a second one is asked: each limit that is set holds. The quantity in the base unit, the
 * per cent of what was expected, the value in the currency.
 */
export const Tolerance = z
  .object({
    quantity: Amount.nullable().default(null),
    percent: Percent.nullable().default(null),
    value: Amount.nullable().default(null),
  })
  .meta({ id: 'Tolerance' })
export type Tolerance = z.infer<typeof Tolerance>
/** An amount of money that something costs or is worth, where it may be hidden. */
export const Value = showsValue(z.string().regex(/^-?\d{1,12}(\.\d{1,6})?$/, 'a decimal number like "2.5" is wanted'))
/** The same as somebody types it. */
export const TypedValue = showsValue(z.string().max(30).default(''))
/** An instant by RFC 3339 in UTC. */
export const Instant = z
  .string()
  .regex(/^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}(:\d{2}(\.\d{1,3})?)?Z$/, 'an instant like 2026-11-25T08:30:00Z is wanted')
  .refine(t => !Number.isNaN(Date.parse(t)), 'no such instant')
/** A date by ISO 8601. */
export const Day = z
  .string()
  .regex(/^\d{4}-\d{2}-\d{2}$/, 'a date like 2026-11-25 is wanted')
  .refine(t => {
    const d = new Date(`${t}T00:00:00Z`)
    return !Number.isNaN(d.getTime()) && d.toISOString().startsWith(t) && t >= '1900'
  }, 'no such date, or one before 1900')
/** A lot as it stands on a label: its number and its date. */
export const LOT_WRITTEN = {
  code: z
    .string()
    .trim()
    .max(60)
    .regex(/^[^\p{Cc}]*$/u)
    .default(''),
  expiry: Day.nullable().default(null),
}
// Control characters have no place in names and notes; line breaks only in notes.
export const Name = z
  .string()
  .trim()
  .min(1, 'a name is wanted')
  .max(120)
  .regex(/^[^\p{Cc}]*$/u, 'no control characters')
export const Code = z
  .string()
  .trim()
  .min(1, 'a code is wanted')
  .max(60)
  .regex(/^[^\p{Cc}]*$/u, 'no control characters')
export const Note = z
  .string()
  .max(2000)
  .regex(/^[^\p{Cc}]*$|^[^\0-\x09\x0b-\x1f\x7f]*$/u, 'no control characters')
export const Short = z
  .string()
  .max(200)
  .regex(/^[^\p{Cc}]*$/u, 'no control characters')

/** A problem by RFC 9457. `code` is stable; `fields` name what is wrong where. */
export const Problem = z
  .object({
    type: z.string(),
    title: z.string(),
    status: z.number().int(),
    code: z.string(),
    detail: z.string(),
    fields: z.array(
      z.object({
        line: Uuid.nullable(),
        field: z.string().nullable(),
        code: z.string(),
        message: z.string(),
        detail: z.record(z.string(), z.unknown()),
      }),
    ),
  })
  .meta({ id: 'Problem' })
export type Problem = z.infer<typeof Problem>

export const Cursor = z.string().max(400)
/** A page of a list: pass `next` as `cursor` to go on; null at the end. */
export const page = <T extends z.ZodType>(of: T) =>
  z.object({ rows: z.array(of), next: Cursor.nullable(), total: z.number().int().nullable() })
export const Limit = z.coerce.number().int().min(1).max(500)
export const Query = z.string().max(100)
export const Revision = z.number().int().min(1)
export const Method = z.enum(METHODS)
export const IdentifiedBy = z.enum(IDENTIFIED_BY)

/** How a file marks decimals. Nothing: as its own numbers show. */
export const fileMark = z.enum(['.', ',']).nullable().default(null)
