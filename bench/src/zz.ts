import { copyFileSync, existsSync } from 'node:fs'
import { performance } from 'node:perf_hooks'
import { v7 } from 'uuid'
import Database from 'better-sqlite3'
import { compose } from '@shelve/server'
import { SlipContent, Effect } from '@shelve/contract'
import { stocked, callerOf } from './stock.ts'
import { line } from './driver.ts'
import { attempt, effectOf } from '../../server/src/papers/book.ts'
import { numbered } from '../../server/src/papers/drafts.ts'
import { SqlBooks } from '../../server/src/ledger/index.ts'
const file = '/tmp/zz.sqlite'
const clock = { now: Date.now() }
if (!existsSync(file)) {
  const app = compose('/tmp/zz-grow.sqlite', { now: () => clock.now })
  await stocked(app, clock, Date.now() - 3_600_000, 100000)
  app.close()
  copyFileSync('/tmp/zz-grow.sqlite', file)
}
const app = compose(file)
const stock = await stocked(app, clock, 0, 100000)
const db = new Database(file, { readonly: true })
const cells = db.prepare(`select i.uid as item, p.uid as place, lot.uid as lot, lot.code from balance b
      join item i on i.id = b.item_id join place p on p.id = b.place_id join lot on lot.id = b.lot_id
      where b.place_id in (select place_id from place_within w join place a on a.id = w.ancestor_id where a.uid = ?)
        and b.quantity > 0 and i.code <> 'HOT' limit 150`).all(stock.areas[0]) as any[]
const count: any = { kind: 'count', place: stock.areas[0]!, head: { blind: false }, lines: cells.map(c => line({ item: c.item, from: c.place, lot: c.code === null ? null : { id: c.lot, code: c.code }, counted: 'counted', typed: '7', again: '7' })) }
const paper = v7()
const caller = callerOf(app)
const med = (f: () => void, n = 40) => { const t: number[] = []; for (let i = 0; i < n; i++) { const a = performance.now(); f(); t.push(performance.now() - a) } ; t.sort((a, b) => a - b); return t[n >> 1]!.toFixed(2) }
app.stock.all(); let i = 1
const next = () => { Object.assign(count.lines[3], { typed: String(++i % 50), again: String(i % 50) }); return SlipContent.parse(count) }
const text = JSON.stringify(count)
console.log('content bytes', text.length, 'lines', count.lines.length)
console.log('JSON.parse', med(() => JSON.parse(text)))
console.log('SlipContent.parse', med(() => next()))
const content = next()
console.log('numbered', med(() => numbered(app, paper, content)))
console.log('attempt', med(() => attempt(app, caller, paper, next(), new SqlBooks(app, app.trials.memory()))))
console.log('effectOf', med(() => effectOf(app, caller, paper, next())))
const e = effectOf(app, caller, paper, content)
console.log('Effect.parse', med(() => Effect.parse((e as any).answer ?? e)))
const j = JSON.stringify(e); console.log('answer bytes', j.length, 'stringify', med(() => JSON.stringify(e)))
for (let k=0;k<150;k++) effectOf(app, caller, paper, next())
app.close()
