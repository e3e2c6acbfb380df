/** The layer rule: imports run one way, web -> contract -> core and server -> contract -> core; features are entered by their doors. */
const tests = '\\.test\\.tsx?$|/testing/|/bench/'

/** The folders of the server from the lowest up. Each knows those before it, so that none is in a circle. */
const serverRooms = [
  ...['problems', 'database', 'outgoing', 'access', 'cache', 'threads'],
  ...['changes', 'catalogue', 'events', 'health', 'lists', 'networks', 'heavy-work', 'estates', 'requests'],
  ...['exchange', 'findings', 'found', 'observations', 'plans', 'reach', 'transfers'],
]
/** Those of the page, in the same way; what follows “estate” is one thing to do each. */
const webRooms = [
  ...['lib', 'ui', 'basis', 'checks', 'estate'],
  ...['figures', 'lines', 'estates', 'proposals', 'findings', 'found', 'placement', 'setup', 'board', 'logbook', 'records', 'frames'].map(
    (room) => `features/${room}`,
  ),
  ...['plans', 'sheets', 'addresses', 'systems', 'clones', 'exchange', 'hosts', 'migrations', 'names', 'start-order'].map(
    (room) => `features/${room}`,
  ),
  ...['compose', 'networks', 'observations', 'reach', 'stores', 'guests'].map((room) => `features/${room}`),
  'app',
]

/** A rule for each room, that it knows none above it, and one that there is no room beside these. */
const roomRules = (under, rooms) => [
  ...rooms.slice(0, -1).map((room, index) => ({
    name: `${room.replaceAll('/', '-')}-knows-none-above`,
    severity: 'error',
    comment: 'Rooms stand in an order, from the lowest up; one that is needed below moves down, or what is needed does.',
    from: { path: `^${under}/${room}/`, pathNot: tests },
    to: { path: `^${under}/(${rooms.slice(index + 1).join('|')})/` },
  })),
  {
    name: 'every-room-has-its-place',
    severity: 'error',
    comment: 'A new room is written into the order of rooms above.',
    from: {},
    to: { path: `^${under}/(?!(${rooms.join('|')}|testing)/)[^/]+/` },
  },
]

module.exports = {
  forbidden: [
    {
      name: 'no-circles',
      severity: 'error',
      comment: 'Two files that need each other are one, or miss a third.',
      from: {},
      to: { circular: true },
    },
    {
      name: 'core-is-pure',
      severity: 'error',
      comment: 'The core imports nothing of ours and no platform.',
      from: { path: '^packages/core/src', pathNot: tests },
      to: {
        path: '^(packages/contract|apps|workbench|scripts|e2e)|^(node:)?(fs|path|os|net|http|crypto|child_process|process)$',
        pathNot: '^packages/core',
      },
    },
    {
      name: 'contract-knows-core-only',
      severity: 'error',
      from: { path: '^packages/contract/src' },
      to: { path: '^(apps|workbench|scripts|e2e)' },
    },
    { name: 'server-does-not-know-web', severity: 'error', from: { path: '^apps/server/src' }, to: { path: '^apps/web' } },
    { name: 'web-does-not-know-server', severity: 'error', from: { path: '^apps/web/src' }, to: { path: '^(apps/server|workbench)' } },
    {
      name: 'scripts-come-last',
      severity: 'error',
      comment: 'What tests and commands both start things with is the workbench; commands and journeys are needed by nobody.',
      from: { path: '^(packages|apps|workbench)/' },
      to: { path: '^(scripts|e2e)/' },
    },
    { name: 'scripts-without-journeys', severity: 'error', from: { path: '^scripts/' }, to: { path: '^e2e/' } },
    {
      name: 'server-without-workbench',
      severity: 'error',
      from: { path: '^apps/server/src', pathNot: tests },
      to: { path: '^workbench/' },
    },
    {
      name: 'core-by-its-doors',
      severity: 'error',
      comment: 'A folder of the core is entered by its index, so that a circle of folders is one of files.',
      from: { path: '^packages/core/src/([^/]+)/', pathNot: tests },
      to: {
        path: '^packages/core/src/([^/]+)/.+',
        pathNot: ['^packages/core/src/$1/', '/index\\.ts$'],
      },
    },
    {
      name: 'ui-knows-no-domain',
      severity: 'error',
      comment: 'The web’s own primitives know nothing of the trade.',
      from: { path: '^apps/web/src/ui', pathNot: tests },
      to: { path: '^(packages|apps/web/src/(app|checks|estate|features))' },
    },
    ...roomRules('apps/server/src', serverRooms),
    ...roomRules('apps/web/src', webRooms),
    { name: 'production-without-tests', severity: 'error', from: { path: '^(packages|apps)/.*src', pathNot: tests }, to: { path: tests } },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(^|/)dist/' },
    tsPreCompilationDeps: true,
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['@insel/source', 'import', 'node', 'default'],
      extensions: ['.ts', '.tsx', '.js', '.mjs'],
    },
  },
}
