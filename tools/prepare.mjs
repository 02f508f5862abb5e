// What stages of the tests need, made once for all of them: node tools/prepare.mjs STAGE …
import { join } from 'node:path'
import { root, run, server, tsx, web } from './setup.mjs'

const wanted = new Set(process.argv.slice(2))
server()
if (wanted.has('browser')) web()
if (wanted.has('browser') || wanted.has('demonstration')) {
  const data = join(root, '.results', 'demonstration')
  const made = run(process.execPath, [...tsx, 'demo/src/make.ts', data, String(Date.UTC(2026, 10, 25, 10))])
  process.exitCode = made.status ?? 1
}
