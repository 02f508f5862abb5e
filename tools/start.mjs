// The server on its own data directory (SHELVE_DATA, default ./data).
import { spawn } from 'node:child_process'
import { join } from 'node:path'
import { packages, root, server as bundled, web } from './setup.mjs'

packages()
web()
const server = spawn(process.execPath, [`--max-old-space-size=${process.env.SHELVE_HEAP_MB ?? 160}`, bundled()], {
  cwd: root,
  stdio: 'inherit',
  env: { ...process.env, SHELVE_WEB: process.env.SHELVE_WEB ?? join(root, 'web/dist') },
})
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal))
server.on('exit', code => process.exit(code ?? 0))
