import {
  asWasSaid,
  type DraftChanges,
  DraftHead,
  DraftLine,
  type DraftSaved,
  type DraftView,
  type SlipContent,
  type SlipKind,
  MOST_LINES,
  type SlipLine,
  strangeFields,
  withValuesOf,
} from '@shelve/contract'
import { alike, fateOf, LINE_GAP, type StoredLine } from '@shelve/core'
import { eq } from 'drizzle-orm'
import type { z } from 'zod'
import { iso, notFound, Refused } from '../ground/index.ts'
import { about, type Caller, demandAt, seesValue } from '../rights/index.ts'
import { beginDraft, headColumns, insertLine, lineOf, lineText, type SlipRecord, tellOf, titleOf } from './drafts.ts'
import { ownEntries } from './handed.ts'
import type { House } from './house.ts'
import { refuseUnknownPictures } from './pictures.ts'
import { takenOff } from './tables.ts'
import { tooManyLines } from './together.ts'
import { slipScope } from './view.ts'

/** A line of a draft as it stands, or the marker of one that was taken off. */
interface Standing extends StoredLine<SlipLine> {
  /** Its row; of a marker there is none. */
  readonly row: number | null
  readonly by: number
}
type Lines = Map<string, Standing>

const wholeLine = (l: { readonly uid: string; readonly content: string }): SlipLine =>
  asWasSaid({ kind: 'issue', lines: [lineOf(l)] }).lines[0]!

/** Everything that stands on a draft, and what was taken off it. */
function standing(house: House, slipId: number): Lines {
  const lines: Lines = new Map(
    house.rows.lines
      .all({ slip: slipId })
      .map(l => [
        l.uid,
        { row: l.id, revision: l.revision, position: l.position, by: l.savedBy, content: wholeLine(l) },
      ]),
  )
  for (const t of house.db.select().from(takenOff).where(eq(takenOff.slipId, slipId)).all())
    lines.set(t.uid, { row: null, revision: t.revision, position: 0, by: t.savedBy, content: null })
  return lines
}

const linesOf = (lines: Lines): SlipLine[] => [...lines.values()].flatMap(l => l.content ?? [])
/** What a draft says, of its lines as they were read already. */
const contentWith = (record: SlipRecord, lines: Lines): SlipContent => ({
  ...asWasSaid({ ...(JSON.parse(record.head) as object), lines: [] }),
  lines: linesOf(lines),
})
const nameOf = (house: House, person: number): string => house.rows.personName.get({ id: person })!.name
const headOf = ({ place, effectiveAt, taker, head }: SlipContent): DraftHead => ({ place, effectiveAt, taker, head })
const sent = (line: SlipLine | null): DraftLine | null => {
  if (line === null) return null
  const { id: _, ...rest } = line
  return rest
}

/** A draft as its reader may see it: whole, or its head and what of its lines was saved since a version. */
export function draftView(house: House, uid: string, since: number): DraftView {
  const record = wanted(house, uid)
  const there = standing(house, record.id)
  const lines = [...there]
    .filter(([, l]) => l.revision > since && (since > 0 || l.content !== null))
    .map(([id, l]) => ({
      id,
      revision: l.revision,
      position: l.position,
      by: nameOf(house, l.by),
      line: sent(l.content),
    }))
  const counters = new Set(lines.flatMap(l => l.line?.counter ?? []))
  return about(slipScope(house, record), {
    id: uid,
    counters: Object.fromEntries(
      [...counters].map(of => [of, house.rows.personNamed.get({ uid: of })?.name ?? 'somebody']),
    ),
    kind: record.kind as DraftView['kind'],
    version: record.version,
    savedAt: iso(record.savedAt),
    revision: record.revision,
    by: nameOf(house, record.savedBy),
    head: headOf(contentWith(record, there)),
    lines,
  })
}

/** A slip that is being written; what became of one that is not any more is said. */
function wanted(house: House, uid: string): SlipRecord {
  const found = house.rows.slip.get({ uid })
  if (!found) throw notFound('slip')
  if (found.state === 'booked')
    throw new Refused(409, 'booked_already', `This slip is booked already as ${found.number}.`)
  return found
}

/** Begins a draft and says what stands there. */
export function putDraft(house: House, caller: Caller, uid: string, given: SlipContent): DraftSaved {
  const content = ownEntries(given, caller)
  const record = house.store.client
    .transaction(() => {
      demandPlace(house, caller, content.place)
      mustNotSet(blindTo(house, caller, content.place), DraftHead, headOf(content), {}, null)
      for (const l of content.lines) mustNotSet(blindTo(house, caller, content.place), DraftLine, sent(l)!, {}, l.id)
      const draft = beginDraft(house, caller, uid, content)
      tellOf(house, caller, draft)
      return draft
    })
    .immediate()
  house.events.flush()
  const lines = house.rows.lines.all({ slip: record.id })
  return savedAnswer(house, record, {
    before: record.version - 1,
    lines: lines.map(l => ({ id: l.uid, revision: l.revision, position: l.position, was: null })),
    stale: { head: null, lines: [] },
  })
}

const savedAnswer = (
  house: House,
  record: SlipRecord,
  more: Pick<DraftSaved, 'before' | 'lines' | 'stale'>,
): DraftSaved =>
  about(slipScope(house, record), {
    id: record.uid,
    version: record.version,
    revision: record.revision,
    savedAt: iso(record.savedAt),
    ...more,
  })

function demandPlace(house: House, caller: Caller, place: string | null): void {
  const area = place === null ? undefined : house.places.id(place)
  if (area !== undefined) demandAt(house, caller, 'book', area)
}

/** Whether somebody may not see what things cost on a slip of a place; one of no place yet is its writer's. */
function blindTo(house: House, caller: Caller, place: string | null): boolean {
  const area = place === null ? undefined : house.places.id(place)
  return area === undefined ? !caller.may.has('see_value') : !seesValue(house, caller, house.places.scope([area]))
}
/** What is to be saved of somebody who does not see values: those that stand there stay, and none is set. */
function mustNotSet<T>(blind: boolean, schema: z.ZodType, given: T, stored: unknown, line: string | null): T {
  if (!blind) return given
  const { value, set } = withValuesOf(schema, given, stored)
  if (!set.length) return value
  const message = 'You may not see what things cost here, and so not set it either.'
  throw new Refused(
    403,
    'value_not_yours',
    message,
    set.map(path => ({ line, field: path.join('.'), code: 'value_not_yours', message })),
  )
}

/** A slip says only what its kind has; other fields are not kept in silence. */
function refuseStrange(kind: SlipKind, part: 'head' | 'line', given: object, line: string | null): void {
  const [field] = strangeFields(kind, part, given)
  if (field === undefined) return
  const message = `A slip of this kind has no such field: ${field}.`
  throw new Refused(422, 'invalid', message, [{ line, field, code: 'custom', message }])
}

/** One saving of a draft: what came of its lines, for the answer. */
class Saving {
  readonly lines: DraftSaved['lines'] = []
  readonly stale: DraftSaved['stale']['lines'] = []
  wrote = false
  readonly version: number
  #nextLine: number

  constructor(
    readonly house: House,
    readonly caller: Caller,
    readonly record: SlipRecord,
    readonly there: Lines,
  ) {
    this.version = record.version + 1
    this.#nextLine = house.rows.nextLine.get()!.id
  }

  take(change: DraftChanges['lines'][number], was: string | null = null): void {
    const { id, seen, position } = change
    const content = change.line === null ? null : { ...change.line, id }
    const stands = this.there.get(id)
    const fate = fateOf(stands, { id, seen, position, content }, alike)
    if (fate === 'stale') {
      this.stale.push({
        id,
        was,
        revision: stands?.revision ?? 0,
        position: stands?.position ?? 0,
        by: stands ? nameOf(this.house, stands.by) : '',
        yours: change.line,
        theirs: sent(stands?.content ?? null),
      })
      return
    }
    if (fate === 'write') this.#write(id, content, position, stands)
    const now = this.there.get(id)
    this.lines.push({ id, revision: now?.revision ?? 0, position: now?.position ?? 0, was })
  }

  #write(id: string, content: SlipLine | null, position: number, stands: Standing | undefined): void {
    const { house, caller, record, version: revision } = this
    const by = caller.id
    this.wrote = true
    let row = stands?.row ?? null
    if (content === null) {
      house.rows.deleteLine.run({ id: row! })
      const marker = { slipId: record.id, revision, savedBy: by }
      house.db
        .insert(takenOff)
        .values({ uid: id, ...marker })
        .onConflictDoUpdate({ target: takenOff.uid, set: marker })
        .run()
      row = null
    } else if (row === null) {
      house.db.delete(takenOff).where(eq(takenOff.uid, id)).run()
      row = this.#nextLine++
      insertLine(house, { id: row, uid: id, slip: record.id, position, revision, by, content: lineText(content) })
    } else house.rows.updateLine.run({ id: row, content: lineText(content), position, revision, savedBy: by })
    this.there.set(id, { row, revision, position, by, content })
  }

  refuseTooMany(): void {
    const lines = [...this.there.values()].filter(l => l.content !== null).length
    if (lines > MOST_LINES) throw tooManyLines(lines, 'Begin another for the rest.')
    // As many markers of what was taken off it are kept.
    if (this.there.size - lines > MOST_LINES)
      throw new Refused(
        422,
        'too_many_lines',
        `More than ${MOST_LINES} lines were taken off this slip. Begin another with what stands on it.`,
      )
  }
}

/**
 * Saves what was changed of a draft. What somebody else saved since, otherwise, stays as it is and is answered with both
 * versions; everything else is saved, durable before it is answered.
 */
export function saveDraft(
  house: House,
  caller: Caller,
  uid: string,
  changes: DraftChanges,
  seen: number | undefined,
): DraftSaved {
  const answer = house.store.client.transaction(() => saveNow(house, caller, uid, changes, seen)).immediate()
  house.events.flush()
  return answer
}

/** Puts lines on a draft behind those that stand there. */
export function addLines(house: House, caller: Caller, uid: string, more: readonly object[]): void {
  const { lines } = draftView(house, uid, 0)
  const last = lines.reduce((at, l) => Math.max(at, l.position), 0)
  saveDraft(
    house,
    caller,
    uid,
    {
      lines: asWasSaid({ kind: 'move', lines: more as SlipLine[] }).lines.map((line, i) => {
        return { id: line.id, seen: 0, position: last + (i + 1) * LINE_GAP, line: sent(line)! }
      }),
    },
    undefined,
  )
}

function saveNow(
  house: House,
  caller: Caller,
  uid: string,
  changes: DraftChanges,
  seen: number | undefined,
): DraftSaved {
  const record = wanted(house, uid)
  const there = standing(house, record.id)
  const before = contentWith(record, there)
  const kind = house.kinds.get(before.kind)!
  const blind = blindTo(house, caller, before.place)
  const saving = new Saving(house, caller, record, there)
  for (const c of changes.lines) {
    const stands = saving.there.get(c.id)
    const given = c.line && mustNotSet(blind, DraftLine, c.line, stands?.content ?? {}, c.id)
    if (given) refuseStrange(before.kind, 'line', given, c.id)
    const entry = given && kind.entry?.(stands?.content ?? null, { ...given, id: c.id }, before, caller.uid)
    if (entry && entry.id !== c.id) {
      // An entry of its own beside what stands: it is new, or was sent before and its answer got lost.
      const own = saving.there.get(entry.id)
      saving.take({ ...c, id: entry.id, seen: own?.revision ?? 0, line: sent(entry) }, c.id)
    } else saving.take({ ...c, line: entry ? sent(entry) : given })
  }
  saving.refuseTooMany()
  const theirs = headOf(before)
  let staleHead: DraftSaved['stale']['head'] = null
  let head: DraftHead | undefined
  if (changes.head) {
    const given = mustNotSet(blind, DraftHead, changes.head, theirs, null)
    refuseStrange(before.kind, 'head', given.head, null)
    if (!alike(given, theirs)) {
      if (seen === record.revision) head = given
      else staleHead = { revision: record.revision, by: nameOf(house, record.savedBy), theirs }
    }
  }
  const after: SlipContent = { ...before, ...head, lines: linesOf(there) }
  if (head && head.place !== before.place) demandPlace(house, caller, head.place)
  if (head || saving.wrote) refuseUnknownPictures(house, after)
  const common = { id: record.id, version: saving.version, savedAt: house.now(), title: titleOf(house, after) }
  const saved = head
    ? house.rows.saveHead.get({ ...common, savedBy: caller.id, ...headColumns(house, after) })!
    : saving.wrote
      ? house.rows.saveVersion.get(common)!
      : record
  if (saved !== record) tellOf(house, caller, saved)
  return savedAnswer(house, saved, {
    before: record.version,
    lines: saving.lines,
    stale: { head: staleHead, lines: saving.stale },
  })
}
