/**
 * The rooms of `core`, the lowest first. A room may use rooms above it in this list, and none below; rooms on one line
 * do not use each other.
 */
const CORE = [
  ['address', 'issue', 'kernel', 'memo'],
  ['column', 'text', 'country', 'edit', 'pattern'],
  ['domain'],
  ['url'],
  ['list', 'request', 'resolution', 'schedule'],
  ['redact'],
  ['condition', 'correction', 'notice', 'probe'],
  ['category', 'application', 'limit'],
  ['policy', 'log'],
  ['check'],
  ['workspace'],
  ['engine', 'difference'],
  ['review', 'replay', 'checking', 'effective', 'lookup', 'live', 'catalogue', 'schema'],
  ['destination'],
  ['hostile'],
];

/** The floors of `service`, the lowest first, by the same rule. `http` is what calls come in by: nothing looks at it. */
const SERVICE = [
  ['fault', 'outgoing'],
  ['model'],
  ['database'],
  ['audit'],
  ['setting', 'people', 'country', 'log', 'catalogue'],
  ['worker'],
  ['resolution'],
  ['workspace', 'job'],
  ['revision', 'replay', 'import', 'resolve'],
  ['redaction', 'feed'],
  ['live'],
  ['kept'],
  ['http'],
];

const TESTS = '[.](test|arbitrary|property)[.]tsx?$';
const room = (name) => `^core/src/${name}/`;
const floor = (name) => `^service/src/${name}/`;

const serviceArrows = SERVICE.flatMap((floors, at) =>
  floors.map((name) => ({
    name: `service-${name}-looks-down-only`,
    comment: 'Inside service, arrows point down only, those of types too; see the list at the top of this file.',
    severity: 'error',
    // The calls of workers are the work of higher floors, done in threads.
    from: { path: floor(name), pathNot: [TESTS, '^service/src/worker/calls'] },
    to: { path: [...SERVICE.slice(at + 1).flat(), ...floors.filter((each) => each !== name)].map(floor) },
  })),
).filter((rule) => rule.to.path.length > 0);

const everyFloorListed = {
  name: 'service-has-no-unlisted-floor',
  comment: 'A new folder of service takes its place in the list at the top of this file.',
  severity: 'error',
  from: { path: '^service/src/[^/]+/', pathNot: SERVICE.flat().map(floor) },
  to: {},
};

const coreArrows = CORE.flatMap((rooms, at) =>
  rooms.map((name) => ({
    name: `core-${name}-looks-down-only`,
    comment: 'Inside core, arrows point down only; see the list at the top of this file.',
    severity: 'error',
    from: { path: room(name), pathNot: TESTS },
    to: { path: [...CORE.slice(at + 1).flat(), ...rooms.filter((each) => each !== name)].map(room) },
  })),
).filter((rule) => rule.to.path.length > 0);

const everyRoomListed = {
  name: 'core-has-no-unlisted-room',
  comment: 'A new folder of core takes its place in the list at the top of this file.',
  severity: 'error',
  from: { path: '^core/src/[^/]+/', pathNot: CORE.flat().map(room) },
  to: {},
};

const workspaces = [
  {
    name: 'core-is-pure',
    comment: 'core has no I/O and no framework, and runs in a browser.',
    severity: 'error',
    from: { path: '^core/src/', pathNot: TESTS },
    to: { dependencyTypes: ['core'] },
  },
  {
    name: 'core-needs-little',
    comment:
      'What core may use from outside: a YAML parser, linear-time expressions, the distance of words, and what differs between texts.',
    severity: 'error',
    from: { path: '^core/src/', pathNot: TESTS },
    to: { path: 'node_modules/', pathNot: ['node_modules/(yaml|re2js|fastest-levenshtein|diff)/'] },
  },
  {
    name: 'engines-share-semantics-only',
    comment:
      'The fast engine is held equal to the reference, so neither may use the other. What both use is in `semantics`, with tests of its own.',
    severity: 'error',
    from: { path: '^core/src/engine/plan/', pathNot: TESTS },
    to: { path: '^core/src/engine/reference/' },
  },
  {
    name: 'reference-is-plain',
    severity: 'error',
    from: { path: '^core/src/engine/(reference|semantics)/', pathNot: TESTS },
    to: { path: '^core/src/engine/plan/' },
  },
  {
    name: 'core-looks-at-nobody',
    severity: 'error',
    from: { path: '^core/' },
    to: { path: '^(contract|report|service|cli|console|demo|bench|tests)/' },
  },
  {
    name: 'contract-is-types-and-tables',
    comment: 'Of core it knows types alone; it has no I/O, and needs nothing from outside.',
    severity: 'error',
    from: { path: '^contract/', pathNot: TESTS },
    to: { path: '^(core|service|cli|console|demo|bench|tests)/|node_modules/', dependencyTypesNot: ['type-only'] },
  },
  {
    name: 'contract-looks-at-core-only',
    severity: 'error',
    from: { path: '^contract/', pathNot: TESTS },
    to: { path: '^(service|cli|console|demo|bench|tests)/' },
  },
  {
    name: 'report-looks-at-core-only',
    comment: 'A report as a page is made of what core counted, with no I/O and nothing from outside.',
    severity: 'error',
    from: { path: '^report/', pathNot: TESTS },
    to: {
      path: '^(contract|service|cli|console|demo|bench|tests)/|node_modules/',
      dependencyTypes: ['core', 'npm', 'local'],
    },
  },
  {
    name: 'service-uses-core-and-contract-only',
    severity: 'error',
    from: { path: '^service/' },
    to: { path: '^(cli|console|demo|bench|tests)/' },
  },
  {
    name: 'cli-talks-http-to-the-service',
    comment: 'The client knows the contract; only `service run` and `database` do the work of the service themselves.',
    severity: 'error',
    from: { path: '^cli/', pathNot: '^cli/src/commands/(service-run|database)[.]ts$' },
    to: { path: '^(service|console|demo|bench|tests)/' },
  },
  {
    name: 'console-imports-the-contract-and-little-of-core',
    comment:
      'The console talks HTTP; of core it knows types, and what works on texts and answers alone: no engine. Its tests may ask it.',
    severity: 'error',
    from: { path: '^console/', pathNot: TESTS },
    to: {
      path: '^core/',
      pathNot: '^core/(?:src|dist)/(?:edit|difference|checking)/',
      dependencyTypesNot: ['type-only'],
    },
  },
  {
    name: 'console-looks-at-nobody-else',
    severity: 'error',
    from: { path: '^console/', pathNot: TESTS },
    to: { path: '^(service|cli|demo|bench|tests)/' },
  },
  {
    name: 'demo-uses-core-only',
    severity: 'error',
    from: { path: '^demo/' },
    to: { path: '^(service|cli|console|bench|tests)/' },
  },
  {
    name: 'bench-measures-core-and-demo',
    severity: 'error',
    from: { path: '^bench/' },
    to: { path: '^(cli|console|tests)/' },
  },
];

const general = [
  {
    name: 'no-cycles',
    comment: 'No circle of imports, those of types included.',
    severity: 'error',
    from: {},
    to: { circular: true },
  },
  {
    name: 'rooms-are-entered-by-their-index',
    comment: 'From another room, import what its index promises. Deep imports of types alone are allowed.',
    severity: 'error',
    from: { path: '^core/src/([^/]+)/', pathNot: TESTS },
    to: {
      path: '^core/src/[^/]+/.+',
      pathNot: ['^core/src/$1/', '^core/src/[^/]+/index[.]ts$', '^core/src/text/time[.]ts$'],
      dependencyTypesNot: ['type-only'],
    },
  },
  {
    name: 'nothing-unresolved',
    severity: 'error',
    from: {},
    to: { couldNotResolve: true, pathNot: '[.]css$' },
  },
];

module.exports = {
  forbidden: [...general, ...workspaces, ...coreArrows, everyRoomListed, ...serviceArrows, everyFloorListed],
  options: {
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.base.json' },
    doNotFollow: { path: ['node_modules', 'dist'] },
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['types', 'import', 'default'] },
  },
};
