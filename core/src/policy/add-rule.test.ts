import { expect, it } from 'vitest';
import { readWorkspace } from '../workspace/index.js';
import { withNewRule } from './add-rule.js';

const POLICY = `policy: visitor-web
covers: {clients: [10.40.0.0/21]} # the wireless network
default: block
rules:
  # The borrowed ones
  - rule: no-uploads
    when: {method: [POST]}
    then: block

  - rule: web-for-all
    when: {scheme: [https]}
    then: allow
`;
const RULE = { rule: 'allow-web', note: 'With what it needs', when: { scheme: ['http'] }, then: 'allow' };
const ADDED = '  - rule: allow-web\n    note: With what it needs\n    when: {scheme: [http]}\n    then: allow\n';

it('a rule is added above another, or as the last, and nothing else changes', () => {
  expect(withNewRule(POLICY, RULE, 'web-for-all')).toBe(
    POLICY.replace('  - rule: web-for-all', `${ADDED}\n  - rule: web-for-all`),
  );
  expect(withNewRule(POLICY, RULE, undefined)).toBe(`${POLICY}\n${ADDED}`);
  expect(withNewRule(POLICY, RULE, 'nobody')).toBeUndefined();
});

it('a rule is added to a policy that has none', () => {
  const text = withNewRule('policy: a\ncovers: {clients: [10.0.0.0/8]}\ndefault: block\n', RULE, undefined) as string;
  const { workspace, issues } = readWorkspace([{ name: 'a.yaml', text }]);
  expect(issues).toEqual([]);
  expect(workspace.policies.get('a')?.rules.map(({ name }) => name)).toEqual(['allow-web']);
});
