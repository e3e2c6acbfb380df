/** The layer rule: imports run one way, web -> contract -> core and server -> contract -> core; features are entered by their doors. */
const tests = '\\.test\\.tsx?$|/testing/|/bench/'
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
        path: '^(packages/contract|apps|scripts)|^(node:)?(fs|path|os|net|http|crypto|child_process|process)$',
        pathNot: '^packages/core',
      },
    },
    { name: 'contract-knows-core-only', severity: 'error', from: { path: '^packages/contract/src' }, to: { path: '^(apps|scripts)' } },
    { name: 'server-does-not-know-web', severity: 'error', from: { path: '^apps/server/src' }, to: { path: '^apps/web' } },
    { name: 'web-does-not-know-server', severity: 'error', from: { path: '^apps/web/src' }, to: { path: '^(apps/server|scripts)' } },
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
