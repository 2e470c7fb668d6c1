import { describe, expect, it } from 'vitest';
import { withCopies, withoutRules, withStance } from './several.js';

const POLICY = `policy: ticket-site
default: block
rules:
  # The first one
  - rule: staging
    when: {host: [staging.example]}
    then: block

  - rule: no-harvesters
    stance: off
    then: block

  - rule: rest
    then: allow
`;

const rulesOf = (text: string) => [...text.matchAll(/- rule: (\S+)/g)].map(([, name]) => name);

describe('several rules', () => {
  it('get a stance, and lose it where it is the usual one', () => {
    const observed = withStance(POLICY, ['staging', 'rest'], 'observe');
    expect(observed).toBe(
      POLICY.replace(
        'staging.example]}\n    then: block',
        'staging.example]}\n    then: block\n    stance: observe',
      ).replace('then: allow', 'then: allow\n    stance: observe'),
    );
    expect(withStance(observed, ['staging', 'rest'], 'enforce')).toBe(POLICY);
  });

  it('are deleted, and those that are gone already are passed over', () => {
    expect(rulesOf(withoutRules(POLICY, ['rest', 'nothing', 'staging']))).toEqual(['no-harvesters']);
    expect(withoutRules(POLICY, ['nothing'])).toBe(POLICY);
  });

  it('are copied in their order, whatever the order in which they were chosen, by names that are free', () => {
    expect(rulesOf(withCopies(POLICY, POLICY, ['rest', 'staging'], 3))).toEqual([
      'staging',
      'no-harvesters',
      'rest',
      'staging-2',
      'rest-2',
    ]);
    const other = 'policy: visitor-web\ndefault: allow\nrules:\n  - rule: rest\n    then: allow\n';
    const copied = withCopies(other, POLICY, ['rest', 'staging'], 0);
    expect(rulesOf(copied)).toEqual(['staging', 'rest-2', 'rest']);
    expect(copied).toContain('when: {host: [staging.example]}');
  });

  it('are copied to a policy that has none', () => {
    expect(rulesOf(withCopies('policy: new\ndefault: allow\nrules: []\n', POLICY, ['staging'], 0))).toEqual([
      'staging',
    ]);
  });
});
