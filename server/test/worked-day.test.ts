import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { expect } from 'chai'
import { formatDecimal } from '@shelve/core'
import { ledgerJournal, verify } from '@shelve/server'
import { newItem, world, type World } from './client.ts'

const DOC = fileURLToPath(new URL('../../docs/ledger.md', import.meta.url))
/** The day that docs/ledger.md tells: what stands there must be what Shelve does. */
describe('the worked day of the documentation', () => {
  let w: World
  const told: string[] = []
  before(async () => {
    w = await world()
    const { c, lab } = w
    const gloves = await newItem(c, { code: 'GLV', name: 'Gloves', unit: 'box', packs: [{ name: 'case', size: '10' }] })
    const acid = await newItem(c, { code: 'ACD', name: 'Acid', unit: 'L', decimals: 3, identifiedBy: 'lot_expiry' })
    const job = (await c.ok<{ id: string }>('POST', '/api/jobs', { code: 'NIT', name: 'Nitrate run' })).id
    const spilled = (await c.get<{ rows: { id: string; name: string }[] }>('/api/waste-reasons')).rows.find(
      r => r.name === 'Spilled',
    )!.id
    const tell = async (what: string) => {
      const parts: string[] = []
      for (const it of [gloves, acid]) {
        const s = await c.get<{ onHand: string; value: string }>(`/api/items/${it.id}/stock`)
        parts.push(`${s.onHand} ${it.unit}`, s.value)
      }
      told.push(`| ${what} | ${parts.join(' | ')} |`)
    }
    const at = (hour: number, minute = 0) => {
      w.clock.now = Date.UTC(2026, 10, 25, hour - 1, minute)
      return new Date(w.clock.now).toISOString()
    }
    at(8, 30)
    const receipt = await c.must({
      kind: 'receipt',
      place: lab.id,
      head: { supplier: 'Ostrelith', charges: [{ label: 'Freight', amount: '9', basis: 'value' }] },
      lines: [
        c.line({ item: gloves.id, typed: '2', unit: 'case', price: '35' }),
        c.line({ item: acid.id, typed: '5', price: '21', lot: { code: 'E7', expiry: '2027-06-30' } }),
      ],
    })
    await tell('08:30 delivery')
    at(9)
    await c.must({
      kind: 'issue',
      place: lab.id,
      taker: 'Mirja',
      head: { job },
      lines: [c.line({ item: gloves.id, typed: '6' }), c.line({ item: acid.id, typed: '1500 ml' })],
    })
    await tell('09:00 issue')
    at(10)
    const waste = await c.must({
      kind: 'waste',
      place: lab.id,
      head: { reason: spilled },
      lines: [c.line({ item: acid.id, typed: '0.5' })],
    })
    await tell('10:00 waste')
    at(11)
    await c.must({
      kind: 'count',
      place: lab.id,
      lines: [c.line({ item: gloves.id, from: lab.id, counted: 'counted', typed: '12', again: '12' })],
    })
    await tell('11:00 count: 12')
    at(12)
    await c.must({
      kind: 'issue',
      place: lab.id,
      effectiveAt: '2026-11-25T09:30:00Z',
      head: { job },
      lines: [c.line({ item: gloves.id, typed: '2' })],
    })
    await tell('12:00 late slip of 10:30')
    at(14)
    await c.must({
      kind: 'correction',
      head: { corrects: receipt.id, why: 'the invoice says 42' },
      lines: [c.line({ ref: receipt.lines[0]!.id, act: 'price', price: '42', unit: 'case', item: gloves.id })],
    })
    await tell('14:00 price put right')
    at(15)
    await c.ok('POST', `/api/slips/${waste.id}/reversal`, { id: '01a21000-0000-7000-8000-00000000000a' })
    await tell('15:00 waste taken back')
    expect(verify(w.app).faults).to.deep.equal([])
  })
  after(() => w.stop())

  it('what is told after each slip is what the shelf and the books say', () => {
    const doc = readFileSync(DOC, 'utf8')
    for (const line of told) expect(doc, line).to.include(line)
  })
  it('the journal that is printed there is the journal that Shelve exports', () => {
    const doc = readFileSync(DOC, 'utf8')
    const printed = /```journal\n([\s\S]*?)```/.exec(doc)?.[1]
    expect([...ledgerJournal(w.app)].join('').trim()).to.equal(printed?.trim())
  })
  it('ledger and hledger, reading the printed journal, come to the same balances', () => {
    const printed = /```journal\n([\s\S]*?)```/.exec(readFileSync(DOC, 'utf8'))![1]!
    const file = join(mkdtempSync(join(tmpdir(), 'shelve-day-')), 'day.journal')
    writeFileSync(file, printed)
    const hledger = execFileSync(
      'hledger',
      ['-f', file, 'bal', '--flat', '-E', '-N', '-O', 'csv', '--layout', 'bare'],
      { encoding: 'utf8' },
    )
    const gloves = [...w.app.stock.all().values()].find(it => it.code === 'GLV')!
    expect(formatDecimal(gloves.quantity)).to.equal('12')
    expect(
      hledger
        .split('\n')
        .filter(l => /place/i.test(l) && /i:GLV/.test(l))
        .map(l => Number(l.split(',').at(-1)!.replaceAll('"', ''))),
    ).to.deep.equal([12])
    const ledger = execFileSync(
      'ledger',
      ['-f', file, 'bal', '--flat', '--no-total', '--format', '%(account)\t%(quantity(scrub(display_total)))\n'],
      { encoding: 'utf8' },
    )
    expect(ledger).to.match(/GLV.*\t12\b|\t12\n/)
  })
})
