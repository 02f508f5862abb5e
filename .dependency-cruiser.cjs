/** Arrows point down only: web and server to contract and core, contract to core, core to nothing. */
const never = (name, from, to) => ({ name, severity: 'error', from: { path: from }, to: { path: to } })
module.exports = {
  forbidden: [
    never('core-knows-nobody', '^core/src', '^(contract|server|web|demo|standins|e2e)/'),
    {
      name: 'core-without-the-machine',
      severity: 'error',
      from: { path: '^core/src' },
      to: { dependencyTypes: ['core', 'npm', 'npm-dev', 'npm-optional'] },
    },
    never('contract-knows-core-only', '^contract/src', '^(server|web|demo|standins)/'),
    never('server-knows-no-interface', '^server/src', '^(web|demo|standins)/'),
    never('web-knows-no-server', '^web/src', '^(server|demo|standins)/'),
    never('standins-stand-alone', '^standins/src', '^(core|contract|server|web|demo)/'),
    {
      name: 'no-circles',
      severity: 'error',
      from: { path: '^(core|contract)/src' },
      to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } },
    },
    {
      name: 'nothing-unresolved',
      severity: 'error',
      from: {},
      to: { couldNotResolve: true, pathNot: '\\.(css|svg)$|\\?url$|^@fontsource|^pdfmake/interfaces' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    exclude: { path: '(^|/)(dist|drizzle)/' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'types', 'default'],
      extensions: ['.ts', '.vue', '.mjs', '.js', '.json'],
    },
    extraExtensionsToScan: ['.vue'],
  },
}
