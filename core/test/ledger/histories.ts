import fc from 'fast-check'
import { methodChangeLines, ONE, sharedOut, type Change, type CostMethod, type Key } from '@shelve/core'
import { A, MINUTE, World, type WorldItem } from './world.ts'

/**
 * Random days in a small stockroom: every kind of slip, every cost method. A step says what to do without looking at the
 * books, so the same script can be played in another order; what cannot be done is refused and leaves nothing behind.
 */
export interface Step {
  readonly op: Op
  readonly item: number
  readonly lot: number
  readonly a: number
  readonly b: number
  readonly back: number
  readonly pick: number
}
const OPS = [
  'receive',
  'receive',
  'receive',
  'receive',
  'direct',
  'issue',
  'issue',
  'issue',
  'issue',
  'bring_back',
  'recharge',
  'spoil',
  'move',
  'waste',
  'count',
  'count',
  'found',
  'close',
  'supplier_return',
  'relabel',
  'make',
  'make',
  'make_anew',
  'reverse',
  'part',
  'replace',
  'invoice',
  'price',
  'reverse_tally',
  'standard',
  'method',
  'charges',
  'put_right',
  'month',
] as const
export type Op = (typeof OPS)[number]

export const step = (ops: readonly Op[] = OPS): fc.Arbitrary<Step> =>
  fc.record({
    op: fc.constantFrom(...ops),
    item: fc.integer({ min: 1, max: 4 }),
    lot: fc.integer({ min: 0, max: 1 }),
    a: fc.integer({ min: 1, max: 12 }),
    b: fc.integer({ min: 0, max: 9973 }),
    back: fc.constantFrom(0, 0, 0, 1, 3, 7),
    pick: fc.nat(50),
  })
/** Without corrections: what happens at the counter. */
export const PLAIN_OPS: readonly Op[] = [
  'receive',
  'receive',
  'receive',
  'issue',
  'issue',
  'issue',
  'move',
  'waste',
  'count',
  'count',
  'supplier_return',
  'relabel',
  'make',
  'direct',
  'method',
]

/** Items 1 and 2 may be changed over to another cost method; item 1 to actual lot, or from it. The fourth has serial numbers. */
export const worldOf = (method: CostMethod): World =>
  new World([
    { method, lots: 2, standard: '3.1', next: method === 'lot' ? 'fifo' : 'lot' },
    { method, lots: 2, next: method === 'average' ? 'standard' : 'average', standard: '7.003' },
    { method: method === 'lot' ? 'average' : method, standard: '1' },
    { method, lots: 2, standard: '5', identifiedBy: 'serial', next: method === 'average' ? 'lot' : 'average' },
  ] satisfies WorldItem[])

interface Done {
  readonly key: Key
  readonly op: Op
  readonly item: number
  readonly lot: number
  readonly quantity: bigint
  /** Of what was brought back: the issue. */
  readonly ref: Key | undefined
}

/** Plays a script. `at` may change a step, or drop it; `after` sees each step as it was done. Returns whether each step was done. */
export function play(
  w: World,
  script: readonly Step[],
  after?: (i: number, done: boolean) => void,
): { done: boolean[]; keys: (Key | undefined)[] } {
  const lines: Done[] = []
  const tallies: number[] = []
  const keys: (Key | undefined)[] = []
  const done = script.map((s, i) => {
    // A month that ends somewhere in what was booked: nothing is dated before it any more.
    if (s.op === 'month') {
      w.books.closedUntil = Math.max(w.books.closedUntil, w.now - s.a * MINUTE)
      after?.(i, true)
      return true
    }
    const before = w.books.movements.length
    const r = w.try(slipFor(w, s, lines, tallies))
    const ok = 'movements' in r
    if (!ok && w.books.movements.length !== before) throw new Error('a refused slip left something behind')
    if (
      ok &&
      [
        'receive',
        'direct',
        'issue',
        'waste',
        'bring_back',
        'recharge',
        'spoil',
        'move',
        'supplier_return',
        'found',
        'relabel',
        'make',
      ].includes(s.op)
    ) {
      const m = r.movements.find(x => x.revalues === null && x.kind !== 'difference')!
      lines.push({
        key: { costSeq: m.costSeq, part: m.part },
        op: s.op,
        item: s.item,
        lot: m.lotId,
        quantity: m.quantity,
        ref: m.refCostSeq === null ? undefined : { costSeq: m.refCostSeq, part: m.refPart! },
      })
      keys[i] = { costSeq: m.costSeq, part: m.part }
    }
    if (ok && s.op === 'method') w.changedOver(s.item)
    if (ok) for (const t of r.tallies) tallies.push(t.id)
    after?.(i, ok)
    return ok
  })
  return { done, keys }
}

export const amount = (s: Step): bigint => (BigInt(s.a) * ONE) / (s.b % 3 === 0 ? 3n : 1n)
export const price = (s: Step): bigint => BigInt(s.b) * 12_347n

export function slipFor(
  w: World,
  s: Step,
  lines: readonly Done[],
  tallies: readonly number[],
): Parameters<World['try']>[0] {
  const itemId = s.item
  const lotId = itemId * 100 + (itemId === 3 ? 0 : s.lot)
  const serial = itemId === 4
  const shelf = s.pick % 2 ? A.shelf : A.bench
  const q = serial ? ONE : amount(s)
  const line = (from: number, to: number, more = {}) => ({
    ...w.line(from, to, '1'),
    itemId,
    lotId,
    quantity: q,
    ...more,
  })
  const effectiveAt = w.now + MINUTE - s.back * MINUTE
  const target = lines.length ? lines[s.pick % lines.length]! : undefined
  const none = { kind: 'correction' as const, changes: [] as Change[] }
  const change = (c: Change | undefined) => (c ? { kind: 'correction' as const, changes: [c] } : none)
  const tallyId = tallies.length ? tallies[s.pick % tallies.length]! : undefined
  const tally = tallyId === undefined ? undefined : w.books.tally(tallyId)
  /** One thing is made into two; now and then something spoils on the way, and something of what was made. */
  const making = () => [
    line(shelf, A.made, { event: 'e' }),
    line(A.made, A.bench, { event: 'e', itemId: 3, lotId: 300, weight: 2n, goods: s.b % 2 ? 700_001n : null }),
    line(A.made, A.shelf, { event: 'e', itemId: (itemId % 2) + 1, lotId: ((itemId % 2) + 1) * 100, weight: 1n }),
    ...(s.b % 3 === 0 ? [line(shelf, A.waste, { event: 'e' })] : []),
    ...(s.b % 5 === 0
      ? [line(A.bench, A.waste, { event: 'e', itemId: 3, lotId: 300, quantity: q / 2n + 1n, ofOutput: true })]
      : []),
  ]
  /** One line for two, each charged its part; the parts themselves are of no decimals. */
  const shared = () => {
    const lineId = w.lineId()
    return sharedOut(q, [2n, 1n]).flatMap((quantity, i) =>
      quantity > 0n ? [line(shelf, i ? A.jobB : A.jobA, { lineId, quantity, shared: true })] : [],
    )
  }
  switch (s.op) {
    case 'receive':
      return {
        kind: 'receipt',
        effectiveAt,
        charges: s.b % 4 === 0 ? [{ amount: 1_000_007n, basis: 'quantity' }] : [],
        lines: [
          line(A.supplier, shelf, { goods: s.b % 7 === 0 ? null : price(s) }),
          ...(s.b % 5 === 0 ? [line(A.supplier, A.bench, { goods: price(s) + 5n })] : []),
        ],
      }
    case 'direct':
      return { kind: 'receipt', effectiveAt, lines: [line(A.supplier, A.jobA, { goods: price(s) })] }
    case 'issue':
      return {
        kind: 'issue',
        effectiveAt,
        lines:
          s.b % 11 === 0
            ? shared()
            : [line(shelf, s.b % 2 ? A.jobA : A.jobB), ...(s.b % 5 === 0 ? [line(shelf, A.jobB)] : [])],
      }
    case 'waste':
      return { kind: 'waste', effectiveAt, lines: [line(shelf, A.waste)] }
    case 'move':
      return { kind: 'move', effectiveAt, lines: [line(shelf, s.pick % 2 ? A.bench : A.shelf)] }
    case 'bring_back':
    case 'recharge':
    case 'spoil': {
      // What was charged to somebody else is brought back, spoils or is charged on from there.
      const issued = lines.filter(l => l.op === 'issue' || l.op === 'direct' || l.op === 'recharge')
      const l = issued[s.pick % Math.max(1, issued.length)]
      if (!l) return none
      const by = w.userOf(l.key) ?? A.jobA
      const to = { bring_back: shelf, recharge: by === A.jobA ? A.jobB : A.jobA, spoil: A.waste }[s.op]
      return {
        kind: s.op === 'recharge' ? 'recharge' : 'bring_back',
        lines: [{ ...line(by, to), itemId: l.item, lotId: l.lot, quantity: s.b % 2 ? l.quantity : q, ref: l.key }],
      }
    }
    case 'supplier_return':
      return { kind: 'supplier_return', lines: [line(shelf, A.supplier, { goods: price(s) })] }
    case 'relabel':
      return {
        kind: 'relabel',
        lines: [
          line(shelf, A.relabel, { event: 'e' }),
          line(A.relabel, shelf, { event: 'e', lotId: itemId > 2 ? lotId : itemId * 100 + 1 - s.lot }),
        ],
      }
    case 'make':
      return {
        kind: 'make',
        effectiveAt,
        lines: making(),
      }
    case 'make_anew':
      return target
        ? {
            kind: 'make',
            changes: [
              {
                type: 'replace_event',
                lineId: w.lineId(),
                key: target.key,
                effectiveAt: s.back === 0 ? null : effectiveAt,
                by: making(),
              },
            ],
          }
        : none
    case 'count':
      return {
        kind: 'count',
        counts: [
          w.count('0', {
            itemId,
            lotId,
            placeId: shelf,
            counted: q - (s.b % 4 === 0 ? q : 0n) + (serial && s.b % 7 === 0 ? ONE : 0n),
            countedAt: effectiveAt,
            unitCost: 2_000_000n,
          }),
        ],
      }
    case 'found':
      return tally
        ? {
            kind: 'closing',
            lines: [
              { ...line(tally.differenceAccount, shelf), itemId: tally.itemId, lotId: tally.lotId, tallyId: tally.id },
            ],
          }
        : none
    case 'close':
      return tally
        ? {
            kind: 'closing',
            lines: [
              {
                ...line(tally.differenceAccount, A.loss),
                quantity: 0n,
                itemId: tally.itemId,
                lotId: tally.lotId,
                tallyId: tally.id,
              },
            ],
          }
        : none
    case 'reverse':
      return change(target && { type: 'reverse', lineId: w.lineId(), key: target.key })
    case 'part':
      return change(target && { type: 'reverse', lineId: w.lineId(), key: target.key, quantity: q })
    case 'invoice':
      return change(
        target && {
          type: 'invoice',
          lineId: w.lineId(),
          key: target.key,
          says: s.b % 2 ? 'amount' : 'more',
          goods: price(s),
        },
      )
    case 'price':
      return change(target && { type: 'price', lineId: w.lineId(), key: target.key, goods: price(s) })
    case 'charges':
      return change(
        target && {
          type: 'charges',
          lineId: w.lineId(),
          key: target.key,
          charges: s.b % 3 === 0 ? [] : [{ amount: price(s), basis: s.b % 3 === 1 ? 'quantity' : 'value' }],
        },
      )
    case 'put_right': {
      if (!tally) return none
      const { itemId, lotId, placeId, countedAt } = tally
      const lineId = w.lineId()
      const again = { ...w.count('0', { itemId, lotId, placeId, countedAt, unitCost: 2_000_000n }), lineId, counted: q }
      return change({ type: 'reverse_tally', lineId, tallyId: tally.id, again })
    }
    case 'month':
      return none
    case 'reverse_tally':
      return change(tallyId === undefined ? undefined : { type: 'reverse_tally', lineId: w.lineId(), tallyId })
    case 'method': {
      if (itemId === 3 || w.changed.has(itemId) || !w.books.lotBalances(itemId).some(b => b.quantity > 0n)) return none
      return {
        kind: 'method_change',
        lines: methodChangeLines(w.books.lotBalances(itemId), {
          itemId,
          lineId: w.lineId(),
          relabel: A.relabel,
          poolBefore: l => w.books.poolOf(itemId, l),
          poolAfter: l => w.poolOf(itemId, l, true),
        }),
      }
    }
    case 'standard':
      return { kind: 'correction', changes: [{ type: 'standard', lineId: w.lineId(), itemId, lotId, cost: price(s) }] }
    case 'replace': {
      if (!target) return none
      const by =
        target.op === 'receive'
          ? [line(A.supplier, shelf, { goods: price(s), ...(s.b % 3 ? {} : { invoiced: price(s) + 1n }) })]
          : target.op === 'issue'
            ? [line(shelf, A.jobA), ...(s.b % 3 ? [] : [line(shelf, A.jobB)])]
            : target.op === 'waste'
              ? [line(shelf, A.waste)]
              : target.op === 'move'
                ? [line(A.shelf, A.bench)]
                : target.op === 'bring_back'
                  ? [
                      line(w.userOf(target.ref!) ?? A.jobA, shelf, {
                        ref: target.ref,
                        itemId: target.item,
                        lotId: target.lot,
                      }),
                    ]
                  : target.op === 'recharge' || target.op === 'spoil'
                    ? [
                        line(w.userOf(target.ref!) ?? A.jobA, target.op === 'spoil' ? A.waste : A.jobB, {
                          ref: target.ref,
                          itemId: target.item,
                          lotId: target.lot,
                        }),
                      ]
                    : target.op === 'direct'
                      ? [line(A.supplier, A.jobB, { goods: price(s) })]
                      : []
      // With a minute of its own, or at that of the line that it replaces.
      const at = s.back === 0 ? null : effectiveAt
      return change({ type: 'replace', lineId: w.lineId(), key: target.key, effectiveAt: at, by })
    }
  }
}

/** Quantities and values of every account and pool, as text: what two histories must agree in. */
export function standing(w: World): Record<string, string> {
  const out: Record<string, bigint> = {}
  const add = (key: string, x: bigint) => {
    out[key] = (out[key] ?? 0n) + x
  }
  for (const m of w.books.movements) {
    for (const [account, sign] of [
      [m.from, -1n],
      [m.to, 1n],
    ] as const) {
      const kind = w.books.accountKind(account)
      const where = kind === 'place' && m.quantity === 0n ? 'stock' : String(account)
      add(`q ${m.itemId}.${m.lotId} ${where}`, sign * m.quantity)
      add(`v ${m.itemId} ${kind === 'place' ? 'stock' : account === A.stock ? 'stock' : where}`, sign * m.value)
    }
  }
  return Object.fromEntries(
    Object.entries(out)
      .filter(([, v]) => v !== 0n)
      .map(([k, v]) => [k, v.toString()])
      .sort(([a], [b]) => (a! < b! ? -1 : 1)),
  )
}
