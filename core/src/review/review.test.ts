import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compileCountryData, readCountryCsv } from '../country/index.js';
import { evaluate, prepare, subjectOf } from '../engine/index.js';
import { documents, narrowDocuments, preparedOf, request } from '../engine/plan/workspace.arbitrary.js';
import type { Policy } from '../policy/index.js';
import { readWorkspace } from '../workspace/index.js';
import { FINDING_CODES, type Finding, review } from './index.js';

const NOW = Date.parse('2026-11-23T00:00:00Z');

interface Given {
  readonly countries?: string | undefined;
  readonly countryDate?: string;
}

function reviewed(text: string, { countries = '198.18.0.0/16,PT', countryDate = '2026-11-01' }: Given = {}): Finding[] {
  const { workspace, issues } = readWorkspace([{ name: 'garden.yaml', text }]);
  expect(issues).toEqual([]);
  const countryData = countries === '' ? undefined : compileCountryData(readCountryCsv(countries).networks);
  return review(prepare(workspace, { countryData, at: NOW }), { countryDate: Date.parse(countryDate) });
}

/** «code rule»: the findings about the rules of one policy, beside those of its head. */
function ofRules(rules: string, head = 'default: block'): string[] {
  return reviewed(`policy: p\n${head}\nrules:\n${rules.replace(/^/gm, '  ')}`)
    .filter(({ policy, code }) => policy !== null && code !== 'case-kept' && code !== 'covers-nothing')
    .map(({ code, rule }) => `${code} ${rule}`);
}

describe('rules that are not reached', () => {
  it.each([
    [
      'below a rule for everything',
      '- {rule: all, then: allow}\n- {rule: b, when: {method: GET}, then: block}',
      ['broad-not-last all', 'unreachable b'],
    ],
    [
      'whose network lies in one above',
      '- {rule: a, when: {client: 10.0.0.0/8}, then: allow}\n- {rule: b, when: {client: [10.1.0.0/16, 10.2.0.1]}, then: block}',
      ['unreachable b'],
    ],
    [
      'whose negation is narrower',
      '- {rule: a, when: {country: {not: PT}}, then: allow}\n- {rule: b, when: {country: [ES, FR]}, then: block}',
      ['unreachable b'],
    ],
    [
      'whose host lies under one above',
      '- {rule: a, when: {host: .a.example}, then: allow}\n- {rule: b, when: {host: [x.a.example, "*.a.example"], method: POST}, then: block}',
      ['unreachable b'],
    ],
    [
      'whose path lies under one above',
      '- {rule: a, when: {path: "/x/**"}, then: allow}\n- {rule: b, when: {path: ["/x/y", "/x/y/*"]}, then: block}',
      ['unreachable b'],
    ],
    [
      'value by value, by several',
      '- {rule: a, when: {method: GET}, then: allow}\n- {rule: b, when: {method: POST}, then: allow}\n- {rule: c, when: {method: [GET, POST]}, then: block}',
      ['unreachable c'],
    ],
    [
      'in part',
      '- {rule: a, when: {method: GET}, then: allow}\n- {rule: b, when: {method: [GET, POST]}, then: block}',
      ['partly-unreachable b'],
    ],
    [
      'that say the contrary of the same',
      '- {rule: a, when: {method: GET}, then: allow}\n- {rule: b, when: {method: GET}, then: block}',
      ['contradicting b'],
    ],
    [
      'with the same exception',
      '- {rule: a, when: {method: GET}, unless: {path: /x}, then: allow}\n- {rule: b, when: {method: GET}, unless: {path: [/x, /y]}, then: block}',
      ['unreachable b'],
    ],
  ])('%s', (_, rules, expected) => {
    expect(ofRules(rules)).toEqual(expected);
  });

  it.each([
    [
      'an exception above',
      '- {rule: a, when: {method: GET}, unless: {path: /x}, then: allow}\n- {rule: b, when: {method: GET}, then: block}',
    ],
    [
      'a rule above that only observes',
      '- {rule: a, stance: observe, then: allow}\n- {rule: b, when: {method: GET}, then: block}',
    ],
    [
      'a limit above',
      '- {rule: a, limit: {more-than: 1, within: 1s, per: []}, then: block}\n- {rule: b, when: {method: GET}, then: block}',
    ],
    [
      'a tag that is put in between',
      '- {rule: a, when: {tag: x}, then: allow}\n- {rule: t, when: {method: GET}, then: {tag: x}}\n- {rule: b, when: {tag: x}, then: block}',
    ],
    [
      'what cannot be seen, which the rule takes',
      '- {rule: a, when: {path: "/**"}, then: allow}\n- {rule: b, when: {path: /x}, if-blind: match, then: block}',
    ],
  ])('are not claimed beside %s', (_, rules) => {
    expect(ofRules(rules).filter((finding) => /reach|contra/.test(finding))).toEqual([]);
  });

  it('report the smallest edit', () => {
    const [finding] = reviewed(
      'policy: p\ndefault: block\nrules:\n  - {rule: web, when: {method: GET}, then: allow}\n  - {rule: no-bots, when: {method: GET, agent: "*bot*"}, then: block}',
    );
    expect(finding).toEqual({
      code: 'unreachable',
      severity: 'warning',
      policy: 'p',
      rule: 'no-bots',
      object: null,
      what: '`no-bots` is never reached',
      reason: 'Every request that matches it is decided by `web` above',
      edit: 'Move `no-bots` above `web`',
      mend: { type: 'move-above', rule: 'no-bots', above: 'web' },
    });
  });

  it.each([
    ['workspaces of every field', documents],
    ['workspaces of few values, where many rules cover others', narrowDocuments],
  ])('are never claimed wrongly: %s', { timeout: 60_000 }, (_, made) => {
    let claims = 0;
    fc.assert(
      fc.property(made, fc.array(request, { minLength: 5, maxLength: 25 }), (all, requests) => {
        const prepared = preparedOf(all);
        const policy = prepared.workspace.policies.get('p') as Policy;
        const dead = review(prepared, { countryDate: undefined }).flatMap(({ code, rule }) =>
          code === 'unreachable' || code === 'contradicting'
            ? [policy.rules.findIndex(({ name }) => name === rule)]
            : [],
        );
        claims += dead.length;
        for (const each of requests) {
          const { outcomes } = evaluate(policy, subjectOf(each, policy, prepared), prepared);
          for (const index of dead) expect(['passed', 'overtaken', 'blind']).toContain(outcomes[index]?.role);
        }
      }),
      { numRuns: 400 },
    );
    expect(claims).toBeGreaterThan(0);
  });
});

const CATALOGUE = `
---
application: web
when: {port: [80, 443]}
needs: [names]
---
application: names
when: {port: 53}
---
list: proxies
of: addresses
entries: [8.8.0.0/24]
---
list: nobody
of: addresses
entries: [{entry: 10.0.0.1, until: 2026-01-01T00:00:00Z}]
---
list: everyone
of: addresses
entries: [0.0.0.0/1, 128.0.0.0/1]
---
schedule: turned
zone: UTC
weekly: {mon: [18:00-14:00]}
`;

describe('the other findings', () => {
  const POLICY = `
policy: out
default: block
covers: {clients: [10.0.0.0/8]}
client: {from: forwarded, trust: [proxies]}
rules:
  - {rule: ask, when: {path: /x, country: PT}, then: block}
  - {rule: web, when: {application: web, client: [nobody, everyone]}, then: allow}
  - {rule: tagged, when: {tag: curator, time: turned}, then: allow}
${CATALOGUE}`;
  const shown = (given?: Given) =>
    reviewed(POLICY, given).map(({ code, rule, object }) => `${code} ${rule ?? object?.name ?? ''}`.trim());

  it('name the rule or object, each with its reason and edit', () => {
    expect(shown().sort()).toEqual(
      [
        'unseen-when-encrypted ask',
        'missing-needs web',
        'public-trust',
        'unknown-tag tagged',
        'expired-entries nobody',
        'case-kept',
        'empty-list nobody',
        'everything-list everyone',
        'long-night turned',
      ].sort(),
    );
  });

  it('report redirects whose target the same policy stops', () => {
    const away = (more: string) =>
      ofRules(`- {rule: away, when: {client: 10.9.0.0/16${more}}, then: {redirect: "https://why.example/"}}`);
    expect(away('')).toEqual(['redirect-stopped away']);
    expect(away(', host: a.example')).toEqual(['redirect-stopped away']);
    expect(
      ofRules(
        '- {rule: page, when: {host: why.example}, then: allow}\n- {rule: away, then: {redirect: "https://why.example/"}}',
      ),
    ).toEqual([]);
  });

  it('report country data that is missing or old', () => {
    expect(shown({ countries: '' })).toContain('no-country-data ask');
    expect(shown({ countryDate: '2026-01-01' })).toContain('old-country-data ask');
  });

  it('report rules about destinations that nothing resolves', () => {
    const ofDestinations = (head: string) =>
      reviewed(
        `policy: p\ncovers: {hosts: [a.example]}\ndefault: allow\n${head}rules:\n  - {rule: there, when: {destination-country: PT}, then: block}`,
      ).map(({ code, rule }) => `${code} ${rule}`);
    expect(ofDestinations('')).toEqual(['destination-not-resolved there']);
    expect(ofDestinations('destinations: {resolve: false}\n')).toEqual(['destination-not-resolved there']);
    expect(ofDestinations('destinations: {resolve: true}\n')).toEqual(['no-resolutions there']);
  });

  it.each([
    ['{rule: a, when: {destination: 198.18.0.0/16}, then: allow}', true],
    ['{rule: a, when: {destination-country: [PT]}, then: allow}', true],
    ['{rule: a, when: {destination-country: {not: [PT]}}, then: block}', true],
    ['{rule: a, when: {method: GET}, unless: {destination-country: [PT]}, then: block}', true],
    ['{rule: a, when: [{host: b.example}, {destination: 198.18.0.0/16}], then: allow}', true],
    ['{rule: a, when: {host: b.example, destination: 198.18.0.0/16}, then: allow}', false],
    ['{rule: a, when: {destination-country: {not: [XM]}}, then: allow}', false],
    ['{rule: a, when: {destination-country: [XM]}, then: block}', false],
    ['{rule: a, when: {destination-country: [PT]}, then: allow, stance: "off"}', false],
    ['{rule: a, when: {destination-country: [PT]}, then: {tag: [x]}}', false],
  ])('report that the owner of a name walks around %s: %s', (rule, isFound) => {
    const found = (resolve: boolean, covers: string) =>
      reviewed(
        `policy: p\ncovers: {${covers}}\ndefault: block\ndestinations: {resolve: ${resolve}}\nrules:\n  - ${rule}`,
      ).some(({ code }) => code === 'chosen-destination');
    expect(found(true, 'clients: [10.0.0.0/8]')).toBe(isFound);
    expect(found(false, 'clients: [10.0.0.0/8]')).toBe(false);
    expect(found(true, 'hosts: [a.example]')).toBe(false);
  });

  it('take hosts for having several addresses where the policy resolves them', () => {
    const rules = (resolve: boolean) =>
      reviewed(
        `policy: p\ncovers: {hosts: [a.example]}\ndefault: allow\ndestinations: {resolve: ${resolve}}\nrules:\n  - {rule: home, when: {destination-country: {not: [XM]}}, then: allow}\n  - {rule: there, when: {destination-country: PT}, then: block}`,
      ).map(({ code, rule }) => `${code} ${rule}`);
    expect(rules(false)).toContain('unreachable there');
    expect(rules(true)).not.toContain('unreachable there');
  });

  it('say what nothing uses', () => {
    expect(
      reviewed('policy: p\ncovers: {hosts: [a.example]}\ndefault: block\n---\nnotice: alone\ntitle: Alone'),
    ).toMatchObject([{ code: 'unused', severity: 'note', object: { kind: 'notice', name: 'alone' } }]);
  });

  it('find nothing to say of rules that are well', () => {
    expect(
      reviewed(
        'policy: p\ncovers: {hosts: [a.example]}\ndefault: block\nrules:\n  - {rule: a, when: {country: PT}, then: allow}\n  - {rule: why, when: {client: 10.0.0.1}, unless: {host: why.example}, then: {redirect: "https://why.example/"}}\n  - {rule: page, when: {host: why.example}, then: allow}',
      ),
    ).toEqual([]);
  });

  const ofHead = (text: string) =>
    reviewed(text)
      .filter(({ policy, code }) => policy !== null && code !== 'unseen-when-encrypted')
      .map(({ code, severity, rule }) => `${severity} ${code} ${rule}`);

  it.each([
    ['path: "/admin/**"', 'block', ['note case-kept null']],
    ['url: "a.example/admin/**"', '{block: {status: 404}}', ['note case-kept null']],
    ['path: "/admin/**"', 'allow', []],
    ['method: GET', 'block', []],
  ])('report a block on a path with its case, once a policy: %s, %s', (when, then, expected) => {
    const rule = (name: string) => `{rule: ${name}, when: {${when}, client: 10.0.0.${name.length}}, then: ${then}}`;
    const rules = `default: allow\nrules: [${rule('a')}, ${rule('bb')}]`;
    expect(ofHead(`policy: p\ncovers: {hosts: [a.example]}\n${rules}`)).toEqual(expected);
    expect(ofHead(`policy: p\npaths: {case: ignore}\ncovers: {hosts: [a.example]}\n${rules}`)).toEqual([]);
  });

  it('report a policy that no live request goes to, unless it is off', () => {
    expect(ofHead('policy: p\ndefault: block')).toEqual(['warning covers-nothing null']);
    expect(ofHead('policy: p\ncovers: {clients: [10.0.0.0/8]}\ndefault: block')).toEqual([]);
    expect(ofHead('policy: p\nstance: off\ndefault: block')).toEqual([]);
  });

  it('report names that are a list beside it', () => {
    const lists = 'list: staff\nof: users\nentries: [ines.duarte]\n---\nlist: pt\nof: countries\nentries: [ES]\n---\n';
    const head = 'policy: p\ncovers: {hosts: [a.example]}\ndefault: block\nrules:\n';
    const rules = (user: string) => `  - {rule: r, when: {user: ${user}, country: [pt, "list:pt"]}, then: allow}\n`;
    const codes = (user: string) => reviewed(lists + head + rules(user)).map(({ code, rule }) => `${code} ${rule}`);
    expect(codes('staff')).toEqual(expect.arrayContaining(['bare-list-name r', 'list-like-code null']));
    expect(codes('{not: staff}')).toContain('bare-list-name r');
    expect(codes('"list:staff"')).toEqual(['list-like-code null']);
  });

  it('have a code each that is among those that there are', () => {
    const found = new Set([...reviewed(POLICY), ...reviewed(POLICY, { countries: '' })].map(({ code }) => code));
    for (const code of found) expect(FINDING_CODES).toContain(code);
  });
});
