import { z } from 'zod'
import { Day, Decimal, Instant, Note, Revision, Short, Uuid } from '../common.ts'
import { idOf } from '../things.ts'
import { LevelsView } from '../ledger/slips.ts'
import { changedLines, savedPaper } from '../papers/drafts.ts'

/** Whence something is asked for: an area of our own, a supplier, or nobody yet. */
export const RestockSource = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('shelves'), id: idOf('place') }),
  z.object({ kind: z.literal('supplier'), id: idOf('supplier') }),
  z.object({ kind: z.literal('nobody'), id: z.null().default(null) }),
])
/** A line that is asked for: how much of an item for a place, as it was typed; `why` in the words of whoever or whatever put it there. */
export const RestockLine = z
  .object({
    id: idOf('own'),
    item: idOf('item'),
    place: idOf('place'),
    typed: z.string().max(60),
    unit: z.string().max(120).nullable().default(null),
    why: Short.default(''),
  })
  .meta({ id: 'RestockLine' })
export type RestockLine = z.infer<typeof RestockLine>
export const NewRestock = z
  .object({
    id: idOf('own'),
    source: RestockSource,
    lines: z
      .array(RestockLine)
      .max(300)
      .refine(of => new Set(of.map(l => l.id)).size === of.length, 'two lines have the same id'),
    note: Note.default(''),
  })
  .meta({ id: 'NewRestock' })
/** What a restock slip says of the whole. */
export const RestockHead = z.object({ source: RestockSource, note: Note.default('') }).meta({ id: 'RestockHead' })
export type RestockHead = z.infer<typeof RestockHead>
const DraftLine = RestockLine.omit({ id: true }).meta({ id: 'RestockDraftLine' })
/** What is to be saved of a slip that is being written; the revision of the head that was seen stands in `If-Match`. */
export const RestockChanges = z
  .object({ head: RestockHead.optional(), lines: changedLines(DraftLine) })
  .meta({ id: 'RestockChanges' })
/** Marks a slip as asked for: where (a shop's page, by telephone, by mail), their number, the day it is expected. */
export const AskedInput = z
  .object({
    where: Short.min(1, 'where it was asked for is wanted'),
    /** When; else now. */ at: Instant.nullable().default(null),
    number: Short.default(''),
    expected: Day.nullable().default(null),
  })
  .meta({ id: 'AskedInput' })
/** Mails a slip, and marks it as asked for where it was not yet. */
export const MailInput = z
  .object({
    to: z.email('an address like orders@example.org is wanted').max(200),
    number: Short.default(''),
    expected: Day.nullable().default(null),
  })
  .meta({ id: 'MailInput' })
/** A line of which nothing more will come, by its id, and why. */
export const Cancellation = z
  .object({ line: idOf('own'), why: Short.refine(t => t.trim() !== '', 'why it will not come is wanted') })
  .meta({ id: 'Cancellation' })
/** Why a slip that was handed over is given back. */
export const GivingBack = z
  .object({ why: Short.refine(t => t.trim() !== '', 'why it is given back is wanted') })
  .meta({ id: 'GivingBack' })
/** The delivery that is begun, by an id of its own, and the place that it came to. */
export const Arrival = z.object({ id: idOf('draft'), place: idOf('place') }).meta({ id: 'Arrival' })
/** A letter: queued (and when it is tried again), sent, or refused for good with the mail server's words. */
export const MailView = z
  .object({
    id: Uuid,
    to: z.string(),
    subject: z.string(),
    state: z.enum(['queued', 'sent', 'failed']),
    attempts: z.number().int(),
    at: Instant,
    sentAt: Instant.nullable(),
    nextAt: Instant.nullable(),
    trouble: z.string().nullable(),
  })
  .meta({ id: 'Mail' })
export type MailView = z.infer<typeof MailView>
/** Where else a thing lies: what may be used there, and what of it lies over. */
export const Elsewhere = z.object({ id: Uuid, place: z.string(), available: Decimal, spare: Decimal })
const ItemWords = { item: Uuid, code: z.string(), name: z.string(), unit: z.string() }
/** What the figures suggest of one item for one place. */
export const ProposalLine = z
  .object({
    ...ItemWords,
    place: Uuid,
    placeName: z.string(),
    levels: LevelsView,
    typed: z.string(),
    pack: z.string().nullable(),
    why: z.string(),
    elsewhere: z.array(Elsewhere),
  })
  .meta({ id: 'ProposalLine' })
export type ProposalLine = z.infer<typeof ProposalLine>
export const Proposal = z
  .object({ source: RestockSource, name: z.string(), lines: z.array(ProposalLine) })
  .meta({ id: 'Proposal' })
export type Proposal = z.infer<typeof Proposal>
export const RestockLineView = RestockLine.extend({
  revision: Revision,
  position: z.number().int(),
  /** Whoever saved it last. */ by: z.string(),
  code: z.string(),
  name: z.string(),
  base: z.string(),
  placeName: z.string(),
  /** What was typed, in base units; 0 where it cannot be read. */ quantity: Decimal,
  /** Why what was typed cannot be read; it is kept, and nothing is asked for before it can. */ unread: z
    .string()
    .nullable(),
  /** What has not come yet. */ owed: Decimal,
  /** It is owed for so long that it does not count as coming any more. */ late: z.boolean(),
  /** Nothing more of it will come: since when, by whose word, and why. */ cancelled: z
    .object({ at: Instant, by: z.string(), why: z.string() })
    .nullable(),
  levels: LevelsView,
  elsewhere: z.array(Elsewhere),
})
export type RestockLineView = z.infer<typeof RestockLineView>
export const RestockView = z
  .object({
    id: Uuid,
    /** Of the head. */ revision: Revision,
    /** Of the whole: whoever asks for it, or drops it, says which they saw. */ version: Revision,
    source: RestockSource,
    name: z.string(),
    /** Our number of it. */ number: z.string(),
    /** Whoever may only ask is done with it, since when. */ handed: z
      .object({ at: Instant, by: z.string() })
      .nullable(),
    /** It was handed over and given back: since when, by whom, and why. */ back: z
      .object({ at: Instant, by: z.string(), why: z.string() })
      .nullable(),
    state: z.enum(['open', 'asked', 'arrived', 'dropped']),
    by: z.string(),
    mine: z.boolean(),
    /** Whether the reader may write on it. */ may: z.boolean(),
    /** Whether the reader may send it out: mark it as asked for, mail it, say that it will not come. */ sends:
      z.boolean(),
    createdAt: Instant,
    note: z.string(),
    asked: z
      .object({
        at: Instant,
        by: z.string(),
        where: z.string(),
        number: z.string(),
        expected: Day.nullable(),
        move: Uuid.nullable(),
      })
      .nullable(),
    /** How this source was asked the last time, where the reader may look. */ lastWhere: z.string().nullable(),
    lines: z.array(RestockLineView),
    /** Whether this server sends mail, the address the last slip to this source went to, and the letters about this one. */ mail: z.object(
      { possible: z.boolean(), lastTo: z.string().nullable(), letters: z.array(MailView) },
    ),
  })
  .meta({ id: 'Restock' })
export type RestockView = z.infer<typeof RestockView>
export const RestockSaved = z
  .object({ ...savedPaper(RestockHead, DraftLine), slip: RestockView })
  .meta({ id: 'RestockSaved' })
export type RestockSaved = z.infer<typeof RestockSaved>
export const RestockRow = RestockView.omit({ lines: true, mail: true, lastWhere: true })
  .extend({
    /** A letter about it that is not sent yet. */ unsent: MailView.nullable(),
    count: z.number().int(),
    owed: z.number().int(),
    /** Lines that are owed for so long that they do not count as coming any more. */ late: z.number().int(),
  })
  .meta({ id: 'RestockRow' })
export type RestockRow = z.infer<typeof RestockRow>

/** Lists that fill a place up, one for each area of ours that it is filled from; items of which our shelves have too little. */
export const Refilled = z
  .object({
    lists: z.array(z.object({ id: Uuid, from: z.string(), lines: z.number().int() })),
    lacking: z.number().int(),
  })
  .meta({ id: 'Refilled' })
export type Refilled = z.infer<typeof Refilled>
