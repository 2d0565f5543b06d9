/** @type {import('dependency-cruiser').IConfiguration} */
module.exports = {
  forbidden: [
    {
      name: 'core-alone',
      severity: 'error',
      from: { path: '^core/src' },
      to: { path: '^(contract|demo|server|web|e2e)/' },
    },
    {
      name: 'core-no-node-or-react',
      severity: 'error',
      from: { path: '^core/src', pathNot: '\\.test\\.ts$' },
      to: {
        dependencyTypes: ['core', 'npm', 'npm-dev', 'npm-no-pkg', 'npm-unknown', 'npm-peer', 'npm-optional'],
        pathNot: 'node_modules/zod',
      },
    },
    {
      name: 'contract-on-core-only',
      severity: 'error',
      from: { path: '^contract/src' },
      to: { path: '^(demo|server|web|e2e)/' },
    },
    { name: 'web-not-server', severity: 'error', from: { path: '^web/src' }, to: { path: '^(server|demo)/' } },
    { name: 'server-not-web', severity: 'error', from: { path: '^server/src' }, to: { path: '^web/' } },
    {
      name: 'no-deep-package',
      comment: 'others take a package by its name',
      severity: 'error',
      from: { path: '^(contract|demo|server|web)/', pathNot: '(\\.test\\.tsx?$|/testing/)' },
      to: { path: '^core/src/(?!index\\.ts$)' },
    },
    {
      name: 'lenses-apart',
      comment: 'what two lenses share moves down to line, ui or core',
      severity: 'error',
      from: { path: '^web/src/lenses/([^/]+)/' },
      to: { path: '^web/src/lenses/([^/]+)/', pathNot: '^web/src/lenses/$1/' },
    },
    {
      name: 'no-circular',
      severity: 'error',
      from: {},
      to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } },
    },
    {
      name: 'not-to-dev-dep',
      severity: 'error',
      from: { path: '^(core|contract|demo|server|web)/src', pathNot: '(\\.test\\.tsx?$|/testing/)' },
      to: { dependencyTypes: ['npm-dev'], dependencyTypesNot: ['type-only'], pathNot: 'node_modules/@types/' },
    },
    {
      name: 'no-undeclared',
      comment: 'hoisting hides it',
      severity: 'error',
      from: { path: '^(core|contract|demo|server|web)/', pathNot: '(\\.test\\.tsx?$|/testing/)' },
      to: { dependencyTypes: ['npm-no-pkg', 'npm-unknown'], pathNot: 'node_modules/@types/' },
    },
    { name: 'no-unresolvable', severity: 'error', from: {}, to: { couldNotResolve: true, pathNot: '^virtual:' } },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '/dist/' },
    tsPreCompilationDeps: true, // sees `import type` too
    tsConfig: { fileName: 'tsconfig.base.json' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['@katharos/source', 'import', 'browser', 'node', 'types', 'default'],
      extensions: ['.ts', '.tsx', '.js', '.json', '.css'],
      mainFields: ['module', 'main', 'types'],
    },
  },
};
