// The demonstration: installs, builds, makes the data for today, and serves it. A second run starts in seconds.
import { spawn } from 'node:child_process'
import { cpSync, existsSync, readFileSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { packages, root, run, serve, tsx, web } from './setup.mjs'

packages()
web()
const made = join(root, '.demo/made')
const data = join(root, '.demo/data')
const today = new Date().toISOString().slice(0, 10)
const fresh = existsSync(join(made, 'made-for.txt')) && readFileSync(join(made, 'made-for.txt'), 'utf8') === today
if (!fresh || process.argv.includes('--anew')) {
  console.log('Making the demonstration …')
  if (run(process.execPath, [...tsx, 'demo/src/make.ts', made]).status !== 0) process.exit(1)
  rmSync(data, { recursive: true, force: true })
}
if (!existsSync(data)) cpSync(made, data, { recursive: true })
console.log(
  '\nGannet Holm, the demonstration. Sign in as ines or ruben (keepers), tova (manager), sorrel (requester, galley), oskar (buyer) or linnea (observer), password: gannet holm\nWhat you do is kept until tomorrow; npm run demo -- --anew begins again.\n',
)
// The world outside: a mail server that sends nothing on, and shows what it got.
const mailPort = Number(process.env.SHELVE_MAIL_PORT ?? 4461)
const outside = spawn(process.execPath, [...tsx, 'standins/src/main.ts'], {
  cwd: root,
  stdio: 'inherit',
  env: { ...process.env, SHELVE_MAIL_PORT: String(mailPort) },
})
const server = serve({
  SHELVE_DATA: data,
  SHELVE_WEB: join(root, 'web/dist'),
  SHELVE_DEMONSTRATION: 'yes',
  SHELVE_MAIL: `smtp://127.0.0.1:${mailPort}`,
  SHELVE_MAIL_FROM: 'stores@gannet-holm.example',
  SHELVE_LOG: process.env.SHELVE_LOG ?? 'warn',
})
server.on('exit', code => {
  outside.kill()
  process.exit(code ?? 0)
})
