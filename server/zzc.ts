import { compose } from './src/index.ts'
import { mkdtempSync, rmSync } from 'node:fs'
const d = mkdtempSync('/dev/shm/zzc-'); const f = d + '/a.sqlite'
compose(f).close()
const ts: number[] = []
for (let i = 0; i < 60; i++) { const t = performance.now(); const h = compose(f); const t2 = performance.now(); h.close(); ts.push(t2 - t) }
console.log(ts.map(x => x.toFixed(1)).join(' ')); rmSync(d, { recursive: true })
