import { compileCountryData } from '@jade-fence/core/country';
import { prepare } from '@jade-fence/core/engine';
import { type Finding, review } from '@jade-fence/core/review';
import { readWorkspace } from '@jade-fence/core/workspace';
import { describe, expect, it } from 'vitest';
import { mended } from './mend.js';

const AT = Date.parse('2026-11-23T00:00:00Z');
const REST = `---
application: mail
when: {host: [mail.example]}
needs: [name-look-up]
---
application: name-look-up
when: {port: [53]}
`;

function findings(policy: string): Finding[] {
  const { workspace, issues } = readWorkspace([{ name: 'a.yaml', text: policy + REST }]);
  expect(issues).toEqual([]);
  return review(prepare(workspace, { countryData: compileCountryData([]), at: AT }), { countryDate: AT });
}

const HEAD = 'policy: p\n# whom it is for\ncovers: {clients: [10.0.0.0/8]}\n';

describe('an edit that mends a finding', () => {
  it.each([
    [
      'unreachable',
      `${HEAD}default: block\nrules:\n  - rule: all # of it\n    when: {host: .a.example}\n    then: allow\n  - rule: b\n    when: {host: b.a.example}\n    then: block\n`,
    ],
    [
      'unreachable',
      `${HEAD}default: block\nrules:\n  - {rule: all, when: {host: .a.example}, then: allow}\n  - {rule: b, when: {host: b.a.example}, then: allow}\n`,
    ],
    [
      'broad-not-last',
      `${HEAD}default: block\nrules:\n  - rule: all\n    then: allow\n  - rule: b\n    when: {host: b.example}\n    then: block\n`,
    ],
    [
      'partly-unreachable',
      `${HEAD}default: block\nrules:\n  - rule: a\n    when: {host: a.example}\n    then: allow\n  - rule: b\n    when: {host: [a.example, b.example]}\n    then: block\n`,
    ],
    ['missing-needs', `${HEAD}default: block\nrules:\n  - rule: a\n    when: {application: [mail]}\n    then: allow\n`],
    [
      'missing-needs',
      `${HEAD}default: block\nrules:\n  - rule: a\n    when:\n      - application: mail\n      - host: x.example\n    then: allow\n`,
    ],
    ['unseen-when-encrypted', `${HEAD}default: allow\nrules:\n  - rule: a\n    when: {path: /x}\n    then: block\n`],
    [
      'redirect-stopped',
      'policy: p\ndefault: block\nrules:\n  - rule: a\n    when: {host: a.example}\n    then: {redirect: "https://a.example/why"}\n',
    ],
  ])('takes it away: %s', (code, policy) => {
    const found = findings(policy).find((each) => each.code === code);
    if (!found?.mend) throw new Error(`nothing like ${code} with a mend is found`);
    const after = mended(policy, found.mend) as string;
    expect(findings(after).map((each) => each.code)).not.toContain(code);
    expect(after).toContain(policy.split('\n')[1] as string);
  });

  it('is none where the rule is there no more', () => {
    expect(mended(`${HEAD}default: block\n`, { type: 'delete', rule: 'gone' })).toBeUndefined();
    const two = `${HEAD}rules:\n  - {rule: a, then: block}\n  - {rule: b, then: block}\n`;
    expect(mended(two, { type: 'move-above', rule: 'b', above: 'gone' })).toBeUndefined();
    expect(mended(two, { type: 'move-above', rule: 'a', above: 'b' })).toBe(two);
  });
});
