// Nothing that a request asks goes through what grows with every booking from end to end. Each statement that any of these
// tests prepares is written down, and SQLite is asked how it would find its rows; a full scan is a fault of the whole run.
import Database from 'better-sqlite3'
import { expect } from 'chai'
import { world, type World } from './client.ts'

/** What a million movements make long. */
const GROWS = [
  ...['movement', 'slip', 'slip_line', 'sealed_bytes', 'event', 'charge', 'unpriced', 'layer'],
  ...['balance', 'lot', 'tally', 'tally_reversal', 'count_done', 'need', 'slip_search'],
]
/** Where it is gone through on purpose, and why. */
const ON_PURPOSE: readonly [file: string, tables: readonly string[], why: string][] = [
  ['ledger/verify', GROWS, 'everything is worked out anew, in threads of its own'],
  ['ledger/export.ts', GROWS, 'the whole ledger is wanted, a piece at a time'],
  ['position/facts.ts', ['balance', 'movement'], 'what is kept of all items is read once, at the start'],
  ['jobs/demand.ts', ['need'], 'the same'],
  ['jobs/rows.ts', ['need'], 'what all jobs need is listed'],
  ['counting/open-now.ts', ['movement'], 'what counts found is added up once, then only what was written since'],
  ['reports/lots-list.ts', ['balance'], 'all lots are listed'],
  ['papers/pictures.ts', ['slip', 'slip_line'], 'pictures that nothing names, once with each backup'],
  ['ledger/pools.ts', ['movement'], 'the way of keeping an item is changed, before anything of it was ever booked'],
  [
    'ground/events.ts',
    ['event'],
    'whether a backup was put in place, once at the start; what screens are told is some thousand',
  ],
  ['ledger/unpriced.ts', ['movement'], 'an index that holds nothing but what has no price yet'],
]
/** In the order of an index, until a page is full. */
const IN_ORDER = /^SCAN slip USING (COVERING )?INDEX slip_(at|last_seq|booked_at)$/
/** What the index of words finds. */
const BY_WORDS = /^SCAN slip_search VIRTUAL TABLE INDEX \d+:M\d$/
/** A later page: it begins where the one before ended, and goes through nothing to come there. */
const LATER = /\) < \(\?/

const asked = new Map<string, string>()
const { prepare } = Database.prototype
Database.prototype.prepare = function (this: Database.Database, source: string) {
  if (!asked.has(source)) asked.set(source, new Error().stack ?? '')
  return prepare.call(this, source)
} as typeof prepare

/** What SQLite would go through from end to end: the tables, and how it says so. */
function scanned(client: Database.Database, source: string): [table: string, how: string][] {
  if (!/^\s*(select|with|update|delete)\b/i.test(source)) return []
  const explain = prepare.call(client, `explain query plan ${source}`) as Database.Statement<unknown[]>
  const named = [...source.matchAll(/[:@$](\w+)/g)].map(m => [m[1]!, 1] as const)
  const plain = [...source.matchAll(/\?/g)].map(() => 1)
  const rows = (named.length ? explain.all(...plain, Object.fromEntries(named)) : explain.all(...plain)) as {
    readonly detail: string
  }[]
  return rows.flatMap(({ detail }) => {
    const alias = /^SCAN (\w+)/.exec(detail)?.[1]
    if (!alias || BY_WORDS.test(detail) || (IN_ORDER.test(detail) && !LATER.test(source))) return []
    const of = new RegExp(`(?:from|join|,)\\s+"?(\\w+)"?\\s+(?:as\\s+)?"?${alias}"?\\b`, 'i').exec(source)?.[1]
    const table = of && GROWS.includes(of) ? of : alias
    return GROWS.includes(table) ? [[table, detail] as [string, string]] : []
  })
}
const isMeant = (stack: string, table: string) =>
  ON_PURPOSE.some(([file, tables]) => stack.includes(`/server/src/${file}`) && tables.includes(table))

describe('how rows are found', () => {
  let w: World
  before(async () => (w = await world()))
  after(() => w.stop())

  it('a statement that reads a long table from end to end is noticed, by its name or by another', () => {
    const { client } = w.app.store
    expect(scanned(client, 'select * from movement where from_id = ? or to_id = ?').map(([t]) => t)).to.include(
      'movement',
    )
    expect(scanned(client, 'select 1 from slip s where s.title = :title').map(([t]) => t)).to.deep.equal(['slip'])
    expect(scanned(client, 'select 1 from tally as t join slip s on s.id = t.slip_id').map(([t]) => t)).to.include(
      'tally',
    )
    expect(scanned(client, 'select * from movement where from_id = ?')).to.deep.equal([])
    const inOrder = (after: string) =>
      scanned(client, `select title from slip ${after} order by coalesce(booked_at, saved_at) desc, id desc limit 9`)
    expect(inOrder(''), 'a first page').to.deep.equal([])
    const later = '(coalesce(booked_at, saved_at), id) < (?, ?)'
    expect(
      inOrder(`where ${later}`).map(([t]) => t),
      'a later one',
    ).to.deep.equal(['slip'])
    expect(inOrder(`where coalesce(booked_at, saved_at) <= ? and ${later}`)).to.deep.equal([])
    expect(scanned(client, 'select 1 from item where name = ?'), 'items are some thousands').to.deep.equal([])
  })
})

after('no statement of the whole run goes through what grows with every booking', async () => {
  const w = await world()
  const { client } = w.app.store
  const faults: string[] = []
  for (const [source, stack] of asked) {
    const from = stack.split('\n').filter(l => /\/(server|core)\/src\//.test(l) && !l.includes('/ground/'))
    // What tests ask by themselves may take its time.
    if (!from.length || /\/test\//.test(stack.split('\n')[2] ?? '')) continue
    for (const [table, how] of scanned(client, source))
      if (!isMeant(stack, table))
        faults.push(`${how} (${table}): ${source.replace(/\s+/g, ' ').slice(0, 300)}\n${from[0]}`)
  }
  await w.stop()
  expect(asked.size).to.be.greaterThan(1)
  expect(faults.join('\n\n')).to.equal('')
})
