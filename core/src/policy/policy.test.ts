import { describe, expect, it } from 'vitest';
import { readWorkspace } from '../workspace/index.js';
import { defaultSentence, ruleSentence } from './index.js';

const LISTS = `
list: curators
of: addresses
entries: [203.0.113.0/28]
---
list: open-countries
of: countries
entries: [PT]
---
list: wagering-sites
of: domains
entries: [.lucky-petal.example]
`;

/** The policy of a text, with its lists around it. */
function policyOf(text: string) {
  const { workspace, issues } = readWorkspace([
    { name: 'policy.yaml', text },
    { name: 'lists.yaml', text: LISTS },
  ]);
  return { policy: workspace.policies.get('p')!, issues };
}

/** The issues of one rule, given what is below its name: «code at path». */
function issuesOf(rule: string): string[] {
  return policyOf(`policy: p\ndefault: allow\nrules:\n  - rule: r\n${rule.replace(/^/gm, '    ')}\n`).issues.map(
    ({ code, path }) => `${code} at ${path}`,
  );
}

describe('reading a policy', () => {
  it('fills in what is not said', () => {
    const { policy, issues } = policyOf('policy: p\ndefault: block\n');
    expect(issues).toEqual([]);
    expect(policy).toMatchObject({
      covers: { hosts: [], clients: [] },
      client: { from: 'peer' },
      stance: 'enforce',
      rules: [],
    });
  });

  it('takes single values for lists, maps for lists of maps, and `not` at either place', () => {
    expect(
      issuesOf(
        'when: {country: PT, method: [get, {not: POST}]}\nunless: [{path: {not: ["/a", "/b"]}}, {client: curators}]\nthen: block',
      ),
    ).toEqual([]);
  });

  it.each([
    ['then: blok', 'unknown-value at rules[0].then'],
    ['when: {contry: PT}\nthen: allow', 'unknown-key at rules[0].when.contry'],
    ['when: {country: [PRT]}\nthen: allow', 'bad-country at rules[0].when.country[0]'],
    ['when: {client: [10.0.0.1/8]}\nthen: allow', 'host-bits at rules[0].when.client[0]'],
    ['when: {client: 300.1.1.1}\nthen: allow', 'bad-address at rules[0].when.client'],
    ['when: {client: [curatrs]}\nthen: allow', 'unknown-list at rules[0].when.client[0]'],
    ['when: {client: ["list:wagering-sites"]}\nthen: allow', 'wrong-list at rules[0].when.client[0]'],
    ['when: {host: ["a b"]}\nthen: allow', 'bad-host at rules[0].when.host[0]'],
    ['when: {host: [*.a.example]}\nthen: allow', 'alias at rules[0].when.host[0]'],
    ['when: {path: [account]}\nthen: allow', 'bad-path at rules[0].when.path[0]'],
    ['when: {path: ["~("]}\nthen: allow', 'bad-path at rules[0].when.path[0]'],
    ['when: {method: ["GE T"]}\nthen: allow', 'bad-method at rules[0].when.method[0]'],
    ['when: {}\nthen: allow', 'empty-condition at rules[0].when'],
    ['when: {country: []}\nthen: allow', 'empty-condition at rules[0].when.country'],
    ['when: PT\nthen: allow', 'wrong-shape at rules[0].when'],
    ['when: {country: {PT: 1}}\nthen: allow', 'unknown-key at rules[0].when.country.PT'],
    ['then: allow\nthen: block', 'duplicate-key at rules[0].then'],
    ['stance: maybe\nthen: allow', 'unknown-value at rules[0].stance'],
    ['if-blind: yes\nthen: allow', 'unknown-value at rules[0].if-blind'],
    ['when: {port: 65536}\nthen: allow', 'bad-port at rules[0].when.port'],
    ['when: {port: 90-80}\nthen: allow', 'bad-port at rules[0].when.port'],
    ['when: {scheme: "a b"}\nthen: allow', 'bad-token at rules[0].when.scheme'],
    ['when: {protocol: "?"}\nthen: allow', 'bad-token at rules[0].when.protocol'],
    ['when: {country: PT}', 'missing-key at rules[0].rule'],
    ['then: allow\n__proto__: 1', 'unknown-key at rules[0].__proto__'],
    ['when: {constructor: PT}\nthen: allow', 'unknown-key at rules[0].when.constructor'],
  ])('reports the fault of %j', (rule, issue) => {
    expect(issuesOf(rule)).toContain(issue);
  });

  it('reports the faults of a policy’s head', () => {
    const codes = (head: string) => policyOf(head).issues.map(({ code }) => code);
    expect(codes('policy: p')).toEqual(['missing-key']);
    expect(codes('policy: p\ndefualt: allow')).toEqual(['unknown-key']);
    expect(codes('policy: p\ncolour: red')).toEqual(['missing-key', 'unknown-key']);
    expect(codes('policy: P q\ndefault: allow')).toEqual(['bad-name']);
    expect(codes('policy: p\ndefault: allow\nclient: {from: forwarded}')).toEqual(['missing-trust']);
    expect(codes('policy: p\ndefault: allow\nclient: {from: peer, trust: [curators]}')).toEqual([
      'trust-without-source',
    ]);
    expect(codes('policy: p\ndefault: allow\nclient: {from: {header: "x y"}, trust: [curators]}')).toEqual([
      'bad-header',
    ]);
    expect(codes('policy: p\ndefault: allow\nrules: [{rule: a, then: allow}, {rule: a, then: block}]')).toEqual([
      'duplicate-rule',
    ]);
    expect(codes('policy: p\ndefault: allow\nrules: [{rule: default, then: allow}]')).toEqual(['reserved-name']);
    expect(codes(`policy: p\ndefault: allow\nrules:\n${'  - {rule: a, then: allow}\n'.repeat(5000)}`)).toEqual([
      'too-many',
    ]);
  });

  it('reports everything at once, each with its line, its column and what would be right', () => {
    const text =
      'policy: p\ndefualt: allow\nrules:\n  - rule: r\n    when: {country: [Portugal], client: [curatrs], path: x}\n    then: blok\n';
    const shown = policyOf(text).issues.map(({ line, column, length, remedy, excerpt }) => ({
      line,
      at: excerpt.slice(column - 1, column - 1 + length),
      remedy,
    }));
    expect(shown).toEqual([
      { line: 2, at: 'defualt', remedy: 'Did you mean `default`?' },
      { line: 5, at: 'Portugal', remedy: 'Did you mean `PT`?' },
      { line: 5, at: 'curatrs', remedy: 'Did you mean `curators`?' },
      { line: 5, at: 'x', remedy: expect.stringContaining('/exact') },
      { line: 6, at: 'blok', remedy: 'Did you mean `block`?' },
    ]);
  });
});

describe('the sentence of a rule', () => {
  it.each([
    ['then: allow', 'Allow every request.'],
    ['when: {country: [PT, XA]}\nthen: allow', 'Allow requests from Portugal (PT) or XA.'],
    [
      'when: {country: {not: [PT, ES]}}\nthen: block',
      'Block requests from anywhere except Portugal (PT) and Spain (ES).',
    ],
    [
      'when: {country: [unknown, private, open-countries]}\nthen: block',
      'Block requests from an unknown country, private address space or countries in `open-countries`.',
    ],
    [
      'when: {method: POST, host: tickets.fennelhill.example, path: "/account/*"}\nthen: block',
      'Block POST requests for paths matching /account/* to tickets.fennelhill.example.',
    ],
    [
      'when: {host: [.a.example, "*.b.example", wagering-sites]}\nthen: block',
      'Block requests to a.example with its subdomains, subdomains of b.example or hosts in `wagering-sites`.',
    ],
    [
      'when: {client: [10.0.0.0/8, 203.0.113.7]}\nunless: {path: /robots.txt, method: {not: GET}}\nthen: block',
      'Block requests from 10.0.0.0/8 or 203.0.113.7, unless the path is /robots.txt and the method is not GET.',
    ],
    [
      'when: [{country: PT}, {client: curators}]\nthen: allow',
      'Allow requests from Portugal (PT), or requests from addresses in `curators`.',
    ],
    [
      'when: {client: [10.0.0.0/8]}\nunless: {client: [curators, 10.1.0.0/16, 10.2.0.1]}\nthen: block',
      'Block requests from 10.0.0.0/8, unless the client is in `curators`, in 10.1.0.0/16 or 10.2.0.1.',
    ],
    [
      'when: {scheme: http, host: a.example, port: [80, 8000-8099]}\nthen: block',
      'Block requests to a.example to port 80 or ports 8000-8099 over http.',
    ],
    [
      'when: {port: {not: 443}, protocol: HTTP/1.0}\nthen: block',
      'Block requests to any port except 443 over HTTP/1.0.',
    ],
    [
      'when: {path: "/upload/**"}\nif-blind: match\nthen: block',
      'Block requests for paths matching /upload/**, also where this cannot be seen.',
    ],
    ['then: block\nstance: observe', 'Would block every request.'],
    ['then: block\nstance: off', 'Would block every request (switched off).'],
    [
      'when: {country: [PT, ES, FR, GB, IE, NL, DE]}\nthen: allow',
      'Allow requests from Portugal (PT), Spain (ES), France (FR), United Kingdom (GB), Ireland (IE) or 2 more.',
    ],
  ])('for %j', (rule, sentence) => {
    const { policy, issues } = policyOf(
      `policy: p\ndefault: allow\nrules:\n  - rule: r\n${rule.replace(/^/gm, '    ')}\n`,
    );
    expect(issues).toEqual([]);
    expect(ruleSentence(policy.rules[0]!)).toBe(sentence);
  });

  it('for the default', () => {
    expect(defaultSentence(policyOf('policy: p\ndefault: block').policy)).toBe(
      'Block every request that no rule decides.',
    );
  });
});
