import { spawnSync } from 'node:child_process'
import { existsSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { NOW, MADE } from './stage.ts'

/** The demonstration for a fixed day, made once where it is not there yet: every test gets its own copy. */
export default function setup(): void {
  if (existsSync(MADE)) return
  const root = fileURLToPath(new URL('..', import.meta.url))
  const r = spawnSync(process.execPath, ['--import', 'tsx', 'demo/src/make.ts', MADE, String(NOW)], {
    cwd: root,
    stdio: 'inherit',
  })
  if (r.status !== 0) throw new Error('the demonstration could not be made')
}
