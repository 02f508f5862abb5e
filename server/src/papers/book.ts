import { type Effect, type RefusalView, type Said, saidOf, SlipContent } from '@shelve/contract'
import { type Booked, CHAIN_START, CHAIN_VERSION, chainHash, deltaIn, formatDecimal } from '@shelve/core'
import { Refused, sha256 } from '../ground/index.ts'
import { checkpointIfDue, movementBytes, nextNumber, packed, sealedText, SqlBooks } from '../ledger/index.ts'
import { about, type Caller, reach, type Scope } from '../rights/index.ts'
import { attempt, type Tried } from './attempt.ts'
import { judgedByItem, type JudgedSlip } from './by-item.ts'
import { forgetTakenOff, forgetWitness, insertDraft, refuseForeignLines, type SlipRecord, titleOf } from './drafts.ts'
import { type EffectDraft, type Plan, planOf, sidesOf } from './effect.ts'
import { fingerprint, planSaid } from './fingerprint.ts'
import type { House } from './house.ts'
import { contentHanded, type Handed, requestOf } from './handed.ts'
import { worded } from './refusals.ts'

/** A slip that the books do not take; carries every refusal in words, or the effect that nobody has seen yet. */
export class NotBooked extends Refused {
  constructor(
    readonly refusals: RefusalView[],
    readonly effect?: Effect,
  ) {
    const first = refusals[0]
    if (effect)
      super(409, 'effect_changed', 'The books moved meanwhile: look at what would happen now, then book again.', [], {
        effect,
      })
    else super(422, first?.code ?? 'refused', first?.message ?? 'The slip was not booked.', refusals)
  }
}

/** From where a slip would take what, line by line, as the books stand: nothing is written. */
export function cellsTaken(
  house: House,
  caller: Caller,
  content: SlipContent,
): readonly {
  readonly line: string
  readonly itemId: number
  readonly lotId: number
  readonly from: number
  readonly quantity: bigint
}[] {
  const uid = house.uid()
  const tried = attempt(house, caller, uid, content)
  const byNumber = new Map([...tried.lineIds].map(([line, id]) => [String(id), line]))
  return tried.resolved.draft.lines.map(l => ({
    line: byNumber.get(l.lineId)!,
    itemId: l.itemId,
    lotId: l.lotId,
    from: l.from,
    quantity: l.quantity,
  }))
}

/** Writes a slip that was judged: itself, what it makes, its tallies, and what it does. */
export function write(
  house: House,
  caller: Caller,
  { slip, resolved, booked, books }: Tried & { booked: Booked },
  content: SlipContent,
  said?: Said,
): SlipRecord {
  // What something is called may have changed since a draft of it was saved.
  const record = slip.found
    ? { ...slip.found, title: titleOf(house, content) }
    : insertDraft(house, caller, slip, content, 1, said)
  books.making.write(booked, caller.id)
  const put = (resolved.draft.changes ?? []).flatMap(c => (c.type === 'reverse_tally' && c.again ? [c.again] : []))
  const counts = new Map([...(resolved.draft.counts ?? []), ...put].map(c => [c.tallyId, c]))
  for (const t of booked.tallies) {
    const line = counts.get(t.id)!
    // What a count expected is what it did not find itself; of one that is put right it is known by that alone.
    const own = booked.movements.find(m => m.kind === 'difference' && m.tallyId === t.id && m.ord === 0)
    const e = resolved.expected.get(line.lineId) ?? {
      expected: t.counted - (own ? deltaIn(own, t.placeId) : 0n),
      confirmed: false,
      first: undefined,
    }
    house.rules.tallied(t.countedAt)
    house.rows.insertTally.run({
      id: t.id,
      uid: resolved.tallyUids.get(t.id)!,
      slipId: record.id,
      lineId: Number(line.lineId),
      costSeq: t.costSeq,
      part: t.part,
      itemId: t.itemId,
      lotId: t.lotId,
      placeId: t.placeId,
      countedAt: t.countedAt,
      counted: t.counted,
      expected: e.expected,
      confirmed: e.confirmed,
      firstOff: e.first?.off ?? null,
      firstWithin: e.first?.within ?? null,
    })
  }
  books.write(booked)
  const filled = content.head.charges.filter(c => c.amount.trim())
  for (const c of booked.charges) {
    // Of none any more there is a row too: what held before holds no more.
    const now = c.charges.length ? c.charges : [{ amount: 0n, basis: 'value' as const }]
    now.forEach((x, position) =>
      house.rows.insertCharge.run({
        slip: c.slipId,
        by: record.id,
        position,
        label: filled[position]?.label ?? '',
        amount: x.amount,
        basis: x.basis,
      }),
    )
  }
  return record
}

/** *Before → after*: what the booking would do, told without writing any of it; `since`: the look of which what differs is enough. */
export function effectOf(house: House, caller: Caller, uid: string, content: SlipContent, since?: string): Effect {
  // One moment of the books, however many statements ask it.
  return house.store.client
    .transaction(() => {
      const memory = house.trials.memory()
      const judged =
        house.kinds.get(content.kind)!.byItem?.(content) && judgedByItem(house, caller, uid, content, memory, since)
      if (!judged) return wholeEffect(house, caller, uid, content, memory)
      house.looks.keep(house, caller, uid, judged.told.tag!, content)
      return effectByItem(house, content, judged)
    })
    .deferred()
}

/** The effect of a slip that was judged item by item: what is wrong with it, and what it does, is at its lines. */
function effectByItem(house: House, content: SlipContent, judged: JudgedSlip): Effect {
  const { refusals, told, value, goods, plan, places, notes } = judged
  return about(scopeOfEffect(house, content, places), {
    seq: house.ledger.lastSeq.get()!.seq,
    ok: refusals.length === 0,
    refusals: [...refusals],
    notes: [...notes],
    ...told,
    value: formatDecimal(value),
    charges: formatDecimal(0n),
    goods: formatDecimal(goods),
    witness: null,
    fingerprint: fingerprint(
      refusals.map(r => [r.line, r.code]),
      plan,
      [],
    ),
  })
}

/** The effect of a slip that is judged as a whole. */
export function wholeEffect(
  house: House,
  caller: Caller,
  uid: string,
  content: SlipContent,
  memory = house.trials.memory(),
): Effect {
  const tried = attempt(house, caller, uid, content, new SqlBooks(house, memory))
  refuseForeignLines(house, tried.slip)
  const draft: EffectDraft = { house, content, tried: tried.resolved, lineIds: tried.lineIds, books: tried.books }
  const plan = planOf(draft, tried.booked)
  const refusals = worded(house, caller, content, tried)
  return about(scopeOfEffect(house, content, touchedBy(tried)), {
    seq: tried.books.nextSeq() - 1,
    ok: refusals.length === 0,
    refusals,
    notes: house.hooks.flatMap(h => h.notes?.(content, uid => String(tried.lineIds.get(uid)), tried.booked) ?? []),
    ...sidesOf(draft, tried.booked, plan, reach(house, caller)),
    tag: null,
    since: null,
    without: [],
    witness: tried.witnessed.by?.name ?? null,
    fingerprint: fingerprintOf(plan, tried),
  })
}
const fingerprintOf = (plan: readonly Plan[], { refusals, lineIds, reserved }: Tried): string => {
  const uids = new Map([...lineIds].map(([uid, id]) => [String(id), uid]))
  return fingerprint(
    refusals.map(r => [r.lineId === null ? null : uids.get(r.lineId)!, r.code]),
    plan.map(planSaid),
    reserved,
  )
}

/** The places where lines of a slip that was tried do something. */
export const touchedBy = ({ booked }: Tried): number[] => booked?.touched.map(t => t.placeId) ?? []
/** The places whose stock a slip's sums are about: where it is written, and where its lines do something. */
export function scopeOfEffect(house: House, content: SlipContent, touched: Iterable<number>): Scope {
  const own = content.place === null ? undefined : house.places.id(content.place)
  const places = [...new Set([...(own === undefined ? [] : [own]), ...touched])]
  return places.length ? house.places.scope(places) : house.places.scope()
}

/**
 * Books a slip that was handed in, durable before it is answered; `content` is what it said when it came. What was handed in before and is
 * booked gives the same answer; where what was `seen` would no longer happen, nothing is booked and the new effect comes
 * back.
 */
export async function bookHanded(
  house: House,
  caller: Caller,
  uid: string,
  handed: Handed,
  content: SlipContent,
  seen: string | null,
): Promise<void> {
  if (house.rows.slip.get({ uid })?.state === 'booked') return
  if ('draft' in handed) house.gate.admit(caller, { body: [SlipContent, content] })
  let items: Set<number>
  try {
    items = await house.commit(() => bookNow(house, caller, uid, contentHanded(house, uid, handed), seen))
  } catch (e) {
    if (e instanceof Unseen) throw new NotBooked([], effectOf(house, caller, uid, content))
    throw e
  } finally {
    const changed = changedBy(house, content.kind)
    if (changed === 'everything') house.forget(changed)
  }
  const changed = changedBy(house, content.kind)
  house.letGo({ items: [...items], ...(changed === 'everything' ? {} : { setUp: changed }) })
  house.events.flush()
}

/** What rooms keep in memory of set-up that a slip of a kind changes. */
function changedBy(house: House, of: SlipContent['kind']): 'everything' | 'names' | 'passing' | undefined {
  const kind = house.kinds.get(of)!
  return kind.changesSetUp ? 'everything' : kind.changesNames ? 'names' : kind.makesPlaces ? 'passing' : undefined
}

/** What was looked at before booking would no longer happen. */
class Unseen extends Error {}

/**
 * The booking itself, inside a transaction of its own: for the server's shared commits, the demonstration and scripts. A
 * draft that is there under this id says just that.
 */
export function bookNow(
  house: House,
  caller: Caller,
  uid: string,
  content: SlipContent,
  seen: string | null = null,
): Set<number> {
  if (house.rows.slip.get({ uid })?.state === 'booked') return new Set()
  const tried = attempt(house, caller, uid, content)
  if (tried.refusals.length || !tried.booked) throw new NotBooked(worded(house, caller, content, tried))
  const { booked } = tried
  if (
    seen !== null &&
    fingerprintOf(
      planOf({ house, content, tried: tried.resolved, lineIds: tried.lineIds, books: tried.books }, booked),
      tried,
    ) !== seen
  )
    throw new Unseen()
  const said = saidOf(content)
  const record = write(house, caller, { ...tried, booked }, content, said)
  if (tried.slip.found) forgetTakenOff(house, record.id)
  seal(house, caller, record, content, booked, requestOf(said), tried.witnessed.by?.id ?? null)
  if (tried.witnessed.items.length) forgetWitness(house, uid)
  const corrected = content.head.corrects ? house.rows.slip.get({ uid: content.head.corrects }) : undefined
  const other = house.hooks.flatMap(h => [
    ...((corrected && h.corrected?.(corrected, caller)) ?? []),
    ...(h.booked?.(record, content, caller) ?? []),
  ])
  checkpointIfDue(house, booked.movements.at(-1)!.seq)
  const { items } = booked
  const uids = [...items].map(id => house.known.itemById(id)!.uid)
  const places = new Set(
    booked.movements
      .flatMap(m => [m.from, m.to])
      .flatMap(a => (house.places.row(a) ? [house.places.row(house.places.area(a))!.uid] : [])),
  )
  if (content.place !== null) places.add(content.place)
  const detail = {
    slip: uid,
    slipKind: content.kind,
    // Of very many none is told: whoever listens takes it for anything.
    items: uids.length > 100 ? undefined : uids,
    places: [...places],
    by: caller.uid,
  }
  const touched = new Set([...items, ...other])
  house.events.add('booked', detail, { items: [...touched], setUp: changedBy(house, content.kind) })
  return touched
}

/** Gives the slip its number and chains it to the one before: from here on it never changes. */
function seal(
  house: House,
  caller: Caller,
  record: SlipRecord,
  content: SlipContent,
  booked: Booked,
  requestHash: string,
  witnessId: number | null,
): void {
  const previous = house.ledger.lastHash.get()?.hash ?? CHAIN_START
  const number = `${house.kinds.get(content.kind)!.prefix}-${String(nextNumber(house, content.kind)).padStart(4, '0')}`
  const now = house.now()
  const corrected = content.head.corrects ? house.rows.slip.get({ uid: content.head.corrects }) : undefined
  const job = content.head.job ? house.rows.job.get({ uid: content.head.job })?.id : corrected?.jobId
  const bytes = sealedText(
    {
      version: CHAIN_VERSION,
      slip: record.uid,
      number,
      kind: content.kind,
      effectiveAt: booked.effectiveAt,
      bookedAt: now,
      bookedBy: caller.uid,
      taker: content.taker,
      request: requestHash,
      witness: witnessId === null ? null : house.rows.personName.get({ id: witnessId })!.uid,
    },
    [...booked.movements]
      .sort((a, b) => a.seq - b.seq)
      .map(movementBytes)
      .join(','),
  )
  const seqs = booked.movements.map(m => m.seq)
  house.rows.sealSlip.run({
    id: record.id,
    number,
    effectiveAt: booked.effectiveAt,
    bookedAt: now,
    bookedBy: caller.id,
    witnessId,
    title: record.title,
    correctsId: corrected?.id ?? null,
    jobId: job ?? null,
    requestHash,
    firstSeq: Math.min(...seqs),
    lastSeq: Math.max(...seqs),
    chainVersion: CHAIN_VERSION,
    hash: chainHash(previous, bytes, sha256),
  })
  house.rows.insertSealed.run({ slip: record.id, bytes: packed(bytes) })
}
