// Everything that checks Shelve; the numbers of all runners added up in the closing line.
import { spawn } from 'node:child_process'
import { existsSync, mkdirSync, readFileSync, rmSync, statfsSync } from 'node:fs'
import { availableParallelism } from 'node:os'
import { join } from 'node:path'
import { withChromium } from './chromium.mjs'
import { debian, packagesBut, root } from './setup.mjs'

const wanted = process.argv.slice(2)
const whole = Date.now()
const driver = packagesBut()
const lacking = [
  ...withChromium(),
  ...debian([
    ['ledger', '/usr/bin/ledger'],
    ['hledger', '/usr/bin/hledger'],
  ]),
]
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
/** The browser's files are dealt out to so many stages, so that all lanes take of them. */
const HANDS = 4
const browsers = Array.from({ length: HANDS }, (_, i) => `browser ${i + 1}`)
const dealt = i => [
  bin('@playwright/test/cli.js'),
  'test',
  '--config',
  'e2e/playwright.config.ts',
  `--shard=${i + 1}/${HANDS}`,
  `--output=test-results/${i + 1}`,
]
/** In the order in which they are begun: first what needs no database while its driver is compiled, then the longest. */
const stages = {
  types: [bin('typescript/bin/tsc'), '-p', '.', '--noEmit'],
  'types of the interface': [bin('vue-tsc/bin/vue-tsc.js'), '-p', 'web', '--noEmit'],
  form: [bin('prettier/bin/prettier.cjs'), '--check', '--log-level=warn', '.'],
  lint: [bin('eslint/bin/eslint.js'), '.', '--max-warnings=0'],
  core: mocha('core'),
  interface: mocha('web'),
  server: mocha('server'),
  ...Object.fromEntries(browsers.map((name, i) => [name, dealt(i)])),
  demonstration: mocha('demo'),
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
}
/** These write no numbers: each counts as one test. */
const uncounted = new Set(['types', 'types of the interface', 'form', 'lint', 'arrows'])
/** These need what is made once for all: the bundled server, the built interface, the demonstration's data. */
const needs = {
  server: ['server'],
  demonstration: ['server', 'data'],
  ...Object.fromEntries(browsers.map(name => [name, ['server', 'web', 'data']])),
}
const asked = Object.keys(stages).filter(
  name => !wanted.length || wanted.includes(name) || (browsers.includes(name) && wanted.includes('browser')),
)
/** One lane more than there are processors, since each waits now and then; the first begins with what drives a browser. */
const left = asked.filter(name => name !== browsers[0])
const lanes = Array.from({ length: availableParallelism() + 1 }, (_, i) =>
  i === 0 && asked.includes(browsers[0]) ? browsers[0] : undefined,
)
const results = join(root, '.results')
rmSync(results, { recursive: true, force: true })
mkdirSync(results)
const sum = { passed: 0, failed: 0, skipped: 0 }
/** What failed, by name: said once more at the end, where whoever reads only the last page finds it. */
const failures = []
const began = Date.now()
const seconds = since => ((Date.now() - since) / 1000).toFixed(0)

/** Makes one of those things, beside the stages that run already. Gives whether it could be made. */
function prepare(what) {
  const child = spawn(process.execPath, [join(root, 'tools/prepare.mjs'), what], {
    cwd: root,
    stdio: ['ignore', 'inherit', 'inherit'],
  })
  return new Promise(done =>
    child.on('close', status => {
      console.log(`What is needed of ${what} was made after ${seconds(began)} s.`)
      done(status === 0)
    }),
  )
}
const wants = new Set(asked.flatMap(name => needs[name] ?? []))
/** By what is needed: a promise of whether it is there. Whatever is made needs the server's driver, the server itself comes first. */
const prepared = {}
prepared.server = wants.has('server') ? driver.then(() => prepare('server')) : Promise.resolve(true)
for (const what of ['web', 'data'])
  prepared[what] = prepared.server.then(made => (made && wants.has(what) ? prepare(what) : made))
const ready = async name => (await Promise.all((needs[name] ?? []).map(what => prepared[what]))).every(Boolean)

/** A message without its colours, which say nothing here. */
const shortened = text => text.replace(/\u001b\[[0-9;]*m/g, '').slice(0, 1500)
/** The browser tests that failed, from what the runner wrote of them: suites in suites, tests in specs. */
function failedSpecs({ suites = [], specs = [] }) {
  const here = specs
    .filter(spec => !spec.ok)
    .map(spec => {
      const [test] = spec.tests
      const said = test?.results.at(-1)?.errors.map(e => e.message) ?? []
      const stood = test?.annotations.map(a => `${a.type}: ${a.description}`) ?? []
      return {
        title: `${spec.file}:${spec.line} ${spec.title}`,
        message: [...said, ...stood].map(shortened).join('\n') || 'no message',
      }
    })
  return [...here, ...suites.flatMap(failedSpecs)]
}

/** Databases that live for a test are kept in memory where the machine has room for it: nobody waits for a disk then. */
const MEMORY = '/dev/shm'
const roomy = existsSync(MEMORY) && (s => s.bavail * s.bsize >= 4 * 2 ** 30)(statfsSync(MEMORY))
const kept = roomy ? { TMPDIR: MEMORY } : {}

/** Runs a stage and gives its output when it has ended, so that lanes do not speak at once. */
function stage(name) {
  const since = Date.now()
  const RESULT = join(results, `${name.replaceAll(' ', '-')}.json`)
  return new Promise(done => {
    // What needs nothing lets go first what is compiled and made for the others: they wait for it.
    const child = spawn('nice', ['-n', needs[name] ? '0' : '10', process.execPath, ...stages[name]], {
      cwd: root,
      env: { ...process.env, ...kept, RESULT, FORCE_COLOR: '0' },
    })
    let output = ''
    for (const stream of [child.stdout, child.stderr]) stream.on('data', d => (output += d))
    const late = setTimeout(() => child.kill('SIGKILL'), 50 * 60_000)
    child.on('close', status => {
      clearTimeout(late)
      const r = { passed: 0, failed: 0, skipped: 0 }
      if (uncounted.has(name)) r.passed = status === 0 ? 1 : 0
      else if (existsSync(RESULT)) {
        const told = JSON.parse(readFileSync(RESULT, 'utf8'))
        const s = told.stats
        for (const one of told.failed ?? failedSpecs(told)) failures.push({ name, ...one })
        Object.assign(
          r,
          'expected' in s
            ? { passed: s.expected, failed: s.unexpected + s.flaky, skipped: s.skipped }
            : { passed: s.passes, failed: s.failures, skipped: s.pending },
        )
      }
      // A left-out test counts as failed; so does a runner that crashed, ran out of time, or ran nothing.
      r.failed += r.skipped
      if (!r.failed && (status !== 0 || r.passed === 0)) r.failed = 1
      if (r.failed && !failures.some(one => one.name === name)) failures.push({ name, title: output.slice(-1500) })
      sum.passed += r.passed
      sum.failed += r.failed
      console.log(`\n=== ${name}\n${output}--- ${name}: ${r.passed} ok, ${r.failed} not, ${seconds(since)} s`)
      done()
    })
  })
}

await Promise.all(
  lanes.map(async lane => {
    for (let name = lane ?? left.shift(); name; name = left.shift()) {
      // A stage for which nothing could be made fails for that reason; it is run all the same, and says so.
      if (!(await ready(name))) console.error(`What ${name} needs could not be made: see above.`)
      await stage(name)
    }
  }),
)
for (const { name, title, message = '' } of failures) console.log(`\n*** failed in ${name}: ${title}\n${message}`)
console.log(
  `\nAll of it took ${seconds(began)} s, ${seconds(whole)} with what was installed.\n${sum.passed} passed, ${sum.failed} failed`,
)
process.exitCode = sum.failed || !sum.passed ? 1 : 0
