// The server as one bundle, with its command and its threads beside it.
import { rmSync } from 'node:fs'
import { createRequire } from 'node:module'
import { join } from 'node:path'
import { build } from 'esbuild'
import { root } from './setup.mjs'

/**
 * What no request ever asks for is left out, since each thread reads and keeps the text of all there is: the messages of what
 * checks input in forty other languages (not in Latin 1, which makes it two bytes a letter), and four copies of one list of
 * kinds of file.
 */
const leaner = {
  name: 'leaner',
  setup(of) {
    of.onLoad({ filter: /\/zod\/v4\/locales\/index\.js$/ }, () => ({
      contents: `export { default as en } from './en.js'`,
    }))
    const path = createRequire(join(root, 'node_modules/send/package.json')).resolve('mime-db')
    of.onResolve({ filter: /^mime-db$/ }, () => ({ path }))
  },
}
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
  plugins: [leaner],
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
