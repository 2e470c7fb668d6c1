import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { compileCountryData, readCountryFile } from '../country/index.js';
import { prepare } from '../engine/index.js';
import { readWorkspace } from '../workspace/index.js';
import { type Asked, tryAsked } from './asked.js';
import { lookUp } from './lookup.js';

const demo = (name: string) => readFileSync(new URL(`../../../demo/${name}`, import.meta.url));
const { workspace, issues } = readWorkspace(
  ['catalogue', 'lists', 'ticket-site', 'visitor-web'].map((name) => ({
    name: `${name}.yaml`,
    text: demo(`workspace/${name}.yaml`).toString(),
  })),
);
expect(issues).toEqual([]);
const countryData = compileCountryData(readCountryFile(demo('country-data.csv')).networks);
const prepared = prepare(workspace, { countryData, at: Date.parse('2026-11-23T00:00:00Z') });

const look = (text: string) => lookUp(tryAsked(text) as Asked, prepared);

describe('what somebody asks about', () => {
  it.each([
    [' 198.18.97.3 ', 'address', '198.18.97.3'],
    ['[2001:DB8::0:1]', 'address', '2001:db8::1'],
    ['::ffff:10.0.0.1', 'address', '10.0.0.1'],
    ['Tickets.FennelHill.example.', 'host', 'tickets.fennelhill.example'],
    ['bücher.example', 'host', 'xn--bcher-kva.example'],
    ['https://Tickets.fennelhill.example:443/a/../b?x=1', 'url', 'https://tickets.fennelhill.example/b?x=1'],
    ['tickets.fennelhill.example/whats-on', 'url', 'tickets.fennelhill.example/whats-on'],
    ['odds.meadowbet.example:8443', 'url', 'odds.meadowbet.example:8443/'],
    ['http://[2001:db8::1]/', 'url', 'http://[2001:db8::1]/'],
    ['Ines', 'user', 'ines'],
    ['user:ines.rocha', 'user', 'ines.rocha'],
  ])('%s is a kind of value, in its normal form', (text, kind, normal) => {
    expect(tryAsked(text)).toMatchObject({ kind, normal });
  });

  it('is nothing where it can be none of them', () => {
    expect(tryAsked('')).toBeUndefined();
    expect(tryAsked('user:')).toBeUndefined();
  });
});

describe('what the garden knows', () => {
  it('of an address: its country, the entries that hold it, its policy, and the rules', () => {
    const found = look('198.18.97.3');
    expect(found.country).toEqual({
      country: 'XM',
      name: null,
      by: 'data',
      network: expect.stringContaining('198.18.96.0'),
    });
    expect(found.lists.map(({ list }) => list)).toEqual(['harvester-networks']);
    expect(found.policies).toEqual([]);
    const [rule] = found.rules;
    expect(rule).toMatchObject({ policy: 'ticket-site', rule: 'no-harvesters', how: 'tests it' });
    expect(rule?.because).toContain('is in list harvester-networks: entry');
  });

  it('of an address of its own: the policy that speaks for it', () => {
    expect(look('10.40.3.7').policies).toEqual([{ policy: 'visitor-web', as: 'client' }]);
  });

  it('of a host: the lists, categories and applications, and the rules through them', () => {
    const found = look('odds.meadowbet.example');
    expect(found.categories).toEqual(['wagering']);
    expect(found.lists.map(({ list }) => list)).toEqual(['wagering-sites']);
    expect(found.rules.map(({ rule }) => rule)).toEqual(['guide-tablets', 'no-wagering']);
    expect(found.rules[0]?.because).toContain('none of the exceptions');
    expect(found.rules[1]?.because).toContain('category');
  });

  it('of a URL: the policy of its host, and rules on its path', () => {
    const found = look('https://tickets.fennelhill.example/account/sign-in');
    expect(found.policies).toEqual([{ policy: 'ticket-site', as: 'host' }]);
    expect(found.applications).toEqual(['web']);
    expect(found.rules.map(({ rule }) => rule)).toEqual(['sign-in-as-meant', 'sign-in-flood']);
  });

  it('of a host: the categories and applications that name it, and test more than that', () => {
    const catalogue = `application: meeting
when: [{host: .meet.example, port: 8443}, {agent: meet*}]
---
application: films
when: {url: "meet.example/films/**"}
---
application: elsewhere
when: {host: other.example, port: 8443}
---
application: whole
when: {host: meet.example}
---
category: shows
urls: [meet.example/shows/**]
`;
    const { workspace, issues } = readWorkspace([{ name: 'a.yaml', text: catalogue }]);
    expect(issues).toEqual([]);
    const prepared = prepare(workspace, { countryData: undefined, at: 0 });
    const found = lookUp(tryAsked('meet.example')!, prepared);
    expect(found.applications).toEqual(['whole']);
    expect(found.inPart).toEqual([
      { kind: 'category', name: 'shows', also: ['path'] },
      { kind: 'application', name: 'meeting', also: ['port'] },
      { kind: 'application', name: 'films', also: ['path'] },
    ]);
    expect(lookUp(tryAsked('https://meet.example/films/1')!, prepared).inPart).toEqual([]);
    expect(lookUp(tryAsked('nowhere.example')!, prepared).inPart).toEqual([]);
  });

  it('of what nothing speaks of: nothing', () => {
    expect(look('nobody.example')).toMatchObject({
      lists: [],
      categories: [],
      applications: [],
      policies: [],
      rules: [{ rule: 'guide-tablets', how: 'tests it' }],
    });
  });
});
