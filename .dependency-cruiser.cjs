/**
 * Arrows point down only: web and server to contract and core, contract to core, core to nothing. Within the server too:
 * rooms stand on floors, see what lies below them, and enter it by its door (`index.ts`).
 */
const never = (name, from, to) => ({ name, severity: 'error', from: { path: from }, to: { path: to } })
/** The rooms of the server, from the ground up. A room may use what stands on lower floors, and nothing of its own. */
const FLOORS = [
  ['ground'],
  ['rights'],
  ['accounts'],
  ['codes'],
  ['places'],
  ['suppliers', 'costcentres', 'people'],
  ['printing', 'notices'],
  ['catalogue'],
  ['ledger'],
  ['position'],
  ['papers'],
  ['waste'],
  ['receiving', 'issuing', 'moving', 'counting', 'restocking', 'jobs'],
  ['reports'],
]
const upward = FLOORS.flatMap((rooms, floor) =>
  rooms.map(room =>
    never(
      `${room}-sees-only-what-lies-below`,
      `^server/src/${room}/`,
      `^server/src/(${[
        ...FLOORS.slice(floor)
          .flat()
          .filter(r => r !== room),
        '[a-z-]+\\.ts$',
        'threads/',
      ].join('|')})`,
    ),
  ),
)
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
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
    ...upward,
    {
      name: 'rooms-are-entered-by-their-door',
      severity: 'error',
      from: { path: '^server/src/([a-z]+)/' },
      to: { path: '^server/src/[a-z]+/', pathNot: ['^server/src/$1/', '^server/src/[a-z]+/index\.ts$'] },
    },
    {
      name: 'the-house-is-composed-by-few',
      severity: 'error',
      from: { path: '^server/src', pathNot: '^server/src/([a-z-]+\.ts|threads/.*)$' },
      to: { path: '^server/src/[a-z-]+\.ts$' },
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
