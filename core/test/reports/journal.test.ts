import { expect } from 'chai'
import fc from 'fast-check'
import {
  METHODS,
  balancesByAccount,
  formatDecimal,
  journal,
  journalName,
  namesApart,
  type JournalLine,
  type Movement,
} from '@shelve/core'
import { play, step, worldOf } from '../ledger/histories.ts'
import { A, type World } from '../ledger/world.ts'
import { byHledger, byLedger } from './programs.ts'

function lines(w: World): JournalLine[] {
  const name = (id: number) => `${w.books.accountKind(id)}:${id}`
  const inStock = (id: number) => w.books.accountKind(id) === 'place' || id === A.stock
  return w.books.movements.map((m: Movement) => ({
    date: new Date(m.effectiveAt).toISOString().slice(0, 10),
    slip: `S${m.slipId}`,
    kind: m.kind,
    item: `h${m.itemId}`,
    from: name(m.from),
    to: name(m.to),
    fromStock: inStock(m.from),
    toStock: inStock(m.to),
    quantity: m.quantity,
    value: m.value,
  }))
}

/** The same balances as Shelve keeps them: shelves by quantity, stock by its pools' value. */
function byShelve(w: World): Record<string, string> {
  const out: Record<string, bigint> = {}
  const add = (k: string, v: bigint) => {
    out[k] = (out[k] ?? 0n) + v
  }
  for (const b of balancesByAccount(w.books.movements).values()) {
    const kind = w.books.accountKind(b.account)!
    add(
      `qty:${kind}:${b.account}:h${b.itemId}`,
      kind === 'place'
        ? w.books
            .lotBalances(b.itemId)
            .filter(x => x.placeId === b.account)
            .reduce((s, x) => s + x.quantity, 0n)
        : b.quantity,
    )
    if (kind !== 'place' && kind !== 'stock') add(`val:${kind}:${b.account}:h${b.itemId}`, b.value)
  }
  for (const item of [1, 2, 3, 4])
    for (const pool of new Set([100, 101].map(l => w.books.poolOf(item, l - 100 + item * 100))))
      add(`val:stock:h${item}`, w.books.pool(pool).value)
  return Object.fromEntries(
    Object.entries(out)
      .filter(([, v]) => v !== 0n)
      .map(([k, v]) => [k, formatDecimal(v)]),
  )
}

describe('the ledger as plain-text double entry, worked out by ledger and hledger', () => {
  for (const method of METHODS)
    it(`${method}: every balance of random histories agrees in quantity and value`, () => {
      let compared = 0
      fc.assert(
        fc.property(fc.array(step(), { minLength: 40, maxLength: 120 }), script => {
          const w = worldOf(method)
          play(w, script)
          if (!w.books.movements.length) return
          const text = [...journal(lines(w), 'EUR')].join('')
          const mine = byShelve(w)
          compared += Object.keys(mine).length
          expect(byLedger(text)).to.deep.equal(mine)
          expect(byHledger(text)).to.deep.equal(mine)
        }),
        { numRuns: 4 },
      )
      expect(compared).to.be.greaterThan(20)
    }).timeout(60_000)

  it('names cannot break the syntax', () => {
    expect(journalName('a; b:c  (x) "y"\n@{z}')).to.equal('a b c x y z')
  })

  it('names that would be written alike are kept apart, and the two programs read them apart', () => {
    const of = namesApart<number>()
    expect([of(1, 'a'), of(2, 'a 2'), of(3, 'a'), of(2, 'a 2'), of(4, 'a'), of(1, 'a')]).to.deep.equal([
      ...['a', 'a 2', 'a 3', 'a 2', 'a 4', 'a'],
    ])
    const line = (item: string, quantity: bigint): JournalLine => ({
      ...{ date: '2026-11-25', slip: 'RC-1', kind: 'receipt', item, from: 'supplier:S', to: 'place:P' },
      ...{ fromStock: false, toStock: true, quantity: quantity * 1_000_000n, value: 0n },
    })
    const text = [...journal([line('A:1', 1n), line('A 1', 2n), line('A:1', 4n)], 'EUR')].join('')
    const right = {
      ...{ 'qty:place:P:A 1': '5', 'qty:place:P:A 1 2': '2' },
      ...{ 'qty:supplier:S:A 1': '-5', 'qty:supplier:S:A 1 2': '-2' },
    }
    expect(byLedger(text)).to.deep.equal(right)
    expect(byHledger(text)).to.deep.equal(right)
  })
})
