import type { Proposal, ProposalLine } from '@shelve/contract'
import { formatDecimal, plainly, type Ratio, ratio, wholePacks, writtenDay } from '@shelve/core'
import { eachInPieces, once } from '../ground/index.ts'
import { MAY_COME_IN, TAKEN_BACK } from '../ledger/index.ts'
import { levelsView, metOf, type StockItem } from '../position/index.ts'
import { isIn, type Scope } from '../rights/index.ts'
import type { House } from './house.ts'
import { type Source, sourceView } from './source.ts'

/** The pack that an item is bought in, with how much it holds; the base unit where there is none. */
export function buyingPack(house: House, itemId: number): { name: string; size: Ratio } | undefined {
  const packs = house.rows.packs.all({ item: itemId }).filter(p => p.buying)
  const own = packs.find(p => !p.issuing) ?? packs[0]
  return own && { name: own.name, size: ratio(own.sizeN, own.sizeD) }
}

/** What lies of an item in other areas that may be seen: how much is available there, and how much beyond their own target. */
export function elsewhereOf(
  house: House,
  it: StockItem,
  placeId: number,
  seen: Scope,
): { area: number; available: bigint; spare: bigint }[] {
  const today = house.today()
  // Nothing can be had from where nothing lies: how it stands is worked out of few areas.
  const lies = [...new Set(it.leaves.map(l => l.placeId))]
  return house.places
    .areas()
    .filter(
      a =>
        lies.some(p => house.places.within(a.id).has(p)) &&
        isIn(seen, a.id) &&
        a.id !== placeId &&
        !house.places.within(placeId).has(a.id) &&
        !house.places.within(a.id).has(placeId),
    )
    .flatMap(a => {
      const there = house.stock.here(it, house.places.scope([a.id]), today)
      const { available } = there.levels
      const spare = available - (there.target ?? 0n)
      return available > 0n ? [{ area: a.id, available, spare: spare > 0n ? spare : 0n }] : []
    })
}

export const elsewhereView = (house: House, rows: ReturnType<typeof elsewhereOf>) =>
  rows.map(e => ({
    id: house.places.row(e.area)!.uid,
    place: house.places.name(e.area),
    available: formatDecimal(e.available),
    spare: formatDecimal(e.spare),
  }))

interface Came {
  readonly kind: 'supplier' | 'shelves'
  readonly id: number
}
// What came into a place is looked for where it came in, and what came from suppliers where it came from: all that an item
// ever did may be thousands of issues.
const cameStatements = once((house: House) => {
  const { client } = house.store
  const read = (index: string, condition: string) =>
    client
      .prepare<unknown[], [seq: number, from: number]>(
        `select seq, from_id from movement indexed by ${index} where ${condition} and kind in ('receipt', 'move') and reverses is null and quantity > 0
        order by effective_at desc, seq desc`,
      )
      .raw()
      .safeIntegers(false)
  const inside = '(select value from json_each(:within))'
  const into = read(
    'movement_into',
    `to_id in ${inside} and from_id not in ${inside} and item_id = :item and ${MAY_COME_IN}`,
  )
  const from = read('movement_from', `from_id in (select id from account where kind = 'supplier') and item_id = :item`)
  const stands = client
    .prepare<[number], 0 | 1>(`select not ${TAKEN_BACK} from movement m where m.seq = ?`)
    .pluck()
    .safeIntegers(false)
  return {
    into: (within: readonly number[], item: number) => into.iterate({ within: JSON.stringify(within), item }),
    from: (item: number) => from.iterate({ item }),
    stands: (seq: number) => stands.get(seq) === 1,
  }
})
/** What was found of an item, until something happens to it. */
const cameKnown = new WeakMap<StockItem, Map<number, Came | undefined>>()

/**
 * Where an item came from last: into this place from a supplier or another area (also by what was sent from there), else from
 * a supplier to anywhere. What was taken back came from nowhere; what a job did not use was no supply.
 */
function lastSource(house: House, it: StockItem, placeId: number): Came | undefined {
  let known = cameKnown.get(it)
  if (!known) cameKnown.set(it, (known = new Map<number, Came | undefined>()))
  if (!known.has(placeId)) known.set(placeId, cameFrom(house, it.id, placeId))
  return known.get(placeId)
}
function cameFrom(house: House, itemId: number, placeId: number): Came | undefined {
  const within = house.places.within(placeId)
  const { into, from: bought, stands } = cameStatements(house)
  for (const [seq, from] of into(house.places.shelves(placeId), itemId)) {
    const shelf = house.places.transit(from)?.fromId ?? from
    const supplies = house.places.isShelf(shelf) && !within.has(shelf)
    if (!supplies && house.rows.account.get({ id: from })?.kind !== 'supplier') continue
    if (stands(seq))
      return supplies ? { kind: 'shelves', id: house.places.area(shelf) } : { kind: 'supplier', id: from }
  }
  for (const [seq, from] of bought(itemId)) if (stands(seq)) return { kind: 'supplier', id: from }
  return undefined
}

/** The area of ours from which an item last came into a place; undefined where it did not. */
export function lastShelf(house: House, it: StockItem, placeId: number): number | undefined {
  const last = lastSource(house, it, placeId)
  return last?.kind === 'shelves' ? last.id : undefined
}

/**
 * What is short or due in a scope, one proposal for each source: first from our own shelves, where it lies beyond what
 * belongs there or where it last came from; then from the supplier it last came from; else from nobody yet. `taken`
 * stands on slips that somebody is writing already (item and place). Others are let in meanwhile.
 */
export async function proposals(
  house: House,
  scope: Scope,
  seen: Scope,
  taken: ReadonlyMap<number, readonly { place: number }[]>,
): Promise<Proposal[]> {
  const today = house.today()
  await house.stock.ready()
  const sources = new Map<
    string,
    { source: Source; name: string; rank: number; lines: (ProposalLine & { urgency: number })[] }
  >()
  const add = (kind: Source['kind'], id: number | null, line: ProposalLine & { urgency: number }) => {
    const key = `${kind} ${id}`
    let own = sources.get(key)
    if (!own) {
      const { source, name } = sourceView(house, kind, id)
      sources.set(key, (own = { source, name, rank: { shelves: 0, supplier: 1, nobody: 2 }[kind], lines: [] }))
    }
    own.lines.push(line)
  }
  await eachInPieces(house.stock.all().values(), it => {
    for (const { place: placeId, here } of house.stock.levels(it, scope, today)) {
      const within = house.places.within(placeId)
      if (!it.active || taken.get(it.id)?.some(t => within.has(t.place))) continue
      let bring = here.levels.bring
      if (bring <= 0n) continue
      const lies = elsewhereOf(house, it, placeId, seen)
      const line = (typed: string, pack: string | null) => ({
        item: it.uid,
        code: it.code,
        name: it.name,
        unit: it.unit,
        place: house.places.row(placeId)!.uid,
        placeName: house.places.name(placeId),
        levels: levelsView(here),
        typed,
        pack,
        why: [...jobsLacking(house, it, within), whyOf(here.levels)].join('; ') + owedTo(house, it, within),
        elsewhere: elsewhereView(house, lies),
        urgency: here.levels.state === 'out' ? -1 : (here.levels.days ?? 1e6),
      })
      const last = lastSource(house, it, placeId)
      // From where it lies over, or from the shelf that fills this one: in whole units, as much as there is.
      const whole = (q: bigint) => (it.decimals === 0 ? q - (q % 1_000_000n) : q)
      for (const e of [...lies].sort(
        (a, b) =>
          Number(last?.kind === 'shelves' && last.id === b.area) -
            Number(last?.kind === 'shelves' && last.id === a.area) || (a.spare > b.spare ? -1 : 1),
      )) {
        const may = whole(last?.kind === 'shelves' && last.id === e.area ? e.available : e.spare)
        const x = may < bring ? may : bring
        if (x <= 0n) continue
        add('shelves', e.area, line(plainly(x), null))
        bring -= x
        if (bring <= 0n) break
      }
      if (bring <= 0n) continue
      const pack = buyingPack(house, it.id)
      add(
        last?.kind === 'supplier' ? 'supplier' : 'nobody',
        last?.kind === 'supplier' ? last.id : null,
        pack ? line(String(wholePacks(bring, pack.size, it.decimals)), pack.name) : line(plainly(bring), null),
      )
    }
  })
  return [...sources.values()]
    .sort((a, b) => a.rank - b.rank || b.lines.length - a.lines.length)
    .map(s => ({
      source: s.source,
      name: s.name,
      lines: s.lines
        .sort((a, b) => a.urgency - b.urgency || (a.name < b.name ? -1 : 1))
        .map(({ urgency: _, ...l }) => l),
    }))
}

/** Jobs done in some places that lack something of an item, and by when: the first three by their day. */
function jobsLacking(house: House, it: StockItem, within: ReadonlySet<number>): string[] {
  if (!it.planned.length) return []
  const met = metOf(it)
  return it.demand.needs
    .filter(n => within.has(n.placeId))
    .flatMap(n => {
      const m = met.get(n.needId)!
      const lacks = m.missing + m.late + m.elsewhere.reduce((sum, e) => sum + e.quantity, 0n)
      return lacks > 0n ? [{ ...n, lacks }] : []
    })
    .sort((a, b) => ((a.day ?? '') < (b.day ?? '') ? -1 : 1))
    .slice(0, 3)
    .map(n => {
      const by = n.day === null ? '' : ` by ${writtenDay(n.day, house.organisation!)}`
      return `${house.rows.jobById.get({ id: n.jobId })!.code} needs ${formatDecimal(n.lacks)} more${by}`
    })
}

/** What was asked for so long ago that nothing is reckoned with it: whoever asks again should know. */
function owedTo(house: House, it: StockItem, within: ReadonlySet<number>): string {
  const owed = it.owed.filter(o => !o.counts && within.has(o.placeId))
  if (!owed.length) return ''
  const first = owed.reduce((a, b) => (b.day < a.day ? b : a))
  return `; ${formatDecimal(owed.reduce((sum, o) => sum + o.quantity, 0n))} ${it.unit} owed since ${writtenDay(first.day, house.organisation!)}`
}

/** Why a line is there, in a few words: its state, and how long it lasts. */
const whyOf = (l: { state: string; days: number | null }): string =>
  l.state === 'out'
    ? 'nothing left'
    : l.days === null
      ? 'at its minimum'
      : `lasts ${l.days} day${l.days === 1 ? '' : 's'}`
