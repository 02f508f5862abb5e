// The server on its own data directory (SHELVE_DATA, default ./data).
import { join } from 'node:path'
import { packages, root, serve, web } from './setup.mjs'

packages()
web()
serve({ SHELVE_WEB: process.env.SHELVE_WEB ?? join(root, 'web/dist') }).on('exit', code => process.exit(code ?? 0))
