import { spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import {
  copyFileSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs'
import { cpus, tmpdir, totalmem } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { parseArgs } from 'node:util'
import { gzipSync } from 'node:zlib'
import { compose, DATABASE } from '@shelve/server'
import { v7 } from 'uuid'
import { Bare } from './bare.ts'
import { inTheBrowser, type Picking } from './browser.ts'
import { document } from './document.ts'
import { Driver } from './driver.ts'
import { table, time, type Row } from './measure.ts'
import { jobs } from './jobs.ts'
import { making } from './making.ts'
import { besideEveryList } from './every-list.ts'
import { besideEveryWrite } from './every-write.ts'
import { loop } from './loop.ts'
import { bookings, correction, lists, looking, supply, type Bench } from './rows.ts'
import { pickedBefore, picking } from './picked.ts'
import { stocked } from './stock.ts'

const root = fileURLToPath(new URL('../..', import.meta.url))
const { values } = parseArgs({
  options: {
    sizes: { type: 'string', default: '100000,1000000' },
    quick: { type: 'boolean', default: false },
    browser: { type: 'boolean', default: false },
    data: { type: 'string', default: join(root, 'bench/.data') },
  },
})
mkdirSync(values.data, { recursive: true })
/** The schema's own text: other tables, other data. */
const schema = createHash('sha256')
  .update(
    readdirSync(join(root, 'server/drizzle'))
      .filter(f => f.endsWith('.sql'))
      .map(f => readFileSync(join(root, 'server/drizzle', f), 'utf8'))
      .join(''),
  )
  .digest('hex')
  .slice(0, 8)

/** The large organisation, made once for each size and kept; a run works on a copy. */
async function prepared(size: number): Promise<{ file: string; stock: Awaited<ReturnType<typeof stocked>> }> {
  const file = join(values.data, `${size}-movements-schema-${schema}.sqlite`)
  const clock = { now: Date.now() }
  if (!existsSync(file)) {
    console.error(`Writing ${size} movements through the booking function (once; kept in ${values.data}) …`)
    const growing = `${file}.growing`
    for (const end of ['', '-wal', '-shm']) rmSync(growing + end, { force: true })
    const app = compose(growing, { now: () => clock.now })
    await stocked(app, clock, Date.now() - 3_600_000, size)
    app.close()
    copyFileSync(growing, file)
    rmSync(growing)
  }
  const app = compose(file)
  const stock = await stocked(app, clock, 0, size)
  app.close()
  return { file, stock }
}

/** The whole ledger worked out anew by the command, beside each of the bare database's movements read once. */
async function verification(data: string, bare: Bare, when: string, goal: number | undefined): Promise<Row[]> {
  const verified = await time(() =>
    spawnSync(process.execPath, [join(root, 'server/dist/cli.mjs'), 'verify'], {
      cwd: root,
      encoding: 'utf8',
      env: { ...process.env, SHELVE_DATA: data },
    }),
  )
  if (verified.value.status !== 0)
    throw new Error(`verify found faults: ${verified.value.stdout}${verified.value.stderr}`)
  const [, movements, seconds] = /^(\d+) movements .*the ledger in ([\d.]+) s/m.exec(verified.value.stdout)!
  const all = (await time(() => bare.readAll())).ms
  const ledger = 1000 * Number(seconds)
  return [
    {
      what: `\`shelve verify\` ${when}, starting the command and the file’s own check included`,
      shelve: verified.ms,
      unit: 'ms',
      bare: all,
      ratio: verified.ms / all,
      goal: '',
      met: null,
      note: `${movements} movements; bare: reading each movement once`,
    },
    {
      what: '… of which the ledger',
      shelve: ledger,
      unit: 'ms',
      bare: all,
      ratio: ledger / all,
      goal: goal === undefined ? '' : `≤ ${goal / 1000} 000 ms`,
      met: goal === undefined ? null : ledger <= goal,
    },
  ]
}

async function run(size: number): Promise<Row[]> {
  const { file, stock } = await prepared(size)
  const data = mkdtempSync(join(tmpdir(), 'shelve-bench-'))
  const bareFile = join(data, 'bare.sqlite')
  copyFileSync(file, join(data, DATABASE))
  pickedBefore(join(data, DATABASE), Date.now())
  copyFileSync(file, bareFile)
  const bare = new Bare(bareFile)
  const asMade = await verification(data, bare, 'as it was made', size >= 1_000_000 ? 8000 : undefined)
  const driver = await Driver.start(data)
  const b: Bench = { driver, bare, stock, now: Date.now(), file: join(data, DATABASE), quick: values.quick, made: [] }
  const rows: Row[] = [{ what: 'start of the server', shelve: driver.startMs, unit: 'ms', goal: '', met: null }]
  const idle = driver.memory()
  const bytes = statSync(file).size / Number(bare.db.prepare('select count(*) from movement').pluck().get())
  rows.push({
    what: 'size of the database for each movement',
    shelve: bytes,
    unit: 'bytes',
    goal: '≤ 600 bytes',
    met: bytes <= 600,
  })
  await supply(b)
  rows.push(...(await bookings(b)), ...(await lists(b)), ...(await looking(b)), ...(await correction(b)))
  rows.push(...(await picking(b)))
  rows.push(...(await jobs(b)))
  rows.push(...(await making(b)))
  const after = driver.memory()
  rows.push({
    what: 'resident memory of the server after all this',
    shelve: after,
    unit: 'MB',
    goal: size >= 1_000_000 ? '≤ 250 MB' : '',
    met: size >= 1_000_000 ? after <= 250 : null,
    note: `${idle.toFixed(0)} MB just started`,
  })
  rows.push(...(await loop(b)), ...(await besideEveryList(b)), ...(await besideEveryWrite(b)))
  if (size >= 1_000_000 || values.quick) {
    inBrowser.push(...(await withBarcodes(driver, stock)))
  }
  await driver.stop()
  rows.push(...asMade, ...(await verification(data, bare, 'after all this', undefined)))
  bare.db.close()
  rmSync(data, { recursive: true })
  return rows
}

/** Measured once, on the largest size. */
const inBrowser: Row[] = []

/** The browser alone, on the large organisation; what else was measured before stays. */
async function browserOnly(): Promise<void> {
  const { file, stock } = await prepared(Number(values.sizes.split(',').at(-1)))
  const data = mkdtempSync(join(tmpdir(), 'shelve-bench-'))
  copyFileSync(file, join(data, DATABASE))
  const driver = await Driver.start(data)
  let rows: Row[]
  try {
    rows = [...scriptSize(), ...(await withBarcodes(driver, stock))]
  } finally {
    await driver.stop()
  }
  rmSync(data, { recursive: true })
  console.log(table('Interface', rows))
  const kept = JSON.parse(readFileSync(join(root, 'bench/results.json'), 'utf8')) as { results: Record<string, Row[]> }
  kept.results.interface = rows
  writeFileSync(join(root, 'bench/results.json'), `${JSON.stringify(kept, null, 1)}\n`)
  document()
}
/** Barcodes of twenty items, linked as on any day; the page finds them in its own index. */
async function withBarcodes(driver: Driver, { items, areas }: Bench['stock']): Promise<Row[]> {
  const codes = Array.from({ length: 20 }, (_, i) => `BENCH${String(i).padStart(6, '0')}`)
  for (const [i, code] of codes.entries()) await driver.call('POST', '/api/codes', { code, item: items[i * 101 + 6]! })
  return inTheBrowser(`http://127.0.0.1:${driver.port}`, codes, await listToPick(driver, items, areas[0]!))
}

/** A list of two hundred lines for one job, of things of one area; twenty of them are scanned. */
async function listToPick(driver: Driver, items: readonly string[], place: string): Promise<Picking> {
  const [lines, scanned] = [200, 20]
  const made = async (path: string, body: object) => {
    const r = await driver.call<{ id: string }>('POST', path, body)
    if (r.status !== 201) throw new Error(`${path}: ${JSON.stringify(r.body).slice(0, 300)}`)
    return r.body.id
  }
  // Of every twentieth item something lies in the first area.
  const of = Array.from({ length: lines }, (_, i) => items[i * 20]!)
  const job = await made('/api/jobs', {
    name: 'Much is picked for it',
    place,
    lines: of.map(item => ({ id: v7(), item, typed: '1' })),
  })
  const list = v7()
  await made('/api/picks', { id: list, jobs: [job] })
  // What was issued before may have emptied a shelf: barcodes stand on what is really asked for.
  const { body } = await driver.call<{ content: { lines: { item: string }[] } }>('GET', `/api/slips/${list}`)
  const asked = [...new Set(body.content.lines.map(l => l.item))]
  const step = Math.floor(asked.length / scanned)
  const codes = Array.from({ length: scanned }, (_, i) => `PICK${String(i).padStart(6, '0')}`)
  for (const [i, code] of codes.entries()) await driver.call('POST', '/api/codes', { code, item: asked[i * step]! })
  return { list, lines: asked.length, codes }
}

/** What a browser must load before the first view can be used. */
function scriptSize(): Row[] {
  const dist = join(root, 'web/dist')
  if (!existsSync(dist)) return []
  const html = readFileSync(join(dist, 'index.html'), 'utf8')
  const first = [...html.matchAll(/(?:src|href)="\/(assets\/[^"]+\.js)"/g)].map(m => m[1]!)
  const signIn = readdirSync(join(dist, 'assets'))
    .filter(f => /^SignInView-.*\.js$/.test(f))
    .map(f => `assets/${f}`)
  const size =
    [...new Set([...first, ...signIn])].reduce(
      (s, f) => s + gzipSync(readFileSync(join(dist, f)), { level: 6 }).length,
      0,
    ) / 1024
  return [
    { what: 'script before the first view, compressed', shelve: size, unit: 'kB', goal: '≤ 180 kB', met: size <= 180 },
  ]
}

if (values.browser) {
  await browserOnly()
  process.exit()
}
const results: Record<string, Row[]> = {}
for (const size of values.sizes.split(',').map(Number)) {
  results[size] = await run(size)
  console.log(table(`${size.toLocaleString('en-GB')} movements`, results[size]))
}
results.interface = [...scriptSize(), ...inBrowser]
console.log(table('Interface', results.interface))
const sizes = values.sizes.split(',')
if (sizes.length > 1) {
  const pick = (size: string, what: RegExp) => results[size]!.find(r => what.test(r.what))!.shelve
  results.growth = [/^book a 20-line/, /^stock list, first/, /^stock list, sorted/].map(what => {
    const ratio = pick(sizes.at(-1)!, what) / pick(sizes[0]!, what)
    return {
      what: results[sizes[0]!]!.find(r => what.test(r.what))!.what,
      shelve: ratio,
      unit: '×',
      goal: '≤ 1.3 ×',
      met: ratio <= 1.3,
    }
  })
  console.log(table(`As the ledger grows from ${sizes[0]} to ${sizes.at(-1)}`, results.growth))
}
writeFileSync(
  join(root, 'bench/results.json'),
  `${JSON.stringify({ measuredAt: new Date().toISOString(), node: process.version, processors: cpus().length, memoryGB: Math.round(totalmem() / 2 ** 30), quick: values.quick, results }, null, 1)}\n`,
)
if (!values.quick && results['100000'] && results['1000000']) document()
