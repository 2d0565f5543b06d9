/** Tests and what they share may reach anywhere. */
const TESTS = '(\\.test\\.tsx?$|/testing/)';

/** Each room of the page may know itself and those before it; nothing knows those after it. */
const PAGE = [
  ['boot', []],
  ['ui', []],
  ['data', ['boot', 'ui']],
  ['job', ['boot', 'ui', 'data']],
  ['line', ['boot', 'ui', 'data', 'job']],
  ['lenses', ['boot', 'ui', 'data', 'job', 'line']],
  ['firm', ['boot', 'ui', 'data', 'job', 'line']],
];
const downwards = PAGE.map(([room, below]) => ({
  name: `page-${room}`,
  comment: 'imports run one way: boot, ui, data, job, line, then lenses and firm, then app',
  severity: 'error',
  from: { path: `^web/src/${room}/`, pathNot: TESTS },
  // what is fetched ahead names the sheets it fetches: by import(), which waits for nothing
  to: {
    path: '^web/src/',
    pathNot: `^web/src/(${[room, ...below].join('|')})/`,
    ...(room === 'boot' ? { dynamic: false } : {}),
  },
}));

/** Subjects of the physics know no system; the system knows none of the six parts; those know no record. */
const PHYSICS = 'quantity|water|membrane|hydraulics|treatment|demand';
const CORE = [
  [PHYSICS, `${PHYSICS}`],
  ['words', `${PHYSICS}|words`],
  ['parts|rules', `${PHYSICS}|words|parts|rules`],
  ['gauge', `${PHYSICS}|words|parts|rules|gauge`],
  ['system', `${PHYSICS}|words|parts|rules|gauge|system`],
  ['run', `${PHYSICS}|words|parts|rules|gauge|system|run`],
  ['size|plumb|prove', `${PHYSICS}|words|parts|rules|system|run|gauge|size|plumb|prove`],
  ['facts', `${PHYSICS}|words|parts|rules|system|run|gauge|prove|facts`],
  ['flush|keep', `${PHYSICS}|words|parts|rules|system|run|gauge|facts|flush|keep`],
];
const inwards = CORE.map(([room, known]) => ({
  name: `core-${room.split('|')[0]}`,
  comment: 'physics, then parts, then the system and its runs, then the six parts of the job',
  severity: 'error',
  from: { path: `^core/src/(${room})/`, pathNot: TESTS },
  to: { path: '^core/src/', pathNot: `^core/src/(${known})/` },
}));

/** @type {import('dependency-cruiser').IConfiguration} */
module.exports = {
  forbidden: [
    {
      name: 'core-alone',
      severity: 'error',
      from: { path: '^core/src' },
      to: { path: '^(contract|demo|server|web|cli|e2e)/' },
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
    ...inwards,
    {
      name: 'contract-on-core-only',
      severity: 'error',
      from: { path: '^contract/src' },
      to: { path: '^(demo|server|web|cli|e2e)/' },
    },
    { name: 'web-not-server', severity: 'error', from: { path: '^web/src' }, to: { path: '^(server|demo|cli)/' } },
    { name: 'server-not-web', severity: 'error', from: { path: '^(server|demo|cli)/' }, to: { path: '^web/' } },
    {
      name: 'no-deep-package',
      comment: 'others take a package by its name',
      severity: 'error',
      from: { path: '^(contract|demo|server|web|cli|e2e)/', pathNot: `${TESTS}|^e2e/bench` },
      to: { path: '^core/src/(?!index\\.ts$)' },
    },
    ...downwards,
    {
      name: 'lenses-apart',
      comment: 'what two lenses share moves down to line, job, ui or core',
      severity: 'error',
      from: { path: '^web/src/lenses/([^/]+)/' },
      to: { path: '^web/src/lenses/([^/]+)/', pathNot: '^web/src/lenses/$1/' },
    },
    { name: 'no-circular', comment: 'of types too', severity: 'error', from: {}, to: { circular: true } },
    {
      name: 'not-to-dev-dep',
      severity: 'error',
      from: { path: '^(core|contract|demo|server|web)/src', pathNot: TESTS },
      to: { dependencyTypes: ['npm-dev'], dependencyTypesNot: ['type-only'], pathNot: 'node_modules/@types/' },
    },
    {
      name: 'no-undeclared',
      comment: 'hoisting hides it',
      severity: 'error',
      from: { path: '^(core|contract|demo|server|web)/', pathNot: TESTS },
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
