import fc from 'fast-check';
import { parseAddress } from '../../address/index.js';
import { compileCountryData, readCountryCsv } from '../../country/index.js';
import { forwardingText } from '../../hostile/forwarding.arbitrary.js';
import { pathAsSent } from '../../hostile/path.arbitrary.js';
import { hostileText } from '../../hostile/text.arbitrary.js';
import { makeRequest, type Request } from '../../request/index.js';
import { compileAnswers, type Resolutions, readResolutionFile } from '../../resolution/index.js';
import { normalPath } from '../../url/index.js';
import { readWorkspace } from '../../workspace/index.js';
import { type Prepared, prepare } from '../prepared.js';

/*
 * Workspaces and requests made up for property tests: small pools of values, so that rules and requests meet often, and
 * every field, verdict and kind of list is among them. A workspace is given as JSON documents, which are YAML too, so
 * that a failing case can be read, and kept as an example.
 */

type Json = unknown;

const ADDRESSES = [
  '198.18.0.1',
  '198.18.96.7',
  '198.19.0.1',
  '10.0.0.5',
  '10.0.1.9',
  '203.0.113.7',
  '192.88.0.1',
  '2001:db8:1::1',
  '2001:db8:2::1',
];
const NETWORKS = [
  '198.18.0.0/16',
  '198.18.96.0/20',
  '10.0.0.0/8',
  '10.0.0.0/24',
  '203.0.113.0-203.0.113.20',
  '2001:db8:1::/48',
  '0.0.0.0/0',
  '::/0',
];
const COUNTRIES = 'network,code\n198.18.0.0/16,PT\n198.18.96.0/20,XM\n198.19.0.0/16,ES\n2001:db8:1::/48,FR\n';
const HOSTS = [
  ...['a.example', 'www.a.example', 'b.example', 'x.y.b.example', 'c.example', '10.0.0.5', '[2001:db8:1::1]'],
];
/** A host with one address, with several in several countries, with none, and with two; of the others nothing is known. */
const ANSWERS = `www.a.example,198.18.0.1 198.18.96.7 2001:db8:1::1
a.example,198.18.0.1
b.example,
x.y.b.example,10.0.0.5 203.0.113.7
`;
const HOST_PATTERNS = [
  'a.example',
  '.a.example',
  '*.a.example',
  '.b.example',
  '*.y.b.example',
  'c.example',
  '.example',
];
const PATHS = [
  ...['/', '/x', '/x/y', '/x/y/z', '/upload/a', '/account/sign-in', '/calls/v1/slots'],
  ...['//x/y', '/X/Y', '/x//../upload/a', '/x;v=1/y', '/x/..;/upload/a', '/%78/y', '/x%2Fy', '/\\x\\y'],
];
const PATH_PATTERNS = [
  '/',
  '/x',
  '/x/*',
  '/x/**',
  '**/y',
  '/upload/**',
  '/account/sign-in*',
  '~^/calls/v[01]/',
  '~y$',
  '/**',
];
const URL_PATTERNS = [
  'a.example/x',
  '.a.example/**',
  'https://b.example/**',
  'c.example:8443/**',
  '.b.example/x/*?q=1*',
  '~example/x',
  '*.a.example/',
];
const QUERIES = [undefined, '', 'q=1', 'q=2&r=a', 'q=1&q=3', 'q=%31', '&&q=1', 'q=\0', 'q', 'r=%00&q=-'];
const AGENTS = ['curl/8', 'Mozilla/5.0 (X11)', 'Gardenbot/1', '', ''];
const TEXT_PATTERNS = [
  ...[
    'curl/8',
    'Mozilla/*',
    '*bot*',
    '~(?i)GARDEN',
    'present',
    'absent',
    '1',
    'a',
    'abc*',
    '-',
    '~^.$',
    '~^$',
    '~\\x01',
  ],
];
const USERS = ['ada', 'Rui', 'ines', '', '\u0001', 'staff'];
const GROUPS = [undefined, [], ['staff'], ['staff', 'guides'], ['\0'], ['staff,guides']];

const CATEGORIES = ['wagering', 'media', 'empty'];
const APPLICATIONS = ['web', 'stream', 'shell'];
const TAGS = ['curator', 'guest', 'slow'];
const SCHEDULES = ['morning', 'night'];

const some = <T>(values: readonly T[]) => fc.constantFrom(...values);

/** Values of a field: some by themselves, some left out. */
function values(known: readonly string[]): fc.Arbitrary<Json> {
  const item = some(known);
  const not = fc.record({
    not: fc
      .array(item, { minLength: 1, maxLength: 2 })
      .filter((some) => !(some.includes('present') && some.includes('absent'))),
  });
  return fc.oneof(
    { weight: 4, arbitrary: fc.array(item, { minLength: 1, maxLength: 3 }) },
    { weight: 2, arbitrary: not },
    { weight: 1, arbitrary: fc.tuple(item, not).map((both) => both as Json) },
    { weight: 1, arbitrary: fc.array(not, { minLength: 2, maxLength: 2 }) },
  );
}

const FIELDS: Record<string, readonly string[]> = {
  client: [...NETWORKS, 'offices', 'all-offices'],
  peer: [...NETWORKS, 'offices'],
  destination: [...NETWORKS, 'list:offices'],
  country: ['PT', 'ES', 'XM', 'unknown', 'private', 'southern'],
  'destination-country': ['PT', 'ES', 'XM', 'unknown', 'private', 'southern'],
  host: [...HOST_PATTERNS, 'sites'],
  path: PATH_PATTERNS,
  url: [...URL_PATTERNS, 'list:pages'],
  category: [...CATEGORIES, 'uncategorised'],
  application: [...APPLICATIONS, 'unidentified'],
  tag: TAGS,
  method: ['GET', 'POST', 'CONNECT'],
  scheme: ['http', 'https'],
  protocol: ['HTTP/1.1', 'HTTP/2'],
  port: ['443', '80', '8000-9000'],
  user: ['ada', 'rui', 'anonymous', 'list:people'],
  group: ['staff', 'guides', 'anonymous', 'list:people'],
  agent: [...TEXT_PATTERNS, 'list:robots'],
  referrer: TEXT_PATTERNS,
  'header.x-kind': TEXT_PATTERNS,
  'header.user-agent': TEXT_PATTERNS,
  'header.referer': TEXT_PATTERNS,
  'header.cookie': TEXT_PATTERNS,
  'query.q': TEXT_PATTERNS,
  'query.r': TEXT_PATTERNS,
  'cookie.pass': TEXT_PATTERNS,
  size: ['> 1KiB', '<= 1KiB', '< 10', '>= 1MiB'],
  time: SCHEDULES,
};

function condition(fields: readonly string[]): fc.Arbitrary<Json> {
  return fc
    .uniqueArray(some(fields), { minLength: 1, maxLength: 3 })
    .chain((chosen) =>
      fc.record(Object.fromEntries(chosen.map((field) => [field, values(FIELDS[field] as readonly string[])]))),
    );
}

const conditions = (fields: readonly string[]) =>
  fc.oneof(
    { weight: 3, arbitrary: condition(fields) },
    { weight: 1, arbitrary: fc.array(condition(fields), { minLength: 1, maxLength: 3 }) },
  );

const ALL_FIELDS = Object.keys(FIELDS);
const IDENTIFYING = ['host', 'path', 'url', 'port', 'protocol', 'scheme', 'method', 'agent', 'destination'];

const action = fc.oneof(
  { weight: 3, arbitrary: some<Json>(['allow', 'block']) },
  { weight: 2, arbitrary: fc.subarray(TAGS, { minLength: 1 }).map((tag) => ({ tag })) },
  {
    weight: 1,
    arbitrary: some<Json>([
      { block: { status: 451, notice: 'sorry' } },
      { redirect: 'https://a.example/why' },
      'challenge',
      { confirm: { for: '1h' } },
      { unlock: { passcode: 'gate' } },
    ]),
  },
);

const limit = fc.record({
  'more-than': some<Json>([1, 2, 3, '100B']),
  within: some(['1s', '10s', '1m']),
  per: fc.subarray(
    [
      ...[
        'client',
        'client/24',
        'method',
        'host',
        'user',
        'country',
        'destination/24',
        'destination-country',
        'header.x-kind',
        'query.q',
        'url',
        'group',
        'path',
      ],
      ...['agent', 'referrer', 'cookie.pass', 'header.user-agent'],
    ],
    { maxLength: 3 },
  ),
});

const rule = (name: string, withLimits: boolean) =>
  fc.record(
    {
      rule: fc.constant(name),
      then: action,
      when: conditions(ALL_FIELDS),
      unless: conditions(ALL_FIELDS),
      stance: some(['enforce', 'enforce', 'enforce', 'observe', 'off']),
      'if-blind': some(['match', 'no-match', 'no-match']),
      record: some(['quiet', 'log', 'alert']),
      ...(withLimits
        ? {
            limit: fc.oneof(
              limit,
              limit.map((each) => ({ ...each, hold: '30s' })),
            ),
          }
        : {}),
    },
    { requiredKeys: ['rule', 'then'] },
  );

/** Rules with any of the keys left out, limits less often than not. */
const rules = fc
  .array(fc.boolean(), { maxLength: 8 })
  .chain((limited) => fc.tuple(...limited.map((each, index) => rule(`rule-${index}`, each && index % 3 === 0))));

const policy = fc.record({
  policy: fc.constant('p'),
  default: some(['allow', 'block']),
  stance: some(['enforce', 'enforce', 'observe']),
  paths: fc.record(
    {
      slashes: some(['merge', 'keep']),
      case: some(['keep', 'ignore']),
      parameters: some(['keep', 'drop']),
    },
    { requiredKeys: [] },
  ),
  destinations: fc.constantFrom({}, { resolve: true }, { resolve: true }),
  client: some<Json>([
    { from: 'peer' },
    { from: 'forwarded', trust: ['10.0.0.0/8'] },
    { from: { header: 'x-client' }, trust: ['10.0.0.0/8', 'offices'] },
  ]),
  rules,
});

const catalogue = fc.record({
  wagering: fc.record({
    category: fc.constant('wagering'),
    domains: fc.subarray([...HOST_PATTERNS, 'sites']),
    urls: fc.subarray(URL_PATTERNS),
  }),
  media: fc.record({
    category: fc.constant('media'),
    domains: fc.subarray(HOST_PATTERNS),
    urls: fc.constant(['list:pages']),
  }),
  applications: fc.tuple(
    ...APPLICATIONS.map((name) => fc.record({ application: fc.constant(name), when: conditions(IDENTIFYING) })),
  ),
});

const LISTS: Json[] = [
  {
    list: 'offices',
    of: 'addresses',
    entries: ['203.0.113.0/28', '10.0.1.0/24', { entry: '198.19.0.1', until: '2026-01-01T00:00:00Z' }],
  },
  { list: 'all-offices', of: 'addresses', entries: ['2001:db8:2::/48'], include: ['offices'] },
  { list: 'southern', of: 'countries', entries: ['PT', 'ES'] },
  { list: 'sites', of: 'domains', entries: ['.c.example', 'www.a.example'] },
  { list: 'pages', of: 'urls', entries: ['c.example/x/**', 'http://a.example/'] },
  { list: 'people', of: 'users', entries: ['Ines', 'guides'] },
  { list: 'robots', of: 'agents', entries: ['curl/*', '~bot'] },
  { category: 'empty' },
  { schedule: 'morning', zone: 'Europe/Lisbon', weekly: { 'mon-sun': ['00:00-09:00'] } },
  { schedule: 'night', zone: 'UTC', weekly: { 'mon-sun': ['22:00-00:30'] }, except: { '2026-03-02': 'closed' } },
  { notice: 'sorry', title: 'Sorry' },
  { corrections: 'own', networks: { '10.0.0.0/24': 'XG', '203.0.113.7': 'unknown' } },
];

/** The documents of a workspace with one policy `p`. */
export const documents: fc.Arbitrary<Json[]> = fc
  .tuple(policy, catalogue)
  .map(([own, { wagering, media, applications }]) => [own, wagering, media, ...applications, ...LISTS]);

const NARROW: Record<string, readonly string[]> = {
  client: ['10.0.0.0/8', '10.0.0.0/24', '0.0.0.0/0', 'offices'],
  country: ['PT', 'ES', 'unknown'],
  'destination-country': ['PT', 'ES', 'XM', 'FR', 'unknown'],
  destination: ['198.18.0.0/16', '198.18.96.0/20', '0.0.0.0/0', 'list:offices'],
  host: ['a.example', '.a.example', '.example'],
  path: ['/x', '/x/**', '/**'],
  method: ['GET', 'POST'],
  tag: ['curator'],
};

const narrowCondition = fc
  .subarray(Object.keys(NARROW), { minLength: 1, maxLength: 2 })
  .chain((chosen) =>
    fc.record(Object.fromEntries(chosen.map((field) => [field, values(NARROW[field] as readonly string[])]))),
  );

const narrowRule = (name: string) =>
  fc.record(
    {
      rule: fc.constant(name),
      then: some<Json>(['allow', 'block', { tag: ['curator'] }]),
      when: fc.oneof(narrowCondition, fc.array(narrowCondition, { minLength: 1, maxLength: 2 })),
      unless: narrowCondition,
      'if-blind': some(['match', 'no-match', 'no-match']),
      stance: some(['enforce', 'enforce', 'observe']),
    },
    { requiredKeys: ['rule', 'then', 'when'] },
  );

/** The same with so few values that many rules cover others. */
export const narrowDocuments: fc.Arbitrary<Json[]> = fc
  .tuple(fc.boolean(), ...['a', 'b', 'c', 'd', 'e'].map(narrowRule))
  .map(([resolve, ...own]) => [{ policy: 'p', default: 'block', destinations: { resolve }, rules: own }, ...LISTS]);

/** Enough rules that their clauses fill more words than one group takes. */
const MANY_RULES = 150;

/** The same of every field, with many more rules: rows are then judged by several groups of clauses, not by one. */
export const wideDocuments: fc.Arbitrary<Json[]> = fc
  .tuple(policy, catalogue, fc.array(narrowRule('x'), { minLength: MANY_RULES, maxLength: MANY_RULES }))
  .map(([own, { wagering, media, applications }, narrow]) => {
    const more = narrow.map((each, at) => ({ ...(each as object), rule: `more-${at}` }));
    // The rules of every field are in between, so that some decide and some are overtaken.
    const all = [...more.slice(0, 60), ...(own as { rules: Json[] }).rules, ...more.slice(60)];
    return [{ ...(own as object), rules: all }, wagering, media, ...applications, ...LISTS];
  });

const RESOLUTIONS: Resolutions = {
  table: compileAnswers(
    readResolutionFile(new TextEncoder().encode(ANSWERS), { name: 'made-up', seen: 0, format: 'csv' }).answers,
  ),
  later: new Map(),
};

/** Reads and prepares documents; with country data or without. */
export function preparedOf(all: readonly Json[], withCountries = true): Prepared {
  const text = all.map((document) => JSON.stringify(document)).join('\n---\n');
  const { workspace, issues } = readWorkspace([{ name: 'made-up.yaml', text }]);
  if (issues.length > 0) throw new Error(JSON.stringify(issues[0]));
  const countryData = withCountries ? compileCountryData(readCountryCsv(COUNTRIES).networks) : undefined;
  return prepare(workspace, { countryData, resolutions: RESOLUTIONS, at: Date.parse('2026-03-01T00:00:00Z') });
}

const HEADER_VALUES = [
  ...['a', 'abc', 'pass=1; a=b', 'pass=a; pass=1', '198.18.0.1', '203.0.113.7, 10.0.0.5', 'for=198.19.0.1', 'curl/8'],
  ...['\u0001', '\0', '-', '', '1', '", 10.0.0.5', 'for=", for=10.0.0.5', 'unknown, 10.0.0.5'],
];
const START = Date.parse('2026-03-02T00:00:00Z');
const optional = <T>(arbitrary: fc.Arbitrary<T>) => fc.option(arbitrary, { nil: undefined, freq: 4 });
const address = some(ADDRESSES).map((text) => parseAddress(text));

/** A request that shows some of what it could. */
export const request: fc.Arbitrary<Request> = fc
  .record({
    time: optional(fc.integer({ min: -60, max: 90 }).map((second) => START + second * 1000)),
    peer: optional(address),
    destination: optional(address),
    method: optional(some(['GET', 'POST', 'CONNECT'])),
    scheme: optional(some(['http', 'https'])),
    protocol: optional(some(['HTTP/1.1', 'HTTP/2'])),
    host: optional(some(HOSTS)),
    port: optional(some([443, 80, 8443])),
    path: optional(fc.oneof({ weight: 4, arbitrary: some(PATHS) }, { weight: 1, arbitrary: pathAsSent })).map(
      (path) => path && normalPath(path),
    ),
    query: fc.oneof({ weight: 4, arbitrary: some(QUERIES) }, { weight: 1, arbitrary: hostileText }),
    user: optional(some(USERS)),
    groups: some(GROUPS),
    agent: optional(fc.oneof({ weight: 4, arbitrary: some(AGENTS) }, { weight: 1, arbitrary: hostileText })),
    referrer: optional(some(['', 'https://a.example/', 'abc', '\u0001'])),
    size: optional(some([0, 9, 10, 1024, 1025, 2 ** 20])),
    bytes: optional(some([10, 60, 200, Number.MAX_SAFE_INTEGER])),
    headers: fc.dictionary(
      some(['x-kind', 'x-client', 'cookie', 'x-forwarded-for', 'forwarded', 'user-agent', 'referer']),
      fc.array(
        fc.oneof(
          { weight: 6, arbitrary: some(HEADER_VALUES) },
          { weight: 1, arbitrary: hostileText },
          { weight: 1, arbitrary: forwardingText },
        ),
        { maxLength: 2 },
      ),
    ),
    allHeaders: fc.boolean(),
    met: fc.subarray(['p/rule-0', 'p/rule-1', 'p/rule-2', 'p/rule-3']),
  })
  .map(({ headers, ...rest }) => makeRequest({ ...rest, headers: new Map(Object.entries(headers)) }));
