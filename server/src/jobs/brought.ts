import { parse } from 'csv-parse/sync'
import { desc, sql } from 'drizzle-orm'
import { type JobHead, type JobsBrought, type JobsTaken, NewJob } from '@shelve/contract'
import type { z } from 'zod'
import { alike, groupBy } from '@shelve/core'
import { item } from '../catalogue/index.ts'
import { costCentre } from '../costcentres/index.ts'
import { folded, Refused, type RefusedField } from '../ground/index.ts'
import { person } from '../people/index.ts'
import { type Caller, reach } from '../rights/index.ts'
import type { House } from './house.ts'
import { isOpen, needsOfJob, plannedByReference } from './rows.ts'
import { template } from './tables.ts'
import { beginJob, headOf, lineOf, saveJob } from './writing.ts'

const COLUMNS = [
  'reference',
  'name',
  'template',
  'for how much',
  'day',
  'time',
  'cost centre',
  'responsible',
  'note',
  'item',
  'quantity',
] as const
type Column = (typeof COLUMNS)[number]
/** A line of the file: its number in it, and what stands in each column. */
interface Row {
  readonly at: number
  readonly of: (column: Column) => string
}

/** The lines of a file of jobs; what is no such file is refused in words. */
function readRows(text: string): Row[] {
  let records: { record: string[]; info: { lines: number } }[]
  try {
    records = parse(text, {
      bom: true,
      delimiter: [',', ';', '\t'],
      info: true,
      relax_column_count: true,
      skip_empty_lines: true,
      trim: true,
    }) as unknown as typeof records
  } catch (e) {
    throw no([{ at: 0, message: `This is no CSV file: ${(e as Error).message.split('\n')[0]}` }])
  }
  const [head, ...rows] = records
  const names = head?.record.map(n => n.toLowerCase().replaceAll('_', ' ')) ?? []
  if (!names.includes('reference'))
    throw no([
      { at: 1, message: `The first line names the columns. Known are ${COLUMNS.join(', ')}; reference must be there.` },
    ])
  const unknown = names.filter(n => !(COLUMNS as readonly string[]).includes(n))
  if (unknown.length)
    throw no([{ at: 1, message: `Nobody knows the column ${unknown.join(', ')}. Known are ${COLUMNS.join(', ')}.` }])
  return rows.map(({ record, info }) => ({ at: info.lines, of: c => record[names.indexOf(c)] ?? '' }))
}
interface Wrong {
  readonly at: number
  readonly message: string
}
/** So many jobs come at once: nobody else books while they are written. */
const MOST_JOBS = 500
const no = (wrong: readonly Wrong[]): Refused => {
  const fields = wrong.slice(0, 20).map((w): RefusedField => ({
    line: null,
    field: 'text',
    code: 'jobs_not_read',
    message: w.at ? `Line ${w.at}: ${w.message}` : w.message,
  }))
  return new Refused(422, 'jobs_not_read', `${fields[0]!.message} Nothing was taken.`, fields)
}

/** Finds what a file names by its code or its name; what nobody knows is told to `wrong`. */
function finder(house: House, wrong: Wrong[]) {
  const found = new Map<string, string | null>()
  return (row: Row, column: Column, look: (word: string) => string | undefined): string | null => {
    const word = row.of(column)
    if (!word) return null
    const key = `${column} ${word}`
    let uid = found.get(key)
    if (uid === undefined) found.set(key, (uid = look(word) ?? null))
    if (uid === null) wrong.push({ at: row.at, message: `there is no ${column} “${word}”.` })
    return uid
  }
}
/** Whoever is meant by a word of the file: by its code, or else by its name, however it is written. Read once for a whole file. */
function directory(
  house: House,
  table: typeof costCentre | typeof template | typeof item,
): (word: string) => string | undefined {
  let found: ((word: string) => string | undefined) | undefined
  const read = () => {
    const { uid, code, name } = table
    const rows = house.db.select({ uid, code, name }).from(table).orderBy(desc(table.id)).all()
    const by = (what: 'code' | 'name') => new Map(rows.map(r => [folded(r[what] ?? ''), r.uid]))
    const [codes, names] = [by('code'), by('name')]
    return (word: string) => codes.get(folded(word)) ?? names.get(folded(word))
  }
  return word => (found ??= read())(word)
}
const personNamed = (house: House, word: string) =>
  house.db
    .select({ uid: person.uid })
    .from(person)
    .where(sql`fold(${person.name}) = fold(${word}) or fold(${person.signIn}) = fold(${word})`)
    .get()?.uid

/**
 * Takes jobs from another system, by its own reference: the first time a job begins, later it becomes what the file says of
 * it; said again it stays as it is. A job may stand on several lines, one for each item it needs. All or nothing.
 */
export function bringJobs(
  house: House,
  caller: Caller,
  input: z.output<typeof JobsBrought>,
): JobsTaken & { items: number[] } {
  const wrong: Wrong[] = []
  const find = finder(house, wrong)
  const rows = readRows(input.text)
  for (const r of rows) if (!r.of('reference')) wrong.push({ at: r.at, message: 'a reference is wanted.' })
  const byReference = groupBy(rows, r => r.of('reference'))
  if (byReference.size > MOST_JOBS)
    throw no([
      {
        at: 0,
        message: `These are ${byReference.size} jobs; at most ${MOST_JOBS} come at once. Send them in several files.`,
      },
    ])
  const [templates, centres, things] = [template, costCentre, item].map(table => directory(house, table))
  const taken: JobsTaken['rows'] = []
  const items: number[] = []
  for (const [reference, of] of byReference) {
    const first = of[0]!
    const job = {
      reference,
      name: first.of('name') || null,
      place: input.place,
      template: find(first, 'template', templates!),
      costCentre: find(first, 'cost centre', centres!),
      person: find(first, 'responsible', w => personNamed(house, w)),
      typed: first.of('for how much'),
      day: first.of('day') || null,
      time: first.of('time'),
      note: first.of('note'),
      lines: of
        .filter(r => r.of('item'))
        .map(r => ({
          id: house.uid(),
          item: find(r, 'item', things!) ?? house.uid(),
          typed: r.of('quantity'),
        })),
    }
    const read = NewJob.safeParse(job)
    if (!read.success) {
      const { path, message } = read.error.issues[0]!
      wrong.push({ at: first.at, message: `${path.filter(p => typeof p === 'string').join(' ') || 'job'}: ${message}` })
    }
    if (wrong.length || !read.success) continue
    try {
      const one = bringOne(house, caller, read.data)
      taken.push(one.row)
      items.push(...one.items)
    } catch (e) {
      if (!(e instanceof Refused)) throw e
      wrong.push({ at: first.at, message: e.message })
    }
  }
  if (wrong.length) throw no(wrong)
  return { rows: taken, items }
}

function bringOne(house: House, caller: Caller, said: NewJob): { row: JobsTaken['rows'][number]; items: number[] } {
  const known = plannedByReference(house, said.reference)
  if (!known) {
    const { id, items } = beginJob(house, caller, said)
    const { name } = house.rows.job.get({ uid: id })!
    return { row: { reference: said.reference, id, name, came: 'new' }, items }
  }
  const { job: row, plan } = known
  const answer = { reference: said.reference, id: row.uid, name: row.name }
  if (!isOpen(row)) return { row: { ...answer, came: 'over' }, items: [] }
  const is = headOf(house, known)
  const head: JobHead = {
    ...is,
    name: said.name ?? is.name,
    day: said.day,
    time: said.time || is.time,
    person: said.person ?? is.person,
    costCentre: said.costCentre ?? is.costCentre,
    note: said.note || is.note,
    ...(said.typed.trim() ? { typed: said.typed, unit: said.unit } : {}),
  }
  const there = needsOfJob(house, row.id)
  const seen = reach(house, caller)
  const lines = said.lines.flatMap(({ id, ...l }) => {
    const stands = there.find(n => house.known.itemById(n.itemId)!.uid === l.item)
    const line = { ...(stands ? lineOf(house, stands, seen) : l), typed: l.typed, unit: l.unit }
    if (stands && alike(line, lineOf(house, stands, seen))) return []
    return [{ id: stands?.uid ?? id, seen: stands?.revision ?? 0, position: stands?.position ?? 1 << 30, line }]
  })
  if (alike(head, is) && !lines.length) return { row: { ...answer, came: 'same' }, items: [] }
  const { items } = saveJob(house, caller, row.uid, { head, lines }, plan.revision)
  return { row: { ...answer, name: head.name, came: 'changed' }, items }
}
