import { desc, sql } from 'drizzle-orm'
import { type JobHead, type JobsBrought, type JobsTaken, NewJob } from '@shelve/contract'
import type { z } from 'zod'
import { alike, type DateOrder, groupBy } from '@shelve/core'
import { item } from '../catalogue/index.ts'
import { costCentre } from '../costcentres/index.ts'
import { folded, Refused, type Wrong } from '../ground/index.ts'
import { person } from '../people/index.ts'
import { typedOf } from '../papers/index.ts'
import { type Caller, reach } from '../rights/index.ts'
import type { House } from './house.ts'
import { type Column, MOST_JOBS, no, readRows, type Row, whenOf } from './jobs-file.ts'
import { isOpen, needsOfJob, plannedByReference } from './rows.ts'
import { template } from './tables.ts'
import { beginJob, headOf, lineOf, saveJob } from './writing.ts'

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
  const rows = readRows(input.text, input.decimalMark)
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
      ...whenOf(first, house.organisation!.dateOrder as DateOrder),
      note: first.of('note'),
      lines: of
        .filter(r => r.of('item'))
        .map(r => {
          const item = find(r, 'item', things!)
          const typed = r.of('quantity')
          // On the job's page it would wait there to be put right; nobody looks at a file once it is taken.
          const unread = item && typed && typedOf(house, house.known.item(item)!, { typed, unit: null }).unread
          if (unread) wrong.push({ at: r.at, message: unread })
          return { id: house.uid(), item: item ?? house.uid(), typed }
        }),
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
