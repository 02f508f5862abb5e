import { FirstStock, type Item, ItemInput, type ItemsBrought, type ItemsTaken, LevelInput } from '@shelve/contract'
import type { z } from 'zod'
import { alike, groupBy } from '@shelve/core'
import { createItem, inputOf, type ItemRow, packsWritten, updateItem } from '../catalogue/index.ts'
import { folded, Refused, type Wrong } from '../ground/index.ts'
import { levelsIn, setLevel } from '../position/index.ts'
import type { Caller } from '../rights/index.ts'
import type { House } from './house.ts'
import {
  amountIn,
  type Column,
  dayIn,
  LIMITS,
  MOST_ITEMS,
  MOST_ROWS,
  no,
  numberIn,
  packsIn,
  readItems,
  type Row,
  saysOfPlace,
  shortened,
  wordIn,
  yesOrNo,
} from './items-file.ts'
import { type Known, knownTo, type Standing, WrongLine } from './named-in-file.ts'
import { bookOpenings, type Lies } from './opening.ts'

type Said = z.output<typeof ItemInput>
type Taken = ItemsTaken['rows'][number]
interface One {
  readonly row: Taken
  readonly itemId: number
  readonly lies: readonly (Lies & { readonly at: number })[]
}
/** What somebody only wanted to see: all of it was written, and is undone. */
export class Looked extends Error {
  constructor(readonly taken: ItemsTaken) {
    super('looked at')
  }
}
/**
 * Takes items from a spreadsheet, by their codes: what nobody knows begins, what is there becomes what the file says of it, and
 * an empty cell says nothing. What lies there already is booked of new items alone: taken again, the file doubles nothing. An
 * item may stand on several lines, one for each place or lot. All or nothing; with `look` nothing, and what it would be.
 */
export function bringItems(
  house: House,
  caller: Caller,
  { text, place, decimalMark, look }: ItemsBrought,
): ItemsTaken & { items: number[] } {
  const rows = readItems(text, decimalMark)
  const wrong: Wrong[] = rows.filter(r => !r.of('code')).map(r => ({ at: r.at, message: 'a code is wanted.' }))
  const byCode = groupBy(
    rows.filter(r => r.of('code')),
    r => folded(r.of('code')),
  )
  demandFew(rows.length, byCode.size)
  const known = knownTo(house, byCode, place)
  const taken: One[] = []
  for (const [code, of] of byCode)
    try {
      taken.push(bringOne(house, of, known.items.get(code), known))
    } catch (e) {
      if (e instanceof WrongLine) wrong.push({ at: e.at, message: e.message })
      else if (e instanceof Refused) wrong.push({ at: of[0]!.at, message: e.fields[0]?.message ?? e.message })
      else throw e
    }
  // What is kept in memory of set-up does not know them yet.
  house.forget({ items: taken.map(t => t.itemId) })
  const openings = wrong.length
    ? []
    : bookOpenings(
        house,
        caller,
        taken.flatMap(t => t.lies),
        ({ at }, why) => wrong.push({ at, message: why.message }),
      )
  if (wrong.length) throw no(wrong.sort((a, b) => a.at - b.at))
  const answer: ItemsTaken = {
    rows: taken.map(t => (look ? { ...t.row, id: null } : t.row)),
    categories: known.categories.made,
    openings: openings.map(o => ({
      ...o,
      id: look ? null : o.id,
      place: house.places.name(house.places.id(o.place)!),
    })),
  }
  if (look) throw new Looked(answer)
  return { ...answer, items: taken.filter(t => t.row.came === 'new' || t.row.changed.length).map(t => t.itemId) }
}

/** That there is something in a file, and no more than is written at once. */
function demandFew(lines: number, items: number): void {
  const refuse = (message: string) => {
    throw no([{ at: 0, message }])
  }
  if (!lines) refuse('There is no item in it, only the names of columns.')
  const said = 'come at once. Send them in several files.'
  if (lines > MOST_ROWS) refuse(`These are ${lines} lines; at most ${MOST_ROWS} ${said}`)
  if (items > MOST_ITEMS) refuse(`These are ${items} items; at most ${MOST_ITEMS} ${said}`)
}

/** By which column each field is said, as far as one says it. */
const SAYS: Partial<Record<keyof ItemInput, Column>> = {
  name: 'name',
  category: 'category',
  unit: 'unit',
  decimals: 'decimals',
  identifiedBy: 'identified by',
  method: 'cost method',
  standardCost: 'standard cost',
  packs: 'packs',
  codes: 'barcodes',
  shelfLifeDays: 'shelf life',
  daysOnceOpened: 'once opened',
  mass: 'weight',
  density: 'density',
  kept: 'kept',
  wasteCode: 'waste code',
  witnessed: 'witness',
  note: 'note',
}
/** What a line says, as the contract takes it; what it does not take is told by its column, as far as it has another name. */
function accepted<T extends z.ZodType>(
  as: T,
  said: unknown,
  at: number,
  columns: Readonly<Record<string, string | undefined>> = {},
): z.output<T> {
  const read = as.safeParse(said)
  if (read.success) return read.data
  const { path, message } = read.error.issues[0]!
  // Of a lot its own fields have columns, of a pack the pack has one.
  const column = columns[String(path[0])] ?? columns[String(path.at(-1))] ?? String(path[0])
  throw new WrongLine(at, `${column}: ${message}.`)
}

function bringOne(house: House, of: readonly Row[], stands: Standing | undefined, known: Known): One {
  const [first] = of as [Row]
  const { row, is } = stands ?? {}
  if (row && !row.active) {
    const { uid: id, code, name } = row
    return { row: { id, code, name, came: 'retired', changed: [], left: [] }, itemId: row.id, lies: [] }
  }
  const now = is && inputOf(is)
  const next = saidOfItem(of, now ?? { code: first.of('code'), name: '' }, known, is)
  const input = accepted(ItemInput, next, first.at, { ...SAYS, ...LIMITS })
  const before = now && ItemInput.parse(now)
  const changed: Taken['changed'] = before ? changesOf(before, input, is!, known) : []
  const id = row?.id ?? createItem(house, input, { free: true })
  if (row && changed.length) updateItem(house, row.uid, input, undefined)
  const made = house.rows.itemById.get({ id })!
  const there = of.filter(saysOfPlace).map(r => ({ r, place: known.places.of(r) }))
  demandOneLevel(there)
  for (const { r, place } of there) {
    const one = levelIn(house, r, made, place, known)
    if (one && row) changed.push(one)
  }
  const lies = there
    .filter(({ r }) => r.of('there now'))
    .map(({ r, place }) => ({ ...liesBy(house, r, place.uid), at: r.at, item: made.uid }))
  return {
    row: {
      id: made.uid,
      code: made.code,
      name: made.name,
      came: !row ? 'new' : changed.length ? 'changed' : 'same',
      changed,
      // What lies there may be another by now: that is counted, or delivered.
      left: row && lies.length ? ['there now'] : [],
    },
    itemId: id,
    lies: row ? [] : lies,
  }
}

/** What becomes another of an item, in words. */
function changesOf(before: Said, after: Said, is: Item, { categories }: Known): Taken['changed'] {
  const text = (of: Said, field: keyof Said): string => {
    if (field === 'category') return of.category ? categories.nameOf(of.category) : ''
    if (field === 'packs') return packsWritten(of.packs)
    if (field === 'codes') return of.codes.join(' ')
    if (field === 'standardCost') return of.standardCost || is.standardCost || ''
    if (field === 'witnessed') return of.witnessed ? 'yes' : 'no'
    return String(of[field] ?? '').replaceAll('_', ' ')
  }
  const limits = LIMITED.map(limit => {
    const said = (of: Said) => of.tolerance?.[limit] ?? ''
    return { what: LIMITS[limit], was: said(before), is: said(after) }
  })
  return [
    ...(Object.entries(SAYS) as [keyof Said, Column][])
      .filter(([field]) => !alike(before[field], after[field]))
      .map(([field, what]) => ({ what, was: text(before, field), is: text(after, field) })),
    ...limits.filter(l => l.was !== l.is),
  ]
}
const LIMITED = Object.keys(LIMITS) as (keyof typeof LIMITS)[]

/** What takes away what stood there, and what is left then. */
const NOTHING = '-'
const EMPTIED: Partial<ItemInput> = {
  category: null,
  shelfLifeDays: null,
  daysOnceOpened: null,
  mass: null,
  density: null,
  wasteCode: '',
  note: '',
}
const MAY_BE_EMPTY: ReadonlySet<Column> = new Set([
  ...(Object.keys(EMPTIED) as (keyof ItemInput)[]).map(field => SAYS[field]!),
  ...Object.values(LIMITS),
  'minimum',
  'target',
  'bin',
])
/** What several lines say in one column: one of them, or all the same; nothing where none does. */
function saidOnce(of: readonly Row[], column: Column): string {
  const rows = of.filter(r => r.of(column))
  const empties = rows.find(r => r.of(column) === NOTHING && !MAY_BE_EMPTY.has(column))
  if (empties) throw new WrongLine(empties.at, `${column}: a file does not take that away.`)
  const other = rows.find(r => r.of(column) !== rows[0]!.of(column))
  if (other)
    throw new WrongLine(
      other.at,
      `${column}: “${other.of(column)}”, but line ${rows[0]!.at} says “${rows[0]!.of(column)}” of the same item.`,
    )
  return rows[0]?.of(column) ?? ''
}

/** What a file says of an item itself, over what it is; an empty cell says nothing. */
function saidOfItem(of: readonly Row[], now: ItemInput, known: Known, is: Item | undefined): unknown {
  const said = (column: Column) => saidOnce(of, column)
  const over = (field: keyof ItemInput, read: (text: string) => unknown = t => t) => {
    const text = said(SAYS[field]!)
    if (text === NOTHING) return { [field]: EMPTIED[field] }
    return text ? { [field]: read(text) } : {}
  }
  const all = (column: Column) => [...new Set(of.map(r => r.of(column)).filter(Boolean))]
  for (const column of ['barcodes', 'packs'] as const)
    for (const r of of) {
      if (r.of(column) === NOTHING) saidOnce([r], column)
      const short = shortened(r.of(column))
      if (short)
        throw new WrongLine(
          r.at,
          `${column}: ${short} is how a spreadsheet shortens a long number. Let it show the column as text, and save it again.`,
        )
    }
  const codes = all('barcodes').flatMap(t => t.split(/[\s,;]+/).filter(Boolean))
  const packs = all('packs').flatMap(packsIn)
  const cost = amountIn(said('standard cost'))
  return {
    ...now,
    ...over('name'),
    ...over('category', t => known.categories.of(of[0]!.at, t, now.category ?? null)),
    ...over('unit'),
    ...over('decimals', numberIn),
    ...over('identifiedBy', t => wordIn('identified by', t)),
    // A list of ours says by which method it is costed, also where its category says so.
    ...over('method', t => (wordIn('cost method', t) === is?.method ? now.method : wordIn('cost method', t))),
    ...(cost && cost !== is?.standardCost ? { standardCost: cost } : {}),
    ...over('kept', t => wordIn('kept', t)),
    ...over('shelfLifeDays', numberIn),
    ...over('daysOnceOpened', numberIn),
    ...over('mass', amountIn),
    ...over('density', amountIn),
    ...over('wasteCode'),
    ...over('witnessed', yesOrNo),
    ...over('note'),
    ...limitsOver(said, now.tolerance),
    codes: [...new Set([...(now.codes ?? []), ...codes])],
    packs: together(now.packs ?? [], packs),
  }
}
/** How far off a count may be, by a file, over what it is: each limit stands in its own column. */
function limitsOver(said: (column: Column) => string, now: ItemInput['tolerance']): Pick<ItemInput, 'tolerance'> {
  const limits = LIMITED.flatMap(limit => {
    const text = said(LIMITS[limit])
    // A spreadsheet writes the sign into the cell, too.
    const plain = limit === 'percent' ? text.replace(/\s*%$/, '') : text
    return text ? [[limit, text === NOTHING ? null : amountIn(plain)] as const] : []
  })
  if (!limits.length) return {}
  return { tolerance: { quantity: null, percent: null, value: null, ...now, ...Object.fromEntries(limits) } }
}
type Packs = NonNullable<ItemInput['packs']>
/** The packs there are, with what is said of them; those that are new come after them. */
function together(there: Packs, said: ReturnType<typeof packsIn>): Packs {
  const named = (name: string) => (p: { readonly name: string }) => folded(p.name) === folded(name)
  return [
    ...there.map(p => {
      const now = said.find(named(p.name))
      return now ? { ...p, size: now.size, codes: [...new Set([...(p.codes ?? []), ...now.codes])] } : p
    }),
    ...said.filter(p => !there.some(named(p.name))),
  ]
}

/** What a line says of what lies somewhere. */
function liesBy(house: House, r: Row, place: string): Omit<Lies, 'item'> {
  const [code, expiry] = [r.of('lot'), r.of('use by')]
  const lot = code || expiry ? { code, expiry: expiry ? dayIn(house, expiry) : null } : null
  const columns = { typed: 'there now', price: 'one cost', code: 'lot', expiry: 'use by' }
  const read = accepted(FirstStock, { place, typed: r.of('there now'), price: r.of('one cost'), lot }, r.at, columns)
  return { ...read, price: read.price! }
}

/** Of one place a file says one minimum, one target and one bin, on however many lines it stands. */
function demandOneLevel(there: readonly { readonly r: Row; readonly place: { readonly id: number } }[]): void {
  for (const of of groupBy(there, t => t.place.id).values())
    for (const column of ['minimum', 'target', 'bin'] as const)
      saidOnce(
        of.map(t => t.r),
        column,
      )
}

/** The levels and the usual bin that a line says of an item in a place; gives what is another by it. */
function levelIn(
  house: House,
  r: Row,
  item: ItemRow,
  place: { readonly id: number; readonly uid: string },
  known: Known,
): Taken['changed'][number] | undefined {
  if (!r.of('minimum') && !r.of('target') && !r.of('bin')) return undefined
  const now = { item: item.uid, place: place.uid, ...levelsIn(house, item.id, place.id) }
  const over = (column: 'minimum' | 'target' | 'bin', read: (text: string) => string) => {
    const text = r.of(column)
    return text ? { [column]: text === NOTHING ? null : read(text) } : {}
  }
  const said = {
    ...now,
    ...over('minimum', amountIn),
    ...over('target', amountIn),
    ...over('bin', () => known.places.bin(r, place.id)),
  }
  const read = accepted(LevelInput, said, r.at)
  if (alike(read, now)) return undefined
  setLevel(house, read)
  const words = (l: typeof now) =>
    [l.minimum ?? '—', 'to', l.target ?? '—', ...(l.bin ? [house.places.name(house.places.id(l.bin)!)] : [])].join(' ')
  return { what: `levels in ${house.places.name(place.id)}`, was: words(now), is: words(read) }
}
