import { v7 } from 'uuid'
import { idleStood, line } from './driver.ts'
import { inTurn, median, times, type Row } from './measure.ts'
import { type Bench, issue } from './rows.ts'

const NEEDS = 40
/** Each make gives so many lots, of each of which so many are made again. */
const FAN = 100

/** An item, with what is made of it by lot. */
async function made(b: Bench, path: string, body: object): Promise<string> {
  const r = await b.driver.call<{ id: string }>('POST', path, body)
  if (r.status !== 201) throw new Error(`${path}: ${JSON.stringify(r.body).slice(0, 300)}`)
  return r.body.id
}
const item = (b: Bench, code: string, identifiedBy: 'lot' | 'quantity') =>
  made(b, '/api/items', { code, name: code, unit: 'each', identifiedBy })

/** A job of forty needs is made by one slip, again and again, beside as many rows written by the bare database. */
async function completed(b: Bench): Promise<Row> {
  const output = await item(b, 'BENCH-MADE', 'quantity')
  const [n, runs] = [NEEDS, b.quick ? 20 : 80]
  const job = await made(b, '/api/jobs', {
    name: 'Made again and again',
    place: b.stock.areas[0]!,
    lines: Array.from({ length: n }, (_, k) => ({ id: v7(), item: b.stock.items[(k % 250) * 20]!, typed: '9000' })),
  })
  b.made.push(job)
  const slip = () => ({
    kind: 'make' as const,
    place: b.stock.areas[0]!,
    head: { job, goesOn: true },
    lines: [
      line({ item: output, typed: '1', side: 'out' }),
      ...Array.from({ length: n }, (_, k) => line({ item: b.stock.items[(k % 250) * 20]!, typed: '1' })),
    ],
  })
  const make = () => b.driver.book(slip())
  const first = median(await times(runs, make))
  await times(b.quick ? 0 : 2 * runs, make)
  const [shelve, bare] = (await inTurn(runs, make, () => b.bare.issue(n + 1, true))).map(median) as [number, number]
  return {
    what: `a job of ${n} needs is made by one slip, with lots`,
    shelve,
    unit: 'ms',
    bare,
    ratio: shelve / bare,
    goal: '≤ 4 ×',
    met: shelve <= 4 * bare,
    note: `the first ${runs} of them ${first.toFixed(1)} ms`,
  }
}

/** A lot is followed to everything that is made of it. */
async function traced(b: Bench): Promise<Row[]> {
  const place = b.stock.areas[0]!
  const [raw, middle, end] = [
    await item(b, 'BENCH-RAW', 'lot'),
    await item(b, 'BENCH-MIDDLE', 'lot'),
    await item(b, 'BENCH-END', 'lot'),
  ]
  await b.driver.book({
    kind: 'receipt',
    place,
    head: { supplier: 'Supplier 1' },
    lines: [line({ item: raw, typed: '5', price: '1', lot: { code: 'R' } })],
  })
  const out = (of: string, codes: readonly string[]) =>
    codes.map(code => line({ item: of, typed: '1', side: 'out', lot: { code } }))
  const codes = (of: string) => Array.from({ length: FAN }, (_, i) => `${of}${i}`)
  await b.driver.book({ kind: 'make', place, lines: [...out(middle, codes('M')), line({ item: raw, typed: '1' })] })
  for (const code of codes('M'))
    // The first to go is each of them in turn: each lot goes whole.
    await b.driver.book({
      kind: 'make',
      place,
      lines: [...out(end, codes(`${code}-`)), line({ item: middle, typed: '1' })],
    })
  const { rows } = (await b.driver.call<{ rows: { id: string }[] }>('GET', `/api/items/${raw}/lots`)).body
  const path = `/api/lots/${rows[0]!.id}/trace`
  const found = (await b.driver.call<{ down: unknown[] }>('GET', path)).body.down.length
  const anew: number[] = []
  for (let i = 0; i < (b.quick ? 6 : 15); i++) {
    await b.driver.book(issue(b, 20))
    anew.push(...(await times(1, () => b.driver.call('GET', path))))
  }
  let stood = 0
  const idle = await idleStood(async () => {
    stood = await b.driver.stoodBeside(async () => void (await b.driver.drain(path, 'application/json')))
  })
  const trace: Row = {
    what: `a lot is followed to ${found} lots that are made of it, with who got them and what is left`,
    shelve: median(anew),
    unit: 'ms',
    goal: '≤ 200 ms',
    met: found >= FAN * FAN && median(anew) <= 200,
  }
  const stall: Row = {
    what: 'longest stall of the request loop beside it',
    shelve: stood,
    unit: 'ms',
    goal: '≤ 50 ms',
    met: stood <= 50,
    bare: idle,
    note: 'bare: a process that does nothing',
  }
  return [trace, stall]
}

export const making = async (b: Bench): Promise<Row[]> => [await completed(b), ...(await traced(b))]
