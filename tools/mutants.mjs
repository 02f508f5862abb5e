// Changes the code in small ways, one at a time, and sees whether a test notices: npm run mutants [-- core|kinds|folders or files].
// By hand, not in npm test: it takes most of an hour. Files are changed where they are, and put back at the end.
import { execFileSync, spawnSync } from 'node:child_process'
import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { packages, root } from './setup.mjs'

const WHAT = {
  core: { mutate: ['core/src/**/*.ts', '!core/src/index.ts'], spec: ['core/test/**/*.test.ts'] },
  kinds: {
    mutate: [
      ...['receiving', 'issuing', 'moving', 'waste', 'counting'].map(room => `server/src/${room}/kind.ts`),
      ...['issuing/bring-back', 'moving/sent', 'moving/opened', 'jobs/making'].map(file => `server/src/${file}.ts`),
    ],
    spec: [
      'kinds',
      'kinds-said',
      'kinds-refuse',
      'rules',
      'api',
      'among',
      'taking',
      'counting',
      'transfers',
      'opened',
      'making',
    ].map(test => `server/test/${test}.test.ts`),
  },
}
/** All of it, or some folders or files of core: `npm run mutants -- cost,ledger/settle.ts`. */
const wanted = process.argv[2] ?? 'core'
const chosen = wanted in WHAT ? [] : wanted.split(',')
if (!chosen.every(f => existsSync(join(root, 'core/src', f)))) {
  console.error(`npm run mutants -- ${Object.keys(WHAT).join(' | ')} | folders or files of core/src, with commas`)
  process.exit(2)
}
const what = chosen.length
  ? { ...WHAT.core, mutate: chosen.map(f => (f.endsWith('.ts') ? `core/src/${f}` : `core/src/${f}/**/*.ts`)) }
  : WHAT[wanted]
if (execFileSync('git', ['status', '--porcelain', '--untracked-files=no'], { cwd: root, encoding: 'utf8' }).trim()) {
  console.error('Commit what you are working on first: the files are changed where they are.')
  process.exit(2)
}
packages()
const report = join(tmpdir(), 'shelve-mutants.json')
const config = join(tmpdir(), 'shelve-mutants-config.json')
writeFileSync(
  config,
  JSON.stringify({
    testRunner: 'mocha',
    plugins: ['@stryker-mutator/mocha-runner'],
    mochaOptions: { spec: what.spec, require: ['tsx'] },
    mutate: what.mutate,
    inPlace: true,
    concurrency: 1,
    coverageAnalysis: 'perTest',
    ignoreStatic: true,
    reporters: ['progress-append-only', 'json'],
    jsonReporter: { fileName: report },
    timeoutMS: 20_000,
  }),
)
const run = spawnSync(process.execPath, ['node_modules/@stryker-mutator/core/bin/stryker.js', 'run', config], {
  cwd: root,
  stdio: 'inherit',
})
if (run.status !== 0) process.exit(run.status ?? 1)

/** By folder: how many changes there were, how many were noticed; then each that nobody noticed. */
const { files } = JSON.parse(readFileSync(report, 'utf8'))
const folders = new Map()
const survivors = []
for (const [file, { mutants, source }] of Object.entries(files))
  for (const m of mutants) {
    if (['Ignored', 'CompileError', 'RuntimeError'].includes(m.status)) continue
    const folder = file.split('/').slice(0, 3).join('/')
    const f = folders.get(folder) ?? { all: 0, noticed: 0 }
    f.all++
    if (m.status === 'Killed' || m.status === 'Timeout') f.noticed++
    else {
      const line = source.split('\n')[m.location.start.line - 1].trim()
      survivors.push(`${file}:${m.location.start.line}  ${m.mutatorName}  ${line}  →  ${m.replacement ?? ''}`)
    }
    folders.set(folder, f)
  }
const percent = f => `${((f.noticed / f.all) * 100).toFixed(1)} %`
const total = [...folders.values()].reduce((s, f) => ({ all: s.all + f.all, noticed: s.noticed + f.noticed }), {
  all: 0,
  noticed: 0,
})
console.log(survivors.join('\n'))
for (const [name, f] of [...folders].sort()) console.log(`${name}: ${f.noticed} of ${f.all}, ${percent(f)}`)
console.log(`all: ${total.noticed} of ${total.all}, ${percent(total)}`)
