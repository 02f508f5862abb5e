import { compose } from './src/compose.ts'
import { LOOKING } from './src/ground/index.ts'
import { checkDatabase, verifyChain, verifyFigures } from './src/ledger/index.ts'
const part = process.argv[2]!
const house = compose(process.argv[3]!, { reads: LOOKING })
const c0 = process.cpuUsage(), t0 = Date.now()
const r = { file: checkDatabase, chain: verifyChain, figures: verifyFigures }[part as 'file'](house) as any
const c = process.cpuUsage(c0)
console.log(part, 'cpu', ((c.user + c.system) / 1e6).toFixed(2), 'wall', (Date.now() - t0) / 1000, (r.faults ?? r).length, Math.round(process.memoryUsage().rss / 1e6) + ' MB')
house.close()
