// The server as one bundle, with its command and its threads beside it.
import { build } from 'esbuild'
import { root } from './setup.mjs'

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
  // Packages stay packages; only the house's own floors are bundled.
  plugins: [
    {
      name: 'packages-stay',
      setup(b) {
        b.onResolve({ filter: /^[^./]/ }, a =>
          a.path.startsWith('@shelve/') || a.kind === 'entry-point' ? undefined : { external: true },
        )
      },
    },
  ],
})
