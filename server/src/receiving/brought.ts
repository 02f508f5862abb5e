import {
  FirstStock,
  type Item,
  ItemInput,
  type ItemsBrought,
  type ItemsTaken,
  LevelInput,
  Name,
} from '@shelve/contract'
import type { z } from 'zod'
import { alike, formatDecimal, groupBy } from '@shelve/core'
import {
  category,
  createItem,
  inputOf,
  item,
  type ItemRow,
  itemViews,
  packsWritten,
  putCategory,
  updateItem,
} from '../catalogue/index.ts'
import { folded, Refused, type Wrong } from '../ground/index.ts'
import { NO_SHELF } from '../places/index.ts'
import { levelOf, setLevel } from '../position/index.ts'
import type { Caller } from '../rights/index.ts'
import type { House } from './house.ts'
import {
  amountIn,
  type Column,
  dayIn,
  MOST_ITEMS,
  no,
  numberIn,
  packsIn,
  readItems,
  type Row,
  saysOfPlace,
  wordIn,
} from './items-file.ts'
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
/** What is wrong with one line. */
class WrongLine extends Error {
  constructor(
    readonly at: number,
    message: string,
  ) {
    super(message)
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
  { text, place, look }: ItemsBrought,
): ItemsTaken & { items: number[] } {
  const rows = readItems(text)
  const wrong: Wrong[] = rows.filter(r => !r.of('code')).map(r => ({ at: r.at, message: 'a code is wanted.' }))
  const byCode = groupBy(
    rows.filter(r => r.of('code')),
    r => folded(r.of('code')),
  )
  if (!rows.length) throw no([{ at: 0, message: 'There is no item in it, only the names of columns.' }])
  if (byCode.size > MOST_ITEMS) {
    const message = `These are ${byCode.size} items; at most ${MOST_ITEMS} come at once. Send them in several files.`
    throw no([{ at: 0, message }])
  }
  const known = { categories: categoriesOf(house), places: placesOf(house, place), items: itemsOf(house, byCode) }
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
  return { ...answer, items: taken.map(t => t.itemId) }
}

interface Standing {
  readonly row: ItemRow
  readonly is: Item
}
/** The items that a file names and that are there, by their codes, however they are written: read once for all of them. */
function itemsOf(house: House, byCode: ReadonlyMap<string, unknown>): ReadonlyMap<string, Standing> {
  const ids = house.db
    .select({ id: item.id, code: item.code })
    .from(item)
    .all()
    .filter(i => byCode.has(folded(i.code)))
  const rows = ids.map(({ id }) => house.rows.itemById.get({ id })!)
  return new Map(itemViews(house, rows).map((is, i) => [folded(is.code), { row: rows[i]!, is }]))
}
type Known = { readonly categories: ReturnType<typeof categoriesOf>; readonly places: ReturnType<typeof placesOf> }
/** Categories by their names; one that nobody knows is made. */
function categoriesOf(house: House) {
  const rows = house.db.select({ uid: category.uid, name: category.name }).from(category).all()
  const byName = groupBy(rows, c => folded(c.name))
  const made: string[] = []
  return {
    made,
    nameOf: (uid: string) => [...byName.values()].flat().find(c => c.uid === uid)?.name ?? '',
    /** `now`: the item's own, which is meant where it is called so. */
    of: (at: number, said: string, now: string | null): string => {
      const name = Name.safeParse(said)
      if (!name.success) throw new WrongLine(at, `category: ${name.error.issues[0]!.message}.`)
      const so = byName.get(folded(name.data)) ?? []
      const one = so.find(c => c.uid === now) ?? so[0]
      if (so.length > 1 && one?.uid !== now)
        throw new WrongLine(
          at,
          `there are ${so.length} categories called “${name.data}”. Choose one in the item itself.`,
        )
      if (one) return one.uid
      const nothing = { parent: null, unit: null, decimals: null, identifiedBy: null, method: null }
      const rest = { shelfLifeDays: null, daysOnceOpened: null }
      const uid = putCategory(house, { name: name.data, ...nothing, ...rest }, undefined, undefined)
      byName.set(folded(name.data), [{ uid, name: name.data }])
      made.push(name.data)
      return uid
    },
  }
}
/** Places by their whole names, or by their own where no other is called so. */
function placesOf(house: House, otherwise: string | null) {
  const rows = [...house.places.rows.values()].filter(p => p.active && !NO_SHELF.includes(p.kind))
  const whole = new Map(rows.map(p => [folded(house.places.name(p.id)), p]))
  const byName = groupBy(rows, p => folded(p.name))
  const of = (at: number, said: string, column: 'place' | 'bin', within?: ReadonlySet<number>) => {
    const so = (byName.get(folded(said)) ?? []).filter(p => !within || within.has(p.id))
    const one = whole.get(folded(said)) ?? so[0]
    if (!one || (within && !within.has(one.id)))
      throw new WrongLine(at, `there is no ${column} “${said}”${within ? ' there' : ''}. Make it first, under Places.`)
    if (so.length > 1 && !whole.has(folded(said)))
      throw new WrongLine(
        at,
        `there are ${so.length} places called “${said}”. Write the whole of one: ${house.places.name(one.id)}.`,
      )
    return one
  }
  return {
    of: (r: Row) => {
      const said = r.of('place')
      if (said) return of(r.at, said, 'place')
      const id = otherwise === null ? undefined : house.places.id(otherwise)
      if (id === undefined) throw new WrongLine(r.at, 'a place is wanted: where is that?')
      return house.places.row(id)!
    },
    bin: (r: Row, area: number) => of(r.at, r.of('bin'), 'bin', house.places.within(area)).uid,
  }
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
  note: 'note',
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
  const input = ItemInput.safeParse(next)
  if (!input.success) {
    const { path, message } = input.error.issues[0]!
    throw new WrongLine(first.at, `${SAYS[path[0] as keyof ItemInput] ?? String(path[0])}: ${message}.`)
  }
  const before = now && ItemInput.parse(now)
  const changed: Taken['changed'] = before ? changesOf(before, input.data, is!, known) : []
  const id = row?.id ?? createItem(house, input.data, { free: true })
  if (row && changed.length) updateItem(house, row.uid, input.data, undefined)
  const made = house.rows.itemById.get({ id })!
  const there = of.filter(saysOfPlace).map(r => ({ r, place: known.places.of(r) }))
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
    return String(of[field] ?? '').replaceAll('_', ' ')
  }
  return (Object.entries(SAYS) as [keyof Said, Column][])
    .filter(([field]) => !alike(before[field], after[field]))
    .map(([field, what]) => ({ what, was: text(before, field), is: text(after, field) }))
}

/** What a file says of an item itself, over what it is; an empty cell says nothing. */
function saidOfItem(of: readonly Row[], now: ItemInput, known: Known, is: Item | undefined): unknown {
  const said = (column: Column): string => {
    const rows = of.filter(r => r.of(column))
    const other = rows.find(r => r.of(column) !== rows[0]!.of(column))
    if (other)
      throw new WrongLine(
        other.at,
        `${column}: “${other.of(column)}”, but line ${rows[0]!.at} says “${rows[0]!.of(column)}” of the same item.`,
      )
    return rows[0]?.of(column) ?? ''
  }
  const over = (field: keyof ItemInput, read: (text: string) => unknown = t => t) => {
    const text = said(SAYS[field]!)
    return text ? { [field]: read(text) } : {}
  }
  const all = (column: Column) => [...new Set(of.map(r => r.of(column)).filter(Boolean))]
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
    ...over('note'),
    codes: [...new Set([...(now.codes ?? []), ...codes])],
    packs: together(now.packs ?? [], packs),
  }
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
  const read = FirstStock.safeParse({ place, typed: r.of('there now'), price: r.of('one cost'), lot })
  if (read.success) return { ...read.data, price: read.data.price! }
  const { path, message } = read.error.issues[0]!
  const column = { typed: 'there now', price: 'one cost', code: 'lot', expiry: 'use by' }[String(path.at(-1))]
  throw new WrongLine(r.at, `${column ?? String(path[0])}: ${message}.`)
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
  const there = levelOf(house, item.id, place.id)
  const text = (of: bigint | null | undefined) => (of === null || of === undefined ? null : formatDecimal(of))
  const now = {
    item: item.uid,
    place: place.uid,
    minimum: text(there?.minimum),
    target: text(there?.target),
    bin: there?.binId ? house.places.row(there.binId)!.uid : null,
  }
  const read = LevelInput.safeParse({
    ...now,
    ...(r.of('minimum') ? { minimum: amountIn(r.of('minimum')) } : {}),
    ...(r.of('target') ? { target: amountIn(r.of('target')) } : {}),
    ...(r.of('bin') ? { bin: known.places.bin(r, place.id) } : {}),
  })
  if (!read.success) {
    const { path, message } = read.error.issues[0]!
    throw new WrongLine(r.at, `${String(path[0])}: ${message}.`)
  }
  if (alike(read.data, now)) return undefined
  setLevel(house, read.data)
  const words = (l: typeof now) =>
    [l.minimum ?? '—', 'to', l.target ?? '—', ...(l.bin ? [house.places.name(house.places.id(l.bin)!)] : [])].join(' ')
  return { what: `levels in ${house.places.name(place.id)}`, was: words(now), is: words(read.data) }
}
