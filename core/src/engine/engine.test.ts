import { describe, expect, it } from 'vitest';
import { type Address, type AddressSet, parseAddress, setContains } from '../address/index.js';
import { compileCountryData, readCountryCsv } from '../country/index.js';
import type { List } from '../list/index.js';
import type { Policy } from '../policy/index.js';
import { makeRequest, type Request } from '../request/index.js';
import { readWorkspace } from '../workspace/index.js';
import { createRouter, evaluate, explain, prepare, subjectOf } from './index.js';
import { allOf, anyOf, MATCH, NO_MATCH, not, type Truth, unseen } from './semantics/truth.js';

const LISTS = `
list: curators
of: addresses
entries: [203.0.113.0/28, {entry: 203.0.113.77, note: "visiting botanist", until: 2026-11-12T18:00:00Z}]
include: [night-shift]
---
list: night-shift
of: addresses
entries: [{entry: 198.51.100.10-198.51.100.19, note: night}]
---
list: wagering-sites
of: domains
entries: [.lucky-petal.example]
`;

const COUNTRIES = '198.18.0.0/16,PT\n198.18.96.0/20,XM\n198.19.0.0/16,ES\n';
const NOW = Date.parse('2026-11-23T00:00:00Z');

function prepared(
  policies: string,
  { countries = COUNTRIES, at = NOW }: { countries?: string | undefined; at?: number } = {},
) {
  const { workspace, issues } = readWorkspace([
    { name: 'policies.yaml', text: policies },
    { name: 'lists.yaml', text: LISTS },
  ]);
  expect(issues).toEqual([]);
  const countryData = countries === '' ? undefined : compileCountryData(readCountryCsv(countries).networks);
  return prepare(workspace, { countryData, at });
}

type Given = Partial<Omit<Request, 'peer' | 'headers'>> & {
  readonly peer?: string;
  readonly headers?: Record<string, string | readonly string[]>;
};

const request = ({ peer, headers, ...rest }: Given): Request =>
  makeRequest({
    ...rest,
    peer: peer === undefined ? undefined : parseAddress(peer),
    headers: new Map(Object.entries(headers ?? {}).map(([name, value]) => [name, [value].flat()])),
  });

/** «verdict by rule | role of each rule» of a request under the one policy. */
function judged(rules: string, given: Given, options: Parameters<typeof prepared>[1] = {}): string {
  const state = prepared(`policy: p\ndefault: block\nrules:\n${rules.replace(/^/gm, '  ')}`, options);
  const policy = state.workspace.policies.get('p') as Policy;
  const { verdict, decidedBy, outcomes } = evaluate(policy, subjectOf(request(given), policy, state), state);
  return `${verdict} by ${policy.rules[decidedBy]?.name ?? 'default'} | ${outcomes.map(({ role, unseen: fields }) => [role, ...fields].join(' ')).join(', ')}`;
}

describe('three-valued logic', () => {
  const U: Truth = unseen('path');
  it('is Kleene’s', () => {
    const values = [MATCH, U, NO_MATCH];
    const table = (combine: (truths: readonly Truth[]) => Truth) =>
      values.map((a) => values.map((b) => combine([a, b]).holds[0]).join('')).join(' ');
    expect(table(allOf)).toBe('mun uun nnn');
    expect(table(anyOf)).toBe('mmm muu mun');
    expect(values.map((value) => not(value).holds)).toEqual(['no match', 'unseen', 'match']);
    expect([allOf([]).holds, anyOf([]).holds]).toEqual(['match', 'no match']);
  });

  it('names each unseen field once', () => {
    expect(allOf([unseen('path'), unseen('host', 'path')])).toEqual(unseen('path', 'host'));
  });
});

describe('deciding', () => {
  it('takes the first rule that matches; later ones are overtaken', () => {
    expect(
      judged('- {rule: a, when: {method: POST}, then: block}\n- {rule: b, then: allow}\n- {rule: c, then: block}', {
        method: 'GET',
      }),
    ).toBe('allow by b | passed, decided, overtaken');
  });

  it('falls to the default where no rule matches', () => {
    expect(judged('- {rule: a, when: {method: POST}, then: allow}', { method: 'GET' })).toBe(
      'block by default | passed',
    );
  });

  it('counts a rule that observes and goes on; behind a decision it is overtaken, and off it is nothing', () => {
    expect(
      judged(
        '- {rule: a, then: block, stance: observe}\n- {rule: b, then: block, stance: off}\n- {rule: c, then: allow}\n- {rule: d, then: block, stance: observe}',
        {},
      ),
    ).toBe('allow by c | observed, off, decided, overtaken');
  });

  it('needs all fields of a map and any value of a field; any map of a list will do', () => {
    const both = '- {rule: a, when: {method: [GET, HEAD], path: /x}, then: allow}';
    expect(judged(both, { method: 'HEAD', path: '/x' })).toContain('allow');
    expect(judged(both, { method: 'HEAD', path: '/y' })).toContain('block');
    const either = '- {rule: a, when: [{method: POST}, {path: /x}], then: allow}';
    expect(judged(either, { method: 'GET', path: '/x' })).toContain('allow');
    expect(judged(either, { method: 'GET', path: '/y' })).toContain('block');
  });

  it('turns `not` round, and leaves exceptions out', () => {
    const rule = '- {rule: a, when: {country: {not: [PT]}}, unless: {path: /robots.txt}, then: allow}';
    expect(judged(rule, { peer: '198.19.0.1', path: '/' })).toContain('allow');
    expect(judged(rule, { peer: '198.18.0.1', path: '/' })).toContain('block');
    expect(judged(rule, { peer: '198.19.0.1', path: '/robots.txt' })).toContain('block');
  });

  it('does not match what it cannot see, and names it', () => {
    expect(judged('- {rule: a, when: {path: /x}, then: allow}', { host: 'a.example' })).toBe(
      'block by default | blind path',
    );
    expect(judged('- {rule: a, when: {path: {not: /x}}, then: allow}', {})).toBe('block by default | blind path');
    expect(judged('- {rule: a, when: {path: /x, method: GET}, then: allow}', { method: 'POST' })).toBe(
      'block by default | passed',
    );
    expect(judged('- {rule: a, when: [{path: /x}, {method: GET}], then: allow}', { method: 'GET' })).toBe(
      'allow by a | decided',
    );
    expect(judged('- {rule: a, when: {method: GET}, unless: {path: /x}, then: allow}', { method: 'GET' })).toBe(
      'block by default | blind path',
    );
    expect(judged('- {rule: a, when: {client: curators, country: PT}, then: allow}', {})).toBe(
      'block by default | blind client country',
    );
  });

  it('takes what it cannot see where that is the cautious choice', () => {
    const rules =
      '- {rule: a, when: {path: /x}, if-blind: match, then: block}\n- {rule: b, when: {path: /x}, if-blind: match, then: block}\n- {rule: c, then: allow}';
    expect(judged(rules, { host: 'a.example' })).toBe('block by a | decided path, overtaken path, overtaken');
    expect(judged(rules, { path: '/y' })).toBe('allow by c | passed, passed, decided');
    expect(judged('- {rule: a, when: {path: /x}, if-blind: match, stance: observe, then: block}', {})).toBe(
      'block by default | observed path',
    );
  });

  it('compares schemes, protocols and ports; the port of a scheme goes without saying', () => {
    const rule = (when: string) => `- {rule: a, when: ${when}, then: allow}`;
    expect(judged(rule('{scheme: HTTPS}'), { scheme: 'https' })).toContain('allow');
    expect(judged(rule('{protocol: http/1.1}'), { protocol: 'HTTP/1.1' })).toContain('allow');
    const ports = rule('{port: [443, 8000-8099]}');
    expect(
      [
        { port: 443 },
        { port: 8050 },
        { scheme: 'https' },
        { port: 8100 },
        { scheme: 'http' },
        { scheme: 'https', port: 8443 },
      ].map((given) => judged(ports, given).split(' ')[0]),
    ).toEqual(['allow', 'allow', 'allow', 'block', 'block', 'block']);
    expect(judged(ports, {})).toBe('block by default | blind port');
  });

  it('sees a country only with country data; an address in none is unknown or private', () => {
    const rule =
      '- {rule: a, when: {country: [unknown]}, then: allow}\n- {rule: b, when: {country: [private]}, then: allow}';
    expect(judged(rule, { peer: '8.8.0.1' }, { countries: '' })).toBe(
      'block by default | blind country, blind country',
    );
    expect(judged(rule, { peer: '8.8.0.1' })).toBe('allow by a | decided, passed');
    expect(judged(rule, { peer: '10.0.0.1' })).toBe('allow by b | passed, decided');
  });

  it.each([
    ['198.18.97.3', {}, 'block by a | decided'],
    ['198.18.0.9', {}, 'allow by default | passed'],
    ['8.8.0.1', {}, 'allow by default | passed'],
    ['10.0.0.1', {}, 'allow by default | passed'],
    // The same address, written as IPv4-mapped IPv6.
    ['::ffff:198.18.97.3', {}, 'block by a | decided'],
    [undefined, {}, 'allow by default | blind destination-country'],
    ['198.18.97.3', { countries: '' }, 'allow by default | blind destination-country'],
  ])('sees the country of the destination %s by its address alone (%j): %s', (destination, options, expected) => {
    const state = prepared(
      'policy: p\ndefault: allow\nrules: [{rule: a, when: {destination-country: [XM]}, then: block}]',
      options,
    );
    const policy = state.workspace.policies.get('p') as Policy;
    // The client is in XM too, and the host is called after it: neither counts.
    const given = request({ peer: '198.18.96.1', host: 'xm.example' });
    const whole = { ...given, destination: destination === undefined ? undefined : parseAddress(destination) };
    const { verdict, decidedBy, outcomes } = evaluate(policy, subjectOf(whole, policy, state), state);
    const role = outcomes.map((each) => [each.role, ...each.unseen].join(' ')).join(', ');
    expect(`${verdict} by ${policy.rules[decidedBy]?.name ?? 'default'} | ${role}`).toBe(expected);
  });

  it('looks into lists and those they include, and judges expiry at its instant', () => {
    const rule = '- {rule: a, when: {client: curators}, then: allow}';
    expect(judged(rule, { peer: '203.0.113.9' })).toContain('allow');
    expect(judged(rule, { peer: '198.51.100.15' })).toContain('allow');
    expect(judged(rule, { peer: '203.0.113.77' })).toContain('block');
    expect(judged(rule, { peer: '203.0.113.77' }, { at: Date.parse('2026-11-01T00:00:00Z') })).toContain('allow');
    const hosts = '- {rule: a, when: {host: [wagering-sites, "*.b.example"]}, then: allow}';
    expect(judged(hosts, { host: 'www.lucky-petal.example' })).toContain('allow');
    expect(judged(hosts, { host: 'b.example' })).toContain('block');
  });

  it('distinguishes client and peer', () => {
    const state = prepared(
      'policy: p\ndefault: block\nclient: {from: forwarded, trust: [10.0.0.0/8]}\nrules:\n  - {rule: a, when: {client: curators, peer: 10.0.0.0/8}, then: allow}',
    );
    const policy = state.workspace.policies.get('p') as Policy;
    const verdict = (peer: string) =>
      evaluate(
        policy,
        subjectOf(request({ peer, headers: { 'x-forwarded-for': '203.0.113.9' } }), policy, state),
        state,
      ).verdict;
    expect([verdict('10.1.1.1'), verdict('198.18.0.1')]).toEqual(['allow', 'block']);
  });

  it('lets everything through where the policy only observes', () => {
    const state = prepared('policy: p\ndefault: block\nstance: observe\nrules: []');
    const policy = state.workspace.policies.get('p') as Policy;
    expect(evaluate(policy, subjectOf(request({}), policy, state), state)).toMatchObject({
      verdict: 'block',
      effect: 'allow',
    });
  });
});

describe('routing', () => {
  const router = createRouter(
    prepared(`
policy: exact
default: allow
covers: {hosts: [www.a.example]}
---
policy: under
default: allow
covers: {hosts: [.a.example]}
---
policy: only-under
default: allow
covers: {hosts: ["*.deep.a.example"], clients: [10.0.0.0/8]}
---
policy: near
default: allow
covers: {clients: [10.40.0.0/16]}
client: {from: forwarded, trust: [10.99.0.1]}
---
policy: nowhere
default: allow
stance: off
covers: {hosts: [off.a.example]}
`),
  );
  const to = (given: Given) => router.route(request(given))?.name;

  it('goes to the most specific host, then to the longest client network', () => {
    const hosts = ['www.a.example', 'a.example', 'x.a.example', 'deep.a.example', 'x.deep.a.example', 'b.example'];
    expect(hosts.map((host) => to({ host }))).toEqual(['exact', 'under', 'under', 'under', 'only-under', undefined]);
    expect(to({ peer: '10.1.1.1' })).toBe('only-under');
    expect(to({ peer: '10.40.1.1' })).toBe('near');
    expect(to({ peer: '10.40.1.1', host: 'www.a.example' })).toBe('exact');
    expect(to({ peer: '198.18.0.1', host: 'b.example' })).toBeUndefined();
    expect(to({})).toBeUndefined();
  });

  it('goes by the entries of lists that have not expired', () => {
    const to = (at: string) => {
      const { workspace } = readWorkspace([
        {
          name: 'p.yaml',
          text: 'policy: p\ncovers: {hosts: [sites], clients: [guests]}\ndefault: allow\n---\nlist: sites\nof: domains\nentries: [{entry: a.example, until: 2026-11-12T18:00:00Z}]\n---\nlist: guests\nof: addresses\nentries: [{entry: 10.0.0.0/8, until: 2026-11-12T18:00:00Z}]\n',
        },
      ]);
      const { route } = createRouter(prepare(workspace, { countryData: undefined, at: Date.parse(at) }));
      return [route(request({ host: 'a.example' }))?.name, route(request({ peer: '10.0.0.1' }))?.name];
    };
    expect(to('2026-11-12T17:00:00Z')).toEqual(['p', 'p']);
    expect(to('2026-11-12T19:00:00Z')).toEqual([undefined, undefined]);
  });

  it('resolves the client as each policy does, and passes by a policy that is off', () => {
    expect(to({ peer: '10.99.0.1', headers: { 'x-forwarded-for': '10.40.1.1' } })).toBe('near');
    expect(to({ host: 'off.a.example' })).toBe('under');
  });
});

describe('explaining', () => {
  const POLICY = `policy: p
default: block
client: {from: forwarded, trust: [10.10.1.4]}
rules:
  - {rule: wagering, when: {host: wagering-sites}, unless: {client: curators}, then: block}
  - {rule: uploads, when: {path: "/upload/**"}, then: block}
  - {rule: portugal, when: {country: PT}, then: allow}
  - {rule: everyone, then: allow}
`;
  const state = prepared(POLICY);
  const policy = state.workspace.policies.get('p') as Policy;
  const story = (given: Given) => explain(policy, subjectOf(request(given), policy, state), state);

  it('says what became of it, by which rule, because of what', () => {
    const words = story({
      peer: '10.10.1.4',
      headers: { 'x-forwarded-for': '198.18.0.9' },
      host: 'www.lucky-petal.example',
    });
    expect(words.summary).toBe(
      'Blocked by rule wagering, because host www.lucky-petal.example is in list wagering-sites: entry .lucky-petal.example.',
    );
    expect(words.client.text).toBe(
      '198.18.0.9 is taken from x-forwarded-for, which the trusted proxy 10.10.1.4 vouches for',
    );
    expect(words.country.text).toBe('198.18.0.9 is in Portugal (PT): the country data says so of 198.18.0.0/16');
    expect(words.rules.map(({ role }) => role)).toEqual(['decided', 'blind', 'overtaken', 'overtaken']);
    expect(words.rules[1]?.text).toBe('Could not be judged: the request does not show its path.');
    expect(words.rules[2]?.text).toBe('Matches, but wagering above had decided already.');
  });

  it('names the entry, its note, and the list that it came through', () => {
    const words = story({ peer: '198.51.100.12', host: 'www.lucky-petal.example', path: '/' });
    expect(words.rules[0]?.text).toBe(
      'Excepted: client 198.51.100.12 is in list curators through list night-shift: entry 198.51.100.10-198.51.100.19 (night).',
    );
    expect(words.decidedBy).toBe('everyone');
    expect(words.summary).toBe('Allowed by rule everyone, which matches every request.');
  });

  it('names beside its answer the rules above it that could not be judged, and no others', () => {
    const shown = { peer: '198.18.0.9', host: 'a.example' };
    expect(story(shown).unjudged).toBe('Could not be judged: uploads, for want of its path.');
    expect(story({ ...shown, path: '/' }).unjudged).toBe(null);
    // Whatever is below the deciding rule, or only observes, changes nothing.
    expect(story({ peer: '198.18.0.9', host: 'www.lucky-petal.example' }).unjudged).toBe(null);
    const observing = prepared(POLICY.replace('rule: uploads,', 'rule: uploads, stance: observe,'));
    const own = observing.workspace.policies.get('p') as Policy;
    expect(explain(own, subjectOf(request(shown), own, observing), observing).unjudged).toBe(null);
  });

  it('says where a rule took what it could not judge', () => {
    const cautious = prepared(
      'policy: p\ndefault: allow\nrules:\n  - {rule: uploads, when: {path: "/upload/**"}, if-blind: match, then: block}',
    );
    const own = cautious.workspace.policies.get('p') as Policy;
    const words = explain(own, subjectOf(request({ host: 'a.example' }), own, cautious), cautious);
    expect(words.summary).toBe(
      'Blocked by rule uploads, which takes what it cannot judge: the request does not show its path.',
    );
    expect(words.rules[0]?.text).toBe(
      'Takes what it cannot judge (the request does not show its path), and decides: block.',
    );
  });

  it('reports the narrowest country network, and says where there is no data', () => {
    expect(story({ peer: '198.18.97.3' }).country).toMatchObject({ country: 'XM', network: '198.18.96.0/20' });
    expect(story({ peer: '198.18.97.3' }).destinations).toEqual([]);
    const there = story({ peer: '10.0.0.1', destination: parseAddress('198.18.97.3') });
    expect(there.destinations).toEqual([
      {
        address: '198.18.97.3',
        country: 'XM',
        network: '198.18.96.0/20',
        text: '198.18.97.3 is in XM: the country data says so of 198.18.96.0/20',
      },
    ]);
    const without = prepared(POLICY, { countries: '' });
    expect(explain(policy, subjectOf(request({ peer: '198.18.97.3' }), policy, without), without).country).toEqual({
      country: null,
      network: null,
      text: 'no country data is loaded',
    });
  });

  it('says what would have to change for another rule to act', () => {
    const own = prepared(
      `policy: p
default: block
rules:
  - {rule: posts, when: {method: POST, path: /x}, then: block}
  - {rule: watch, when: {method: GET}, stance: observe, then: block}
  - {rule: offices, when: {method: GET}, unless: {client: curators}, then: block}
  - {rule: web, when: {method: GET}, then: allow}
  - {rule: late, when: {host: a.example}, then: redirect: "https://why.example/"}
`.replace('then: redirect: "https://why.example/"', 'then: {redirect: "https://why.example/"}'),
    );
    const only = own.workspace.policies.get('p') as Policy;
    const words = explain(only, subjectOf(request({ peer: '203.0.113.9', method: 'GET', path: '/x' }), only, own), own);
    expect(words.rules.map(({ rule, toAct }) => `${rule}: ${toAct}`)).toEqual([
      'posts: It would act if method were POST.',
      'watch: It would act if it were enforced.',
      'offices: It would act if its exception for client did not hold.',
      'web: null',
      'late: It would act if the request showed its host, and it were above web.',
    ]);
    expect(words.rules[0]?.changes).toEqual([{ type: 'field', field: 'method', seen: 'GET', wanted: ['POST'] }]);
  });
});

describe('preparing again', () => {
  const LISTED = 'policy: p\ndefault: block\nrules:\n  - {rule: a, when: {client: curators}, then: allow}';
  it('takes over the lists and the partition where they are the same, and not where an entry expires in between', () => {
    const first = prepared(LISTED, { at: Date.parse('2026-11-01T00:00:00Z') });
    const { workspace, country } = first;
    const again = (at: string) =>
      prepare(workspace, { countryData: country.data, at: Date.parse(at), previous: first });
    expect(again('2026-11-05T00:00:00Z').lists).toBe(first.lists);
    expect(again('2026-11-05T00:00:00Z').shared()).toBe(first.shared());
    expect(again('2026-11-20T00:00:00Z').lists).not.toBe(first.lists);
  });

  it('compiles anew the lists that changed, and those that include them, and no other', () => {
    const text = (office: string) => `list: offices
of: addresses
entries: [${office}]
---
list: everyone
of: addresses
include: [offices]
---
list: proxies
of: addresses
entries: [10.10.1.4]
---
list: sites
of: domains
entries: [.fennelhill.example]
`;
    const read = (file: string) => readWorkspace([{ name: 'a.yaml', text: file }]).workspace;
    const before = read(text('198.18.4.7'));
    const first = prepare(before, { countryData: undefined, at: 0 });
    // As the service reads it: what did not change is the same object.
    const changed = read(text('198.18.4.8')).lists.get('offices') as List;
    const lists = new Map([...before.lists]).set('offices', changed);
    const second = prepare({ ...before, lists }, { countryData: undefined, at: 0, previous: first });
    const same = (name: string) => second.lists.addresses.get(name) === first.lists.addresses.get(name);
    expect(['offices', 'everyone', 'proxies'].map(same)).toEqual([false, false, true]);
    expect(second.lists.domains).toBe(first.lists.domains);
    expect(second.shared()).not.toBe(first.shared());
    expect(
      setContains(second.lists.addresses.get('everyone') as AddressSet, parseAddress('198.18.4.8') as Address),
    ).toBe(true);
  });
});
