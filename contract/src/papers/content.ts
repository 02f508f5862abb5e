import { z } from 'zod'
import { SLIP_KINDS } from '@shelve/core'
import { Amount, Day, Instant, LOT_WRITTEN, Method, Note, Short, TypedValue } from '../common.ts'
import { FIELDS as counting } from '../counting/slip.ts'
import { FIELDS as issuing } from '../issuing/slip.ts'
import { FIELDS as jobs } from '../jobs/slip.ts'
import { FIELDS as moving } from '../moving/slip.ts'
import { FIELDS as receiving } from '../receiving/slip.ts'
import { idOf } from '../things.ts'
import { FIELDS as waste } from '../waste/slip.ts'

/** Kinds of slip that can be written on a screen or sent by a script. */
export const SlipKind = z.enum([
  'opening',
  'receipt',
  'issue',
  'bring_back',
  'recharge',
  'make',
  'move',
  'dispatch',
  'arrival',
  'relabel',
  'waste',
  'count',
  'closing',
  'supplier_return',
  'correction',
  'method_change',
])
export type SlipKind = z.infer<typeof SlipKind>
/** Any kind that the books know. */
export const AnySlipKind = z.enum(SLIP_KINDS)

const place = idOf('place').nullable().default(null)
/**
 * A line as it is typed. A draft may lack anything; what is missing is said when it is to be booked. Which fields count
 * depends on the kind of slip. Quantities are typed as people say them (`2 case + 3`), in `unit` where they name none.
 */
export const SlipLine = z
  .object({
    id: idOf('own'),
    item: idOf('item').nullable().default(null),
    typed: z.string().max(60).default(''),
    unit: z.string().max(120).nullable().default(null),
    lot: z
      .object({
        id: idOf('lot').nullable().default(null),
        ...LOT_WRITTEN,
      })
      .nullable()
      .default(null),
    from: place,
    to: place,
    price: TypedValue,
    discount: TypedValue,
    /** It is wasted: why. */ reason: idOf('reason').nullable().default(null),
    /** Of a list that is picked: how much of it is asked; what is typed was taken. */ asked: z
      .string()
      .max(60)
      .default(''),
    /** Of a make: it goes in, or it comes out. */ side: z.enum(['in', 'out']).default('in'),
    /** Of what comes out: its part of the cost beside the other outputs; nothing: 1. */ share: z
      .string()
      .max(30)
      .default(''),
    /** The issue line that is brought back, or charged to somebody else; the line that is corrected. */
    ref: idOf('line').nullable().default(null),
    difference: idOf('difference').nullable().default(null),
    /**
     * `invoice`: it names so much more than the price, or less; `invoiced_as`: it states the amount; `charges`: the head's
     * charges hold for the whole delivery that the line is of.
     */
    act: z
      .enum(['take_back', 'replace', 'price', 'invoice', 'invoiced_as', 'charges', 'found', 'close', 'none'])
      .default('none'),
    /** The amount that an invoice states for the line: of `invoiced_as`, and of what replaces an invoiced line. */ invoiced:
      TypedValue,
    /** `left_out`: on purpose; its note says why. */ counted: z
      .enum(['not', 'counted', 'confirmed', 'left_out'])
      .default('not'),
    countedAt: Instant.nullable().default(null),
    /** Whoever counted it: the server says so when the line is saved. */
    counter: idOf('person').nullable().default(null),
    unitCost: TypedValue,
    /** A second count of the same line: asked where the first is beyond tolerance. */
    again: z.string().max(60).default(''),
    override: z.boolean().default(false),
    /** It takes what is set aside for these jobs, by their codes, and its writer knows it. */
    accepts: z.array(Short).max(20).default([]),
    note: Short.default(''),
    /**
     * Of a delivery: it goes straight to a job or a cost centre, and a person there; it is charged and never lies on a shelf.
     * Of what is handed out: whom this line is for, whoever the others are for.
     */
    direct: z
      .object({
        job: idOf('job').nullable().default(null),
        costCentre: idOf('cost_centre').nullable().default(null),
        person: Short.default(''),
      })
      .nullable()
      .default(null),
    picture: idOf('picture').nullable().default(null),
    /** Of what is used of a container that was weighed or read off: so much is left in it, in the base unit. */
    leaves: z.union([z.literal(''), Amount]).default(''),
    /**
     * It is opened: how the container is called from then on, until when it may be used, what it weighs empty or full.
     * What is not said is worked out.
     */
    opened: z
      .object({
        code: Short.default(''),
        useBy: Day.nullable().default(null),
        weight: z.string().max(30).default(''),
        weighed: z.enum(['empty', 'full']).default('empty'),
      })
      .nullable()
      .default(null),
  })
  .meta({ id: 'SlipLine' })
export type SlipLine = z.infer<typeof SlipLine>
/** Whether somebody said of a line of a count how much there is. */
export const isCounted = ({ counted }: Pick<SlipLine, 'counted'>): boolean =>
  counted === 'counted' || counted === 'confirmed'

export const SlipHead = z
  .object({
    supplier: Short.default(''),
    deliveryNote: Short.default(''),
    charges: z
      .array(
        z.object({
          label: Short,
          amount: TypedValue,
          basis: z.enum(['value', 'quantity', 'weight']),
        }),
      )
      .max(10)
      .default([]),
    costCentre: idOf('cost_centre').nullable().default(null),
    job: idOf('job').nullable().default(null),
    /** It is for several, each for its part in per cent; then `job` and `costCentre` say nothing. */
    among: z
      .array(
        z.object({
          job: idOf('job').nullable().default(null),
          costCentre: idOf('cost_centre').nullable().default(null),
          percent: z.string().max(20).default(''),
        }),
      )
      .max(12)
      .default([]),
    reason: idOf('reason').nullable().default(null),
    /** What a change of cost method changes to; its lines name the items, `unitCost` a standard cost. */ method:
      Method.nullable().default(null),
    corrects: idOf('slip').nullable().default(null),
    /** Of a list that is picked for jobs: what it is called. */ pick: Short.default(''),
    /** Of what is sent: where it goes. */ towards: idOf('goal').nullable().default(null),
    /** By whom, or with what, it travels. */ carrier: Short.default(''),
    /** The day on which it is to be there. */ due: Day.nullable().default(null),
    /** Of what arrives: the slip that sent it. */ sent: idOf('slip').nullable().default(null),
    /** Who picks it. */ picker: idOf('person').nullable().default(null),
    /** Of a make: what it cost beside what went in. */ extra: TypedValue,
    /** More is made for the job later: it stays open. */ goesOn: z.boolean().default(false),
    blind: z.boolean().default(true),
    /** The sheet on paper that a count was written on. */ sheet: idOf('sheet').nullable().default(null),
    /** The group of items that is counted; null: all that lies in the place. */ group: idOf('count_group')
      .nullable()
      .default(null),
    /** The count that this one completes: what that one left is counted here. */ rest: idOf('slip')
      .nullable()
      .default(null),
    /** Each line is counted by two, unseen by each other. */ byTwo: z.boolean().default(false),
    why: Short.default(''),
    note: Note.default(''),
    /** Photographs: of a delivery note, of what came. */ pictures: z.array(idOf('picture')).max(8).default([]),
  })
  .meta({ id: 'SlipHead' })
export type SlipHead = z.infer<typeof SlipHead>

const HEAD = SlipHead.parse({})
const LINE = SlipLine.parse({ id: '00000000-0000-0000-0000-000000000000' })

/** What every slip may say. */
const EVERY = {
  head: ['note', 'pictures', 'why'],
  line: ['id', 'item', 'typed', 'unit', 'note', 'picture'],
} as const
/**
 * What each kind of slip says beside that: each room says it of its own. A correction puts a line of any kind in the place of
 * another, so it may say whatever they say.
 */
const FIELDS = {
  ...receiving,
  ...issuing,
  ...jobs,
  ...moving,
  ...waste,
  ...counting,
  correction: { head: Object.keys(SlipHead.shape), line: Object.keys(SlipLine.shape) },
  method_change: { head: ['method'], line: ['unitCost'] },
} as const satisfies Record<SlipKind, { readonly head: readonly string[]; readonly line: readonly string[] }>

/** Whether a field says what goes without saying; most are a text or nothing. */
const same = (said: unknown, silent: unknown): boolean =>
  said === silent ||
  (typeof said === 'object' && typeof silent === 'object' && JSON.stringify(said) === JSON.stringify(silent))

const fieldsOf = (part: 'head' | 'line') =>
  new Map(Object.entries(FIELDS).map(([kind, of]) => [kind, new Set<string>([...EVERY[part], ...of[part]])]))
const KNOWN = { head: fieldsOf('head'), line: fieldsOf('line') }
const SILENT: { readonly [part in 'head' | 'line']: Record<string, unknown> } = { head: HEAD, line: LINE }
/** Fields of a head or a line in which a slip of a kind says something that such a slip does not have. */
export function strangeFields(kind: SlipKind, part: 'head' | 'line', said: object): string[] {
  const known = KNOWN[part].get(kind)!
  // Asked of each line with each key: most lines say nothing strange, and no list is made for them.
  const strange: string[] = []
  for (const field in said) {
    if (known.has(field)) continue
    const value = (said as Record<string, unknown>)[field]
    if (value !== undefined && !same(value, SILENT[part][field])) strange.push(field)
  }
  return strange
}

/** So many lines a slip may have. */
export const MOST_LINES = 500

/** What a slip says. `place` is the area it is written in; `effectiveAt` null means now. */
export const SlipContent = z
  .object({
    kind: SlipKind,
    place,
    effectiveAt: Instant.nullable().default(null),
    taker: Short.default(''),
    head: SlipHead.prefault({}),
    lines: z.array(SlipLine).max(MOST_LINES).default([]),
  })
  .refine(c => new Set(c.lines.map(l => l.id)).size === c.lines.length, {
    message: 'two lines have the same id',
    path: ['lines'],
  })
  .superRefine((c, context) => {
    const no = (path: (string | number)[]) =>
      context.addIssue({ code: 'custom', path, message: 'a slip of this kind has no such field' })
    for (const field of strangeFields(c.kind, 'head', c.head)) no(['head', field])
    for (const [i, line] of c.lines.entries())
      for (const field of strangeFields(c.kind, 'line', line)) no(['lines', i, field])
  })
  .meta({ id: 'SlipContent' })
export type SlipContent = z.infer<typeof SlipContent>
export type SlipContentInput = z.input<typeof SlipContent>

const CONTENT = { place: null, effectiveAt: null, taker: '' }
/** What a slip says, without what goes without saying. */
export type Said = Omit<Partial<SlipContent>, 'lines' | 'head'> & {
  readonly head?: Partial<SlipHead>
  readonly lines: readonly (Partial<SlipLine> & Pick<SlipLine, 'id'>)[]
}
/** What of something is otherwise than where nothing is said. */
function otherwise<T extends object>(given: T, silent: Partial<T>): Partial<T> {
  const out: Partial<T> = {}
  for (const key of Object.keys(given) as (keyof T)[])
    if (!(key in silent) || !same(given[key], silent[key])) out[key] = given[key]
  return out
}
/**
 * What a slip says, without what goes without saying. That is what is stored and what its hash is over, so that a field
 * that is added later changes neither.
 */
export function saidOf({ lines, head, ...rest }: SlipContent): Said {
  const said = otherwise(head, HEAD)
  return {
    ...otherwise(rest, CONTENT),
    ...(Object.keys(said).length ? { head: said } : {}),
    lines: lines.map(l => ({ ...lineSaid(l), id: l.id })),
  }
}
/** What a line says, without its id and what goes without saying. */
export function lineSaid(line: SlipLine): Partial<SlipLine> {
  const { id: _, ...said } = otherwise(line, LINE)
  return said
}
/** The slip as it was, of what it said: not judged anew, since a contract that is stricter by now does not unsay it. */
export const asWasSaid = ({ lines, head, ...rest }: Said): SlipContent =>
  ({
    ...CONTENT,
    ...rest,
    head: { ...HEAD, ...head },
    lines: lines.map(l => ({ ...LINE, ...l })),
  }) as SlipContent
