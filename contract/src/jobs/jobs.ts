import { z } from 'zod'
import { Code, Day, Decimal, fileMark, Instant, Name, Note, Revision, Short, Uuid, Value } from '../common.ts'
import { LevelsView } from '../ledger/slips.ts'
import { AnySlipKind } from '../papers/content.ts'
import { changedLines, savedPaper } from '../papers/drafts.ts'
import { idOf } from '../things.ts'
import { ItemNamed } from './templates.ts'

/** Where a job stands. `standing`: it is no more than a name that slips are charged to. */
export const JobState = z.enum(['planned', 'picking', 'in_work', 'done', 'dropped', 'standing'])
export type JobState = z.infer<typeof JobState>
/** What somebody says of how far a job is. */
export const PlannedState = JobState.exclude(['standing'])

/** A time of day by ISO 8601; empty: none was said. */
const Time = z
  .string()
  .regex(/^(([01]\d|2[0-3]):[0-5]\d)?$/, 'a time like 18:30 is wanted')
  .default('')
const typed = z.string().max(60).default('')
const unit = z.string().max(120).nullable().default(null)

/** When a job comes again by the calendar: a part of the rules of RFC 5545 (`FREQ=WEEKLY;INTERVAL=2;BYDAY=TH`); empty: it does not. */
const Repeats = z
  .string()
  .max(120)
  .regex(
    /^(FREQ=(DAILY(;INTERVAL=[1-9]\d{0,2})?|WEEKLY(;INTERVAL=[1-9]\d?)?(;BYDAY=(MO|TU|WE|TH|FR|SA|SU)(,(MO|TU|WE|TH|FR|SA|SU)){0,6})?|MONTHLY(;INTERVAL=[1-9]\d?)?(;BYMONTHDAY=([1-9]|[12]\d|3[01]))?))?$/,
    'a rule like FREQ=WEEKLY;INTERVAL=2;BYDAY=TH is wanted',
  )
  .default('')
/** It comes again so many days after it is over. */
const Again = z.number().int().min(1).max(3650).nullable().default(null)

/** What a job says of the whole. */
export const JobHead = z
  .object({
    code: Code,
    name: Name,
    place: idOf('place'),
    day: Day.nullable().default(null),
    time: Time,
    /** Who sees to it. */
    person: idOf('person').nullable().default(null),
    costCentre: idOf('cost_centre').nullable().default(null),
    /** By what another system calls it. */
    reference: Short.trim().default(''),
    note: Note.default(''),
    /** For how much; of what only uses, how many times. Empty: what the template is for. */
    typed,
    unit,
    repeats: Repeats,
    again: Again,
  })
  .refine(h => h.repeats === '' || h.again === null, {
    message: 'either by the calendar or after it is over',
    path: ['again'],
  })
  .refine(h => h.repeats === '' || h.day !== null, { message: 'from which day on?', path: ['day'] })
  .meta({ id: 'JobHead' })
export type JobHead = z.infer<typeof JobHead>

/** What a job needs of an item. Nothing typed: as much as its template says. */
export const JobLine = z
  .object({
    id: idOf('own'),
    item: idOf('item'),
    typed,
    unit,
    optional: z.boolean().default(false),
    from: idOf('place').nullable().default(null),
    note: Short.default(''),
  })
  .meta({ id: 'JobLine' })
export type JobLine = z.infer<typeof JobLine>
const DraftLine = JobLine.omit({ id: true }).meta({ id: 'JobDraftLine' })

/** A job that begins: by a template, like an earlier job, or empty. Without a place it is only a name. */
export const NewJob = z
  .object({
    /** Nothing: the next number of a job; of one that is done nowhere, a code out of its name. */
    code: Code.nullable().default(null),
    /** Nothing: what its template or the earlier job is called. */
    name: Name.nullable().default(null),
    costCentre: idOf('cost_centre').nullable().default(null),
    place: idOf('place').nullable().default(null),
    template: idOf('template').nullable().default(null),
    like: idOf('job').nullable().default(null),
    day: Day.nullable().default(null),
    time: Time,
    person: idOf('person').nullable().default(null),
    reference: Short.trim().default(''),
    note: Note.default(''),
    typed,
    unit,
    repeats: Repeats,
    again: Again,
    lines: z.array(JobLine).max(200).default([]),
  })
  .refine(j => j.repeats === '' || (j.again === null && j.day !== null), {
    message: 'either by the calendar, from a day on, or after it is over',
    path: ['repeats'],
  })
  .refine(j => j.template === null || j.like === null, {
    message: 'either by a template or like a job',
    path: ['like'],
  })
  .refine(j => j.place !== null || (!j.template && !j.like && !j.lines.length && !j.day), {
    message: 'where it is done is wanted',
    path: ['place'],
  })
  .meta({ id: 'NewJob' })
export type NewJob = z.infer<typeof NewJob>
export type NewJobInput = z.input<typeof NewJob>

/** What is to be saved of a job; the revision of the head that was seen stands in `If-Match`. */
export const JobChanges = z
  .object({ head: JobHead.optional(), lines: changedLines(DraftLine) })
  .meta({ id: 'JobChanges' })
export type JobChanges = z.infer<typeof JobChanges>

const Placed = z.object({ id: Uuid, place: z.string(), quantity: Decimal })
/** Another job, in a few words. */
const JobNamed = z.object({ id: Uuid, code: z.string(), name: z.string(), state: JobState })

/** Where a need comes from, in one word: the worst of its parts says it. */
export const Whence = z.enum(['here', 'made', 'coming', 'elsewhere', 'late', 'missing'])
export type Whence = z.infer<typeof Whence>
/** Whether a need is met in time that comes from there. */
export const isInTime = (w: Whence): boolean => w === 'here' || w === 'made' || w === 'coming'
/** Something that may be taken in the place of a need: so much of it, and how much of that is here. */
export const InPlace = z.object({ item: ItemNamed, typed: z.string(), stands: Decimal, here: Decimal })
export const JobLineView = JobLine.extend({
  revision: Revision,
  position: z.number().int(),
  /** Whoever saved it last. */
  by: z.string(),
  named: ItemNamed,
  /** In base units; 0 where it cannot be read. Exactly: before it was rounded, where its template says it. */
  need: Decimal,
  exact: z.string().nullable(),
  /** Why what was typed cannot be read; it is kept. */
  unread: z.string().nullable(),
  /** What was taken for it so far, and what is left to take. */
  used: Decimal,
  left: Decimal,
  /** What of it was picked, and lies with the job. */
  lies: Decimal,
  /** Set aside for it; `wished`: what was asked to be, where stock has fallen under it. */
  held: Decimal,
  wished: Decimal,
  keeps: z.array(z.object({ place: Uuid, placeName: z.string(), lot: z.string().nullable(), quantity: Decimal })),
  whence: Whence,
  here: Decimal,
  coming: Decimal,
  comesOn: Day.nullable(),
  elsewhere: z.array(Placed),
  late: Decimal,
  lateOn: Day.nullable(),
  missing: Decimal,
  /** The lot and the place that are taken first of what is here. */
  first: z.object({ place: z.string(), lot: z.string().nullable() }).nullable(),
  /** The job by which it is made. */
  made: JobNamed.extend({ quantity: Decimal }).nullable(),
  /** What may be taken in its place, as its template says: so much stands for what is not here (else for what is left). */
  instead: z.array(InPlace),
  levels: LevelsView,
  /** What was planned at what really came of the job, and how what was used stands beside it; null: nothing came or was used yet. */
  planned: Decimal.nullable(),
  deviation: Decimal.nullable(),
  deviationWorth: Value.nullable().optional(),
  /** What was used is worth, as the books have it now. */
  usedWorth: Value.nullable().optional(),
  /** What was used of it the last time, where the job comes again and again. */
  last: Decimal.nullable(),
  /** What one costs there, and what all of it is worth. */
  cost: Value.nullable().optional(),
  worth: Value.nullable().optional(),
})
export type JobLineView = z.infer<typeof JobLineView>

/** A job with what it needs, whether that is there, what it costs and how many could be made. */
export const JobView = z
  .object({
    id: Uuid,
    /** Of the head. */
    revision: Revision,
    /** Of the whole. */
    version: Revision,
    by: z.string(),
    savedAt: Instant,
    state: JobState,
    /** Its number for scanning. */
    own: z.string(),
    head: JobHead,
    placeName: z.string(),
    personName: z.string().nullable(),
    costCentreName: z.string().nullable(),
    template: z
      .object({ id: Uuid, name: z.string(), version: z.number().int(), last: z.number().int(), steps: z.string() })
      .nullable(),
    /** What comes of it, and how long that keeps; null: it only uses. */
    makes: ItemNamed.extend({ shelfLife: z.number().int().nullable() }).nullable(),
    /** For how much it is, in base units or times; 0 where it says nothing of that. */
    wanted: Decimal,
    wantedUnit: z.string(),
    unread: z.string().nullable(),
    /** How much of it came so far. */
    made: Decimal,
    lines: z.array(JobLineView),
    /** What comes of it beside what it makes, at how much it is for. */
    besides: z.array(z.object({ item: ItemNamed, quantity: Decimal })),
    /** What was picked for it and lies in another area, where it was to be done before. */
    behind: z.array(z.object({ place: z.string(), item: ItemNamed, quantity: Decimal })),
    /** What was wasted for it, and why. */
    wasted: z.array(z.object({ item: ItemNamed, quantity: Decimal, reason: z.string(), worth: Value.optional() })),
    /** What was taken for it beside what it needs. */
    others: z.array(z.object({ item: ItemNamed, quantity: Decimal, worth: Value.optional() })),
    /** What was booked for it, the latest first. */
    slips: z.array(z.object({ id: Uuid, number: z.string(), kind: AnySlipKind, title: z.string(), at: Instant })),
    /** Whether more was booked before those. */ earlier: z.boolean(),
    /** What is made for it first, and what it is made for. */
    parts: z.array(JobNamed),
    parent: JobNamed.nullable(),
    /** Of one that comes again: the one before it, and the next. */
    before: JobNamed.nullable(),
    next: JobNamed.extend({ day: Day.nullable() }).nullable(),
    could: Decimal.nullable(),
    short: z.array(z.object({ item: ItemNamed, quantity: Decimal })),
    cost: Value.nullable().optional(),
    one: Value.nullable().optional(),
    mayChange: z.boolean(),
  })
  .meta({ id: 'JobView' })
export type JobView = z.infer<typeof JobView>
/** A job of which somebody has said how far it is; `lost`: what had been set aside before it was over, and is not free any more. */
export const JobStated = JobView.extend({ lost: z.array(z.object({ item: ItemNamed, quantity: Decimal })) }).meta({
  id: 'JobStated',
})
export type JobStated = z.infer<typeof JobStated>
export const JobSaved = z.object({ ...savedPaper(JobHead, DraftLine), job: JobView }).meta({ id: 'JobSaved' })
export type JobSaved = z.infer<typeof JobSaved>

export const JobRow = z
  .object({
    id: Uuid,
    code: z.string(),
    name: z.string(),
    state: JobState,
    place: Uuid,
    placeName: z.string(),
    day: Day.nullable(),
    time: z.string(),
    personName: z.string().nullable(),
    costCentreName: z.string().nullable(),
    /** It comes again. */
    standing: z.boolean(),
    wanted: Decimal,
    wantedUnit: z.string(),
    /** The job that it is made for. */
    parent: JobNamed.nullable(),
    needs: z.number().int(),
    /** How many of its needs can be met by what is here, kept for it or made; and how the worst of them stands. */
    met: z.number().int(),
    whence: Whence.nullable(),
  })
  .meta({ id: 'JobRow' })
export type JobRow = z.infer<typeof JobRow>

/** A job that needs an item: how much more, of that what is kept for it, and whether the rest can be had. */
export const ItemNeed = z
  .object({
    job: JobNamed,
    place: Uuid,
    placeName: z.string(),
    day: Day.nullable(),
    left: Decimal,
    held: Decimal,
    whence: Whence,
    missing: Decimal,
  })
  .meta({ id: 'ItemNeed' })
export type ItemNeed = z.infer<typeof ItemNeed>

/** What is set aside for a job: of one need or of all, where and of which lot it is wished; nothing said: whatever is here. */
export const Reserving = z
  .object({
    need: idOf('own').nullable().default(null),
    place: idOf('place').nullable().default(null),
    lot: idOf('lot').nullable().default(null),
    typed,
    unit,
  })
  .meta({ id: 'Reserving' })
/** What is taken in the place of a need; nothing typed: for all of it that is not here, or else all that is left. */
export const TakingInstead = z
  .object({ need: idOf('own'), item: idOf('item'), typed, unit })
  .meta({ id: 'TakingInstead' })
export type TakingInstead = z.infer<typeof TakingInstead>
/** How much is made now; nothing typed: what is still to be made. */
export const Making = z.object({ id: idOf('draft'), typed, unit }).meta({ id: 'Making' })
/** What was set aside is free again: of one need, or of all. */
export const Freeing = z.object({ need: idOf('own').nullable().default(null) }).meta({ id: 'Freeing' })

/** Jobs as another system has them, as CSV with a line of names at its head; some hundreds at once. */
export const JobsBrought = z
  .object({ text: z.string().max(2_000_000), place: idOf('place'), decimalMark: fileMark })
  .meta({ id: 'JobsBrought' })
/** What came of them: each by its reference. */
export const JobsTaken = z
  .object({
    rows: z.array(
      z.object({
        reference: z.string(),
        id: Uuid,
        name: z.string(),
        /** `over`: it is done or dropped here, and stays as it is. */
        came: z.enum(['new', 'changed', 'same', 'over']),
      }),
    ),
  })
  .meta({ id: 'JobsTaken' })
export type JobsTaken = z.infer<typeof JobsTaken>
