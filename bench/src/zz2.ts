import { copyFileSync, rmSync, mkdirSync } from 'node:fs'
import { performance } from 'node:perf_hooks'
import { v7 } from 'uuid'
import Database from 'better-sqlite3'
import { DATABASE } from '@shelve/server'
import { Driver, line } from './driver.ts'
rmSync('/tmp/zzdata', { recursive: true, force: true }); mkdirSync('/tmp/zzdata')
copyFileSync('/tmp/zz.sqlite', '/tmp/zzdata/' + DATABASE)
const db = new Database('/tmp/zz.sqlite', { readonly: true })
const area = (db.prepare(`select uid from place where kind='area' limit 1`).get() as any).uid
const cells = db.prepare(`select i.uid as item, p.uid as place, lot.uid as lot, lot.code from balance b
      join item i on i.id = b.item_id join place p on p.id = b.place_id join lot on lot.id = b.lot_id
      where b.place_id in (select place_id from place_within w join place a on a.id = w.ancestor_id where a.uid = ?)
        and b.quantity > 0 and i.code <> 'HOT' limit 150`).all(area) as any[]
const count: any = { kind: 'count', place: area, head: { blind: false }, lines: cells.map(c => line({ item: c.item, from: c.place, lot: c.code === null ? null : { id: c.lot, code: c.code }, counted: 'counted', typed: '7', again: '7' })) }
const d = await Driver.start('/tmp/zzdata')
const paper = v7()
const ask = async (n: number) => { Object.assign(count.lines[3], { typed: String(n), again: String(n) }); const a = performance.now(); const r = await d.call('POST', `/api/slips/${paper}/effect`, count); if (r.status !== 200) throw new Error(JSON.stringify(r.body).slice(0, 300)); return performance.now() - a }
const run = async (n: number) => { const t: number[] = []; for (let i = 0; i < n; i++) t.push(await ask(i % 40 + 1)); t.sort((a, b) => a - b); return `median ${t[n >> 1]!.toFixed(1)} min ${t[0]!.toFixed(1)}` }
console.log('first', (await ask(50)).toFixed(1), 'lines', count.lines.length)
console.log('without list', await run(40))
await d.call('GET', '/api/stock')
console.log('with list', await run(40))
console.log('with list', await run(200))
const h: number[] = []; for (let i = 0; i < 50; i++) { const a = performance.now(); await d.call('GET', '/api/health'); h.push(performance.now() - a) } h.sort((a, b) => a - b); console.log('health', h[25]!.toFixed(2))
await d.stop?.()
d.child.kill('SIGTERM')
