import { describe, expect, it } from 'vitest';
import {
  copyFor,
  lineInRule,
  placeOf,
  ruleTexts,
  withAdded,
  withKey,
  withMoved,
  withoutRule,
  withRule,
} from './policy-text.js';

const POLICY = `policy: ticket-site
default: block
rules:
  # The first one
  - rule: staging
    when: {host: [staging.example]}
    then: block

  - rule: no-harvesters
    when: {client: [harvesters]} # they come by night
    then: block
`;

describe('a key of a rule', () => {
  it.each([
    ['limit', { 'more-than': 5, within: '1m', per: ['client'] }, 'limit: {more-than: 5, within: 1m, per: [client]}', 2],
    ['note', 'why', 'note: why', 1],
    ['stance', 'observe', 'stance: observe', 3],
    ['when', { path: ['/x'] }, 'when: {path: [/x]}', 1],
    ['then', { block: { status: 451 } }, 'then: {block: {status: 451}}', 2],
  ])('%s is written where people write it', (key, value, line, place) => {
    const text = withKey('rule: a\nwhen: {host: [a.example]}\nthen: block\n', key, value);
    expect(text.split('\n')[place]).toBe(line);
  });

  it('goes with no value, and its comments with it', () => {
    expect(withKey('rule: a\nnote: b # c\nthen: block # d\n', 'note', undefined)).toBe('rule: a\nthen: block # d\n');
  });

  it('leaves the comments of the others', () => {
    const rule = 'rule: a\n# what it is for\nwhen: {host: [a.example]} # there\nthen: block\n';
    expect(withKey(rule, 'then', 'allow')).toBe(rule.replace('block', 'allow'));
  });

  it('is quoted where it has to be', () => {
    const text = withKey('rule: a\nthen: block\n', 'when', { path: ['*'], agent: ['~^a: b#'] });
    expect(ruleTexts(`policy: p\nrules:\n  - ${text.trim().replaceAll('\n', '\n    ')}\n`)).toHaveLength(1);
    expect(text).toContain('"*"');
  });
});

describe('rules of a policy', () => {
  it('are found by their names', () => {
    expect(['staging', 'no-harvesters', 'none', 'Staging'].map((name) => placeOf(POLICY, name))).toEqual([
      0, 1, -1, -1,
    ]);
  });

  it.each([
    [0, 5, 1],
    [0, 7, 3],
    [1, 9, 1],
    [1, 10, 2],
    [1, 5, undefined],
    [0, 2, undefined],
    [7, 5, undefined],
  ])('have lines of their own: rule %i has line %i as its %s', (place, line, own) => {
    expect(lineInRule(POLICY, place, line)).toBe(own);
  });

  it('are added with the space that the others have between them', () => {
    const text = withAdded(POLICY, 2, 'rule: late\nthen: allow\n');
    expect(text).toContain('    then: block\n\n  - rule: late\n    then: allow\n');
    expect(ruleTexts(text)).toHaveLength(3);
  });

  it('are copied under a name that no other has', () => {
    const twice = withAdded(POLICY, 1, copyFor(POLICY, ruleTexts(POLICY)[0] as string));
    expect(
      [copyFor(POLICY, ruleTexts(POLICY)[0] as string), copyFor(twice, ruleTexts(twice)[0] as string)].map(
        (text) => text.split('\n')[0],
      ),
    ).toEqual(['rule: staging-2', 'rule: staging-3']);
  });

  it('go with the comments above them', () => {
    expect(withoutRule(POLICY, 0)).not.toContain('The first one');
    expect(withoutRule(POLICY, 0)).toContain('they come by night');
    expect(ruleTexts(withoutRule(withoutRule(POLICY, 1), 0))).toEqual([]);
  });

  it('come back to the letter when they are moved there and back', () => {
    expect(withMoved(withMoved(POLICY, 0, 1), 1, 0)).toBe(POLICY);
  });

  it('are put in the place of another, and all else stays', () => {
    const text = withRule(POLICY, 1, 'rule: other\nthen: allow\n');
    expect(text).toBe(
      POLICY.slice(0, POLICY.indexOf('  - rule: no-harvesters')).concat('  - rule: other\n    then: allow\n'),
    );
  });

  it('can be added to a policy that has none', () => {
    const text = withAdded('policy: p\ndefault: allow\nrules: []\n', 0, 'rule: a\nthen: block\n');
    expect(ruleTexts(text).map((rule) => rule.trim())).toEqual(['rule: a\nthen: block']);
  });
});
