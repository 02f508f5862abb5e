// What every command needs before it can begin, on a machine that may have nothing but Node 20 and a compiler.
import { spawn, spawnSync } from 'node:child_process'
import { existsSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'

export const root = dirname(dirname(fileURLToPath(import.meta.url)))
export const tsx = ['--import', 'tsx']

export function run(command, args, options = {}) {
  return spawnSync(command, args, { cwd: root, stdio: ['ignore', 'inherit', 'inherit'], ...options })
}

const mark = join(root, 'node_modules', '.package-lock.json')
const stamp = join(root, 'node_modules', '.shelve-lock')
const lockFile = () => readFileSync(join(root, 'package-lock.json'), 'utf8')
const installed = () => existsSync(mark) && existsSync(stamp) && readFileSync(stamp, 'utf8') === lockFile()
/** What is compiled or set up on the machine itself once it is there. */
const COMPILE = ['rebuild', 'better-sqlite3', 'esbuild']
const compiling = { env: { ...process.env, JOBS: '2' } }

function unpack() {
  console.log('Installing packages (a few minutes the first time: the database driver is compiled) …')
  if (run('npm', ['ci', '--no-audit', '--no-fund', '--ignore-scripts']).status === 0) return
  console.error('The packages could not be installed.')
  process.exit(1)
}
function compiled(status) {
  if (status !== 0) {
    console.error('The database driver could not be compiled.')
    process.exit(1)
  }
  writeFileSync(stamp, lockFile())
}

/** Installs the packages where the lock file is newer than what is there. */
export function packages() {
  if (installed()) return
  unpack()
  compiled(run('npm', COMPILE, compiling).status)
}

/** The same, but does not wait until the database driver is compiled: gives a promise of that, for whoever can begin without. */
export function packagesBut() {
  if (installed()) return Promise.resolve()
  unpack()
  const child = spawn('npm', COMPILE, { cwd: root, stdio: ['ignore', 'ignore', 'inherit'], ...compiling })
  return new Promise(done =>
    child.on('close', status => {
      compiled(status)
      done()
    }),
  )
}

/** Debian packages that are missing and could not be installed, by name. */
export function debian(wanted) {
  const missing = wanted.filter(([, file]) => !existsSync(file))
  if (!missing.length) return []
  const names = missing.map(([name]) => name)
  console.log(`Installing ${names.join(', ')} …`)
  const quiet = { env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' }, stdio: ['ignore', 'ignore', 'inherit'] }
  run('apt-get', ['update', '-qq'], quiet)
  for (const name of names) run('apt-get', ['install', '-y', '-qq', '--no-install-recommends', name], quiet)
  return missing.filter(([, file]) => !existsSync(file)).map(([name]) => name)
}

const newest = files => Math.max(0, ...files.map(f => statSync(join(root, f)).mtimeMs))
const sources = (...places) =>
  spawnSync('find', [...places, 'package-lock.json', '-type', 'f'], { cwd: root, encoding: 'utf8' })
    .stdout.trim()
    .split('\n')
    .filter(Boolean)
const built = (file, ...places) =>
  existsSync(join(root, file)) && statSync(join(root, file)).mtimeMs > newest(sources(...places))

/** Builds the interface where a source is newer than what was built. */
export function web() {
  if (
    built(
      'web/dist/index.html',
      'web/src',
      'web/public',
      'core/src',
      'contract/src',
      'web/index.html',
      'web/vite.config.ts',
    )
  )
    return
  console.log('Building the interface …')
  const r = run(process.execPath, [join(root, 'node_modules/vite/bin/vite.js'), 'build', '--logLevel', 'error'], {
    cwd: join(root, 'web'),
  })
  if (r.status !== 0) {
    console.error('The interface could not be built.')
    process.exit(1)
  }
}

/** Bundles the server likewise: it starts in a fraction of the time, without a loader. Gives the file of an entry. */
export function server(entry = 'main') {
  if (!built('server/dist/main.mjs', 'server/src', 'core/src', 'contract/src')) {
    const r = run(process.execPath, [join(root, 'tools/bundle.mjs')])
    if (r.status !== 0) {
      console.error('The server could not be bundled.')
      process.exit(1)
    }
  }
  return join(root, 'server/dist', `${entry}.mjs`)
}

/** How the server is run: its heap grows in small steps and few pools of memory lie beside it (measured in docs/performance.md). */
export const serving = {
  flags: [
    '--max-semi-space-size=4',
    '--heap-growing-percent=20',
    ...(process.env.SHELVE_HEAP_MB ? [`--max-old-space-size=${process.env.SHELVE_HEAP_MB}`] : []),
  ],
  env: { MALLOC_ARENA_MAX: process.env.MALLOC_ARENA_MAX ?? '2' },
}
/** Starts the server as it is bundled; it ends with whoever started it. */
export function serve(env) {
  const child = spawn(process.execPath, [...serving.flags, server()], {
    cwd: root,
    stdio: 'inherit',
    env: { ...process.env, ...serving.env, ...env },
  })
  for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => child.kill(signal))
  return child
}
