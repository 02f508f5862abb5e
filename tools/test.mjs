// Everything that checks Shelve, one after the other; the numbers of all runners added up in the closing line.
import { spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { debian, packages, root, server, web } from './setup.mjs'

const wanted = process.argv.slice(2)
packages()
const lacking = debian([
  ['chromium', '/usr/bin/chromium'],
  ['ledger', '/usr/bin/ledger'],
  ['hledger', '/usr/bin/hledger'],
])
for (const name of lacking)
  console.error(`The Debian package ${name} is missing and could not be installed: the tests that need it will fail.`)

const bin = file => join(root, 'node_modules', file)
const mocha = dir => [
  bin('mocha/bin/mocha.js'),
  '--import=tsx',
  '--require=./tools/strict.cjs',
  '--reporter=./tools/reporter.cjs',
  '--forbid-only',
  '--forbid-pending',
  '--fail-zero',
  '--no-color',
  '--exit',
  `${dir}/test/**/*.test.ts`,
]
const stages = {
  types: [bin('typescript/bin/tsc'), '-p', '.', '--noEmit'],
  'types of the interface': [bin('vue-tsc/bin/vue-tsc.js'), '-p', 'web', '--noEmit'],
  form: [bin('prettier/bin/prettier.cjs'), '--check', '--log-level=warn', '.'],
  lint: [bin('eslint/bin/eslint.js'), '.', '--max-warnings=0'],
  arrows: [
    bin('dependency-cruiser/bin/dependency-cruise.mjs'),
    '--config',
    '.dependency-cruiser.cjs',
    'core',
    'contract',
    'server',
    'web/src',
    'standins',
    'demo',
  ],
  core: mocha('core'),
  server: mocha('server'),
  interface: mocha('web'),
  demonstration: mocha('demo'),
  browser: [bin('@playwright/test/cli.js'), 'test', '--config', 'e2e/playwright.config.ts'],
}
/** These write no numbers: each counts as one test. */
const uncounted = new Set(['types', 'types of the interface', 'form', 'lint', 'arrows'])
const sum = { passed: 0, failed: 0, skipped: 0 }
rmSync(join(root, '.results'), { recursive: true, force: true })
mkdirSync(join(root, '.results'))
for (const [name, args] of Object.entries(stages)) {
  if (wanted.length && !wanted.includes(name)) continue
  console.log(`\n=== ${name}`)
  if (name === 'browser') {
    web()
    server()
  }
  const began = Date.now()
  const RESULT = join(root, '.results', `${name.replaceAll(' ', '-')}.json`)
  const run = spawnSync(process.execPath, args, {
    cwd: root,
    stdio: ['ignore', 'inherit', 'inherit'],
    timeout: 40 * 60_000,
    killSignal: 'SIGKILL',
    env: { ...process.env, RESULT },
  })
  const r = { passed: 0, failed: 0, skipped: 0 }
  if (uncounted.has(name)) r.passed = run.status === 0 ? 1 : 0
  else if (existsSync(RESULT)) {
    const { stats: s } = JSON.parse(readFileSync(RESULT, 'utf8'))
    Object.assign(
      r,
      'expected' in s
        ? { passed: s.expected, failed: s.unexpected + s.flaky, skipped: s.skipped }
        : { passed: s.passes, failed: s.failures, skipped: s.pending },
    )
  }
  // A left-out test counts as failed; so does a runner that crashed, ran out of time, or ran nothing.
  r.failed += r.skipped
  if (!r.failed && (run.status !== 0 || r.passed === 0)) r.failed = 1
  sum.passed += r.passed
  sum.failed += r.failed
  console.log(
    `--- ${name}: ${r.passed} ok, ${r.failed} not, ${((Date.now() - began) / 1000).toFixed(0)} s${run.error ? ` (${run.error.code})` : ''}`,
  )
}
console.log(`\n${sum.passed} passed, ${sum.failed} failed`)
process.exitCode = sum.failed || !sum.passed ? 1 : 0
