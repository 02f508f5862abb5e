import { z } from 'zod'
import { Instant, Revision, Uuid } from '../common.ts'
import { idOf } from '../things.ts'
import { MOST_LINES, SlipContent, SlipKind, SlipLine } from './content.ts'

/**
 * A paper that is being written is a head and lines, each with the revision at which it was last saved. Whoever saves
 * sends what they changed with the revision they saw; what was saved meanwhile and says something else is answered with
 * both versions and stays as it is, everything else is saved.
 */
const Seen = z.number().int().min(0)
const Position = z.number().int().min(0).max(Number.MAX_SAFE_INTEGER)
const once = (of: readonly { readonly id: string }[]) => new Set(of.map(l => l.id)).size === of.length
const ONCE = { message: 'two lines have the same id' }

/** Changed lines of a paper: `seen` 0 is a new one; `line` null takes it off. */
export const changedLines = <L extends z.ZodType>(line: L) =>
  z
    .array(z.object({ id: idOf('own'), seen: Seen, position: Position, line: line.nullable() }))
    .max(2 * MOST_LINES)
    .default([])
    .refine(once, ONCE)
/** Lines as they stand on a paper; `line` null is the marker of one that was taken off. `by` saved it last. */
export const toldLines = <L extends z.ZodType>(line: L) =>
  z.array(z.object({ id: Uuid, revision: Seen, position: Position, by: z.string(), line: line.nullable() }))
/** Lines that were not saved: somebody else saved them since, otherwise. `was`: the id under which it was sent, where that differs. */
const staleLines = <L extends z.ZodType>(line: L) =>
  z.array(
    z.object({
      id: Uuid,
      was: Uuid.nullable(),
      revision: Seen,
      position: Position,
      by: z.string(),
      yours: line.nullable(),
      theirs: line.nullable(),
    }),
  )
/** What every saving of a paper answers, beside the paper's own. */
export const savedPaper = <H extends z.ZodType, L extends z.ZodType>(head: H, line: L) => ({
  id: Uuid,
  version: Revision,
  /** The version it was saved upon; 0 where it was begun. */ before: Seen,
  /** Of the head. */ revision: Revision,
  savedAt: Instant,
  /** Lines as they were saved, or stood there already; revision 0: there is none, and there was none to take off. `was`: the id under which it was sent, where that differs. */
  lines: z.array(z.object({ id: Uuid, revision: Seen, position: Position, was: Uuid.nullable() })),
  stale: z.object({
    head: z.object({ revision: Revision, by: z.string(), theirs: head }).nullable(),
    lines: staleLines(line),
  }),
})

/** A line of a slip without its id, which stands beside it. */
export const DraftLine = SlipLine.omit({ id: true }).meta({ id: 'DraftLine' })
export type DraftLine = z.infer<typeof DraftLine>
/** What a slip says of the whole. Its kind stays as it was begun. */
export const DraftHead = z
  .object({
    place: SlipContent.shape.place,
    effectiveAt: SlipContent.shape.effectiveAt,
    taker: SlipContent.shape.taker,
    head: SlipContent.shape.head,
  })
  .meta({ id: 'DraftHead' })
export type DraftHead = z.infer<typeof DraftHead>

/** What is to be saved of a draft; the revision of the head that was seen stands in `If-Match`. */
export const DraftChanges = z
  .object({ head: DraftHead.optional(), lines: changedLines(DraftLine) })
  .meta({ id: 'DraftChanges' })
export type DraftChanges = z.infer<typeof DraftChanges>
export const DraftSaved = z.object(savedPaper(DraftHead, DraftLine)).meta({ id: 'DraftSaved' })
export type DraftSaved = z.infer<typeof DraftSaved>
/** A draft as it stands: whole, or its head and what was saved of its lines since a version. */
export const DraftView = z
  .object({
    id: Uuid,
    kind: SlipKind,
    version: Revision,
    savedAt: Instant,
    revision: Revision,
    by: z.string(),
    head: DraftHead,
    lines: toldLines(DraftLine),
    /** The names of those who counted, by their ids. */ counters: z.record(Uuid, z.string()),
  })
  .meta({ id: 'Draft' })
export type DraftView = z.infer<typeof DraftView>
/** What of a draft was seen by whoever books it: the revisions of its head and of each of its lines. */
export const DraftSeen = z
  .object({
    revision: Revision,
    lines: z
      .array(z.object({ id: idOf('own'), revision: Revision }))
      .max(MOST_LINES)
      .refine(once, ONCE),
  })
  .meta({ id: 'DraftSeen' })
export type DraftSeen = z.infer<typeof DraftSeen>
