// What stages of the tests need, made once for all of them: node tools/prepare.mjs server web data
import { join } from 'node:path'
import { root, run, server, tsx, web } from './setup.mjs'

/** The bundled server, the built interface, the demonstration's data on the day of the tests. */
const makes = {
  server: () => void server(),
  web,
  data() {
    const data = join(root, '.results', 'demonstration')
    const made = run(process.execPath, [...tsx, 'demo/src/make.ts', data, String(Date.UTC(2026, 10, 25, 10))])
    if (made.status !== 0) process.exit(1)
  },
}
for (const what of process.argv.slice(2)) makes[what]()
