// Measures Shelve beside the bare database: npm run bench [-- --quick] [-- --sizes 100000,1000000].
import { packages, root, run, server, tsx, web } from './setup.mjs'

packages()
web()
server()
process.exitCode =
  run(process.execPath, [...tsx, 'bench/src/main.ts', ...process.argv.slice(2)], { cwd: root }).status ?? 1
