import { describe, expect, it } from 'vitest';
import { placeFor } from './place-for.js';
import { type RuleValue, readRule } from './rule-value.js';

const POLICY = `policy: ticket-site
default: block
rules:
  - rule: tagged
    then: {tag: [seen]}
  - rule: harvesters
    when: {client: [harvesters]}
    then: block
  - rule: guide
    when: {host: [guide.fennelhill.example]}
    then: allow
  - rule: trial
    when: {country: [PT]}
    then: allow
    stance: observe
  - rule: open-countries
    when: {country: [PT, ES]}
    then: allow
  - rule: rest
    then: block
`;

const at = (rule: string) => placeFor(POLICY, readRule(`rule: new\n${rule}`) as RuleValue);

describe('a new rule begins', () => {
  it.each([
    ['above the first that lets through what it is to stop', 'when: {path: [/upload/**]}\nthen: block', 2, 'guide'],
    [
      'below one that is about another host',
      'when: {host: [staging.fennelhill.example]}\nthen: block',
      4,
      'open-countries',
    ],
    [
      'below those that are about others, each by its field',
      'when: {host: [staging.fennelhill.example], country: [XM]}\nthen: {block: {status: 404}}',
      5,
      'rest',
    ],
    ['where values may be the same', 'when: {host: [.fennelhill.example]}\nthen: block', 2, 'guide'],
    ['where one of several ways may be', 'when: [{host: [a.example]}, {path: [/x]}]\nthen: block', 2, 'guide'],
    ['where values are inverted', 'when: {host: {not: [guide.fennelhill.example]}}\nthen: block', 2, 'guide'],
    ['above what decides every request, where it lets through', 'when: {country: [FR]}\nthen: allow', 5, 'rest'],
    ['there too where it only tags', 'when: {country: [FR]}\nthen: {tag: [french]}', 5, 'rest'],
    ['without conditions above the first that lets anything through', 'then: block', 2, 'guide'],
  ])('%s', (_, rule, place, above) => {
    expect(at(rule)).toEqual({ place, above });
  });

  it('last, where nothing would overtake it', () => {
    const policy = 'policy: a\ndefault: allow\nrules:\n  - rule: x\n    when: {country: [XM]}\n    then: block\n';
    expect(placeFor(policy, readRule('rule: new\nthen: block\n') as RuleValue)).toEqual({ place: 1, above: undefined });
    expect(
      placeFor('policy: a\ndefault: allow\nrules: []\n', readRule('rule: new\nthen: block\n') as RuleValue).place,
    ).toBe(0);
  });
});
