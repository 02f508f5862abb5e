// The server as one bundle, with its command and its threads beside it.
import { rmSync } from 'node:fs'
import { join } from 'node:path'
import { build } from 'esbuild'
import { root } from './setup.mjs'

rmSync(join(root, 'server/dist'), { recursive: true, force: true })
await build({
  absWorkingDir: root,
  entryPoints: {
    main: 'server/src/main.ts',
    cli: 'server/src/cli.ts',
    'verify-worker': 'server/src/threads/verify-thread.ts',
    'press-worker': 'server/src/printing/press-thread.ts',
    'backup-worker': 'server/src/threads/backup-thread.ts',
    'writer-worker': 'server/src/threads/writer-thread.ts',
    'describe-worker': 'server/src/threads/describe-thread.ts',
  },
  outdir: 'server/dist',
  outExtension: { '.js': '.mjs' },
  bundle: true,
  platform: 'node',
  target: 'node20',
  format: 'esm',
  sourcemap: true,
  logLevel: 'warning',
  // V8 keeps the whole text for as long as the server runs, each thread its own, and two bytes a letter where one is beyond
  // Latin 1: comments and indents are left out, names stay for whoever reads a stack.
  minifyWhitespace: true,
  lineLimit: 160,
  legalComments: 'external',
  // What it needs to start is in it, which is read in half the time; its threads share that.
  splitting: true,
  chunkNames: 'shared-[hash]',
  // What is compiled stays outside, and so does what few requests need: it is read when it is first asked for.
  external: [
    'better-sqlite3',
    '@node-rs/argon2',
    'pdfmake',
    'bwip-js',
    '@peculiar/*',
    '@zxcvbn-ts/*',
    '@napi-rs/*',
    'tsx',
  ],
  // Packages of the older kind ask for others by name.
  banner: {
    js: "import { createRequire as requireFrom } from 'node:module'; const require = requireFrom(import.meta.url);",
  },
})
