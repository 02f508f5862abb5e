// What every command needs before it can begin, on a machine that may have nothing but Node 20 and a compiler.
import { spawnSync } from 'node:child_process'
import { existsSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'

export const root = dirname(dirname(fileURLToPath(import.meta.url)))
export const tsx = ['--import', 'tsx']

export function run(command, args, options = {}) {
  return spawnSync(command, args, { cwd: root, stdio: ['ignore', 'inherit', 'inherit'], ...options })
}

/** Installs the packages where the lock file is newer than what is there. */
export function packages() {
  const mark = join(root, 'node_modules', '.package-lock.json')
  const stamp = join(root, 'node_modules', '.shelve-lock')
  const lock = readFileSync(join(root, 'package-lock.json'), 'utf8')
  if (existsSync(mark) && existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return
  console.log('Installing packages (a few minutes the first time: the database driver is compiled) …')
  const r = run('npm', ['ci', '--no-audit', '--no-fund'], { env: { ...process.env, JOBS: '2' } })
  if (r.status !== 0) {
    console.error('The packages could not be installed.')
    process.exit(1)
  }
  writeFileSync(stamp, lock)
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
