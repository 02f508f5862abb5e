#!/usr/bin/env node
// The command: shelve verify | backup FILE | restore FILE | export FORMAT FILE
import { spawnSync } from 'node:child_process'
import { packages, root, server } from './setup.mjs'

packages()
const r = spawnSync(process.execPath, [server('cli'), ...process.argv.slice(2)], {
  stdio: 'inherit',
  env: { ...process.env, SHELVE_HERE: process.cwd() },
  cwd: root,
})
process.exit(r.status ?? 1)
